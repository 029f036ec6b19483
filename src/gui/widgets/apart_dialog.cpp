// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/apart_dialog.h"

#include "gui/photos/take_picture.h"
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
      m_photo(button(tr("With a &picture…"), "apart-photo")), m_list(new QListWidget),
      m_pictures(new Thumbnails(with.session, kThumbnail * 2, this)), m_says(body({}, "warn")), m_left(body({}, "muted")) {
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
    connect(m_pictures, &Thumbnails::ready, this, [this](const std::string& file) {
        for (int k = 0; k < m_list->count(); ++k)
            if (m_notes[static_cast<std::size_t>(k)].photo == file) show_picture(k);
    });
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
    take_picture(
        this, m_with, tr("A picture of it"), [this](const QString& text, bool) { m_says->setText(text); },
        [this](const std::string& file) { log(file); });
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
    for (int row = 0; row < m_list->count(); ++row) show_picture(row);
}

void ApartDialog::show_picture(int row) {
    const auto& note = m_notes[static_cast<std::size_t>(row)];
    if (note.photo.empty()) return;
    const auto image = m_pictures->of(note.photo);
    if (!image) return;
    const QSignalBlocker quiet(m_list);
    if (image->isNull())
        m_list->item(row)->setText(qs(note.text) + tr("  (its picture cannot be read)"));
    else
        m_list->item(row)->setIcon(QIcon(QPixmap::fromImage(*image)));
}

} // namespace ohmo
