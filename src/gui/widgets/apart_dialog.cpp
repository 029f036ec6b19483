// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/apart_dialog.h"

#include "appcore/background.h"
#include "gui/photos/photo_import.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

#include <algorithm>

namespace ohmo {
namespace {

constexpr QSize kThumbnail(96, 72);

} // namespace

ApartDialog::ApartDialog(const Collaborators& with, QWidget* parent)
    : QDialog(parent), m_with(with), m_text(new QLineEdit), m_add(button(tr("&Came off"), "apart-add", "main")),
      m_photo(button(tr("With a &picture…"), "apart-photo")), m_list(new QListWidget), m_says(body({}, "warn")), m_left(body({}, "muted")) {
    auto* outer = dialog_layout(*this, "apart", tr("Taking apart, putting together"), {620, 520});
    outer->addWidget(
        body(tr("What comes off, in the order it does: screw and place, ribbon and which way round, wire and colour, polarity.")));
    auto* row = new QHBoxLayout;
    m_text->setObjectName(QStringLiteral("apart-text"));
    m_text->setPlaceholderText(tr("4 screws M3, left bracket"));
    m_text->setAccessibleName(tr("What came off"));
    row->addWidget(m_text, 1);
    for (auto* b : {m_add, m_photo}) {
        b->setAutoDefault(false);
        row->addWidget(b);
    }
    outer->addLayout(row);
    m_says->setObjectName(QStringLiteral("apart-says"));
    outer->addWidget(m_says);
    m_list->setObjectName(QStringLiteral("apart-list"));
    m_list->setAccessibleName(tr("Things that came off, the last one first"));
    m_list->setIconSize(kThumbnail);
    m_list->setWordWrap(true);
    outer->addWidget(m_list, 1);
    m_left->setObjectName(QStringLiteral("apart-left"));
    outer->addWidget(m_left);
    auto* ends = new QHBoxLayout;
    ends->addWidget(body(tr("Last off, first back: tick from the top down (Space)."), "muted"), 1);
    auto* close = button(tr("Close"), "apart-close");
    close->setAutoDefault(false);
    ends->addWidget(close);
    outer->addLayout(ends);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    connect(m_text, &QLineEdit::returnPressed, this, [this] { log({}); });
    connect(m_add, &QPushButton::clicked, this, [this] { log({}); });
    connect(m_photo, &QPushButton::clicked, this, [this] { with_photo(); });
    connect(m_list, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) { tick(*item); });
    connect(&with.session, &Session::job_changed, this, &ApartDialog::refresh);
    refresh();
    m_text->setFocus();
}

void ApartDialog::log(const std::string& photo) {
    const std::string text = ss(m_text->text().trimmed());
    if (text.empty()) return m_says->setText(tr("Write what came off first."));
    Entry e;
    e.act = Do::Note;
    e.what = "apart";
    e.text = text;
    e.ref = photo;
    const auto problems = m_with.logbook.log(e);
    m_says->setText(problems.empty() ? QString() : qs(wording::problem(problems.front())));
    if (problems.empty()) m_text->clear();
}

void ApartDialog::with_photo() {
    if (m_text->text().trimmed().isEmpty()) return m_says->setText(tr("Write what came off first."));
    if (m_with.session.path().empty()) return m_says->setText(tr("Save the job first (Ctrl+S): pictures are kept beside it."));
    m_with.choose_file(this, {tr("A picture of it"), {}, tr("Pictures (*.png *.jpg *.jpeg)"), false}, [this](const QString& file) {
        m_says->setText(tr("Taking the picture in…"));
        in_background(
            this,
            [&disk = m_with.session.disk(), from = Path(ss(file)), job = m_with.session.path()] { return keep_photo(disk, from, job); },
            [this](const Result<KeptPhoto>& kept) {
                if (!kept) return m_says->setText(qs(wording::problem(kept.problem())));
                log(kept->file);
            });
    });
}

void ApartDialog::tick(const QListWidgetItem& item) {
    const int row = m_list->row(&item);
    if (row < 0 || row >= static_cast<int>(m_notes.size())) return;
    const ApartNote note = m_notes[static_cast<std::size_t>(row)];
    const bool ticked = item.checkState() == Qt::Checked;
    if (ticked == note.together) return;
    if (ticked) {
        Entry e;
        e.act = Do::Note;
        e.what = "together";
        e.target = note.entry;
        (void)m_with.logbook.log(e);
        return;
    }
    const int put_back =
        m_with.logbook.last([&](const Entry& e) { return e.act == Do::Note && e.what == "together" && e.target == note.entry; });
    if (put_back >= 0) m_with.logbook.retract(put_back);
}

void ApartDialog::refresh() {
    auto notes = m_with.session.replay().apart;
    std::reverse(notes.begin(), notes.end());
    m_notes = notes;
    const QSignalBlocker quiet(m_list);
    const int current = m_list->currentRow();
    m_list->clear();
    for (const auto& n : m_notes) {
        auto* item = new QListWidgetItem(qs(n.text), m_list);
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(n.together ? Qt::Checked : Qt::Unchecked);
    }
    m_list->setCurrentRow(std::clamp(current, m_notes.empty() ? -1 : 0, static_cast<int>(m_notes.size()) - 1));
    const auto left = to_put_back(m_with.session.replay().apart);
    m_left->setText(m_notes.empty() ? QString()
                    : left.empty()  ? tr("Everything is back.")
                                    : tr("Still off: %1. Next back: %2.").arg(left.size()).arg(qs(left.front().text)));
    load_pictures();
}

// Each is read and made small once, off the interface thread.
void ApartDialog::load_pictures() {
    for (const auto& note : m_notes) {
        if (note.photo.empty()) continue;
        if (const auto at = m_pictures.find(note.photo); at != m_pictures.end()) {
            if (at->second) show_picture(note.photo);
            continue;
        }
        m_pictures[note.photo] = std::nullopt;
        in_background(
            this,
            [&disk = m_with.session.disk(), job = m_with.session.path(), file = note.photo] {
                const auto image = kept_photo(disk, job, file);
                return image ? image->scaled(kThumbnail * 2, Qt::KeepAspectRatio, Qt::SmoothTransformation) : QImage();
            },
            [this, file = note.photo](const QImage& image) {
                m_pictures[file] = image;
                show_picture(file);
            });
    }
}

void ApartDialog::show_picture(const std::string& file) {
    const QImage& image = *m_pictures[file];
    const QSignalBlocker quiet(m_list);
    for (int r = 0; r < m_list->count(); ++r) {
        const auto& note = m_notes[static_cast<std::size_t>(r)];
        if (note.photo != file) continue;
        if (image.isNull())
            m_list->item(r)->setText(qs(note.text) + tr("  (its picture cannot be read)"));
        else
            m_list->item(r)->setIcon(QIcon(QPixmap::fromImage(image)));
    }
}

} // namespace ohmo
