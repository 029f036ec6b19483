// SPDX-License-Identifier: GPL-3.0-or-later
#include "appcore/background.h"
#include "gui/photos/marked_picture.h"
#include "gui/stations/station.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "report/record.h"
#include "report/wording.h"

#include <QBuffer>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPdfWriter>
#include <QPushButton>
#include <QTextBrowser>
#include <QTextDocument>

namespace ohmo {
namespace {

constexpr int kPreviewWidth = 640, kPrintedWidth = 2000; // pixels

class HandBack : public QWidget {
    Q_OBJECT
public:
    explicit HandBack(const Collaborators& with) : m_with(with), m_preview(new QTextBrowser) {
        setObjectName(QStringLiteral("station-hand-back"));
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        auto* centre = new QVBoxLayout;
        centre->setContentsMargins(18, 12, 18, 12);
        centre->addWidget(heading(tr("The record")));
        m_preview->setObjectName(QStringLiteral("record-preview"));
        m_preview->setAccessibleName(tr("Preview of the record"));
        centre->addWidget(m_preview, 1);
        layout->addLayout(centre, kCentreShare);
        layout->addWidget(side(), kSideShare);
        QObject::connect(&with.session, &Session::analysis_changed, this, [this] { refresh(); });
        QObject::connect(&with.session, &Session::job_changed, this, [this] { refresh(); });
        refresh();
    }

private:
    QWidget* side() {
        QVBoxLayout* layout = nullptr;
        auto* column = side_column(layout);
        layout->addWidget(heading(tr("How it ends")));
        for (const char* id : {"repaired", "works-not-fit", "not-economic", "supply-good"}) {
            QString text = qs(wording::outcome(id));
            text[0] = text[0].toUpper();
            auto* b = button(QLatin1Char('&') + text, qPrintable(QStringLiteral("outcome-") + QString::fromLatin1(id)));
            b->setCheckable(true);
            b->setMinimumHeight(36);
            QObject::connect(b, &QPushButton::clicked, this, [this, id] {
                Entry e;
                e.act = Do::SignOff;
                e.saw = id;
                (void)m_with.logbook.log(e);
            });
            layout->addWidget(b);
            m_outcomes.emplace_back(id, b);
        }
        m_caution = new Card({}, "warn");
        m_caution->setObjectName(QStringLiteral("hand-back-caution"));
        layout->addWidget(m_caution);
        m_apart = body({}, "warn");
        m_apart->setObjectName(QStringLiteral("hand-back-apart"));
        layout->addWidget(m_apart);
        layout->addWidget(heading(tr("Lesson for next time")));
        auto* lesson = new QLineEdit;
        lesson->setObjectName(QStringLiteral("lesson"));
        lesson->setAccessibleName(tr("Lesson for next time"));
        lesson->setPlaceholderText(tr("kept with the job, Enter to log"));
        QObject::connect(lesson, &QLineEdit::returnPressed, this, [this, lesson] {
            Entry e;
            e.act = Do::Note;
            e.text = ss(lesson->text().trimmed());
            if (!e.text.empty() && !has_errors(m_with.logbook.log(e))) lesson->clear();
        });
        layout->addWidget(lesson);
        auto* save = button(tr("E&xport record…"), "record-export", "main");
        save->setToolTip(tr("As PDF, HTML or Markdown, by the ending of the file name"));
        QObject::connect(save, &QPushButton::clicked, this, [this] { export_record(); });
        layout->addWidget(save);
        m_note = body({}, "muted");
        layout->addWidget(m_note);
        layout->addWidget(body(tr("The record lists what was measured and done. It certifies nothing."), "muted"));
        layout->addStretch(1);
        return column;
    }

    void export_record() {
        if (!m_with.session.analysis()) return;
        m_with.choose_file(this,
                           {tr("Export the record"), QStringLiteral("record.pdf"), tr("PDF (*.pdf);;HTML (*.html);;Markdown (*.md)"), true},
                           [this](const QString& file) { write_record(file); });
    }

    // Off the interface thread; the file is replaced in one step.
    void write_record(const QString& file) {
        m_note->setText(tr("Writing %1…").arg(file));
        const auto write = [&disk = m_with.session.disk(), analysis = m_with.session.analysis(), job = m_with.session.path(), file] {
            const bool pdf = file.endsWith(QStringLiteral(".pdf"));
            auto pictures = record_pictures(disk, job, *analysis);
            if (pdf)
                for (auto& picture : pictures) picture = painted(std::move(picture), kPrintedWidth);
            const std::string text = pdf                                    ? record_pdf(record_html(*analysis, pictures))
                                     : file.endsWith(QStringLiteral(".md")) ? record_markdown(*analysis, pictures)
                                                                            : record_html(*analysis, pictures);
            return disk.write(ss(file), text);
        };
        in_background(this, write, [this, file](const Result<Path>& done) {
            m_note->setText(done ? tr("Written to %1").arg(file) : qs(wording::problem(done.problem())));
        });
    }

    static std::string record_pdf(const std::string& html) {
        QBuffer buffer;
        buffer.open(QIODevice::WriteOnly);
        {
            QPdfWriter writer(&buffer);
            writer.setPageSize(QPageSize(QPageSize::A4));
            QTextDocument document;
            document.setHtml(qs(html));
            document.print(&writer);
        }
        return buffer.data().toStdString();
    }

    // Those of the preview are read, painted and made small once, off the interface thread.
    void load_pictures() {
        const auto& a = m_with.session.analysis();
        const auto wanted = pictures_of(*a);
        if (wanted == m_wanted) return;
        m_wanted = wanted;
        const auto read = [&disk = m_with.session.disk(), job = m_with.session.path(), a] {
            auto pictures = record_pictures(disk, job, *a);
            for (auto& picture : pictures) picture = painted(std::move(picture), kPreviewWidth);
            return pictures;
        };
        in_background(this, read, [this, wanted](std::vector<RecordPicture> pictures) {
            if (wanted != m_wanted) return;
            m_pictures = std::move(pictures);
            if (const auto& now = m_with.session.analysis()) m_preview->setHtml(qs(record_html(*now, m_pictures)));
        });
    }

    void refresh() {
        const auto& now = m_with.session.replay();
        for (auto& [id, b] : m_outcomes) b->setChecked(now.outcome == id);
        const auto left = to_put_back(now.apart);
        m_apart->setVisible(!left.empty());
        if (!left.empty()) m_apart->setText(tr("Still off: %1. Next back: %2 (F8).").arg(left.size()).arg(qs(left.front().text)));
        const auto& a = m_with.session.analysis();
        if (!a) return;
        m_preview->setHtml(qs(record_html(*a, m_pictures)));
        load_pictures();
        const bool proven = !a->ladder.locked && a->ladder.current >= static_cast<int>(a->ladder.steps.size());
        m_caution->setVisible(!proven || now.outcome == "works-not-fit");
        if (!proven) {
            m_caution->set_title(tr("Not proven under power"));
            m_caution->set_text(a->ladder.locked
                                    ? tr("The power-up locks are still closed. “Repaired” would not be true yet.")
                                    : tr("Step %1 of %2 of the ladder is open.").arg(a->ladder.current + 1).arg(a->ladder.steps.size()));
        } else {
            m_caution->set_title(tr("Not to be returned to service"));
            m_caution->set_text(tr("An enclosure that had to be broken open, a damaged barrier or a missing safety part: mark the unit and "
                                   "keep it out of use."));
        }
        m_outcomes.front().second->setEnabled(proven || now.outcome == "repaired");
        m_outcomes.front().second->setToolTip(proven ? QString() : tr("Opens when every step of the power-up ladder has passed"));
    }

    Collaborators m_with;
    QTextBrowser* m_preview;
    std::vector<RecordPicture> m_wanted, m_pictures; ///< of the preview: not read yet; small, with their marks painted in
    std::vector<std::pair<std::string, QPushButton*>> m_outcomes;
    Card* m_caution = nullptr;
    QLabel *m_note = nullptr, *m_apart = nullptr;
};

} // namespace

QWidget* make_hand_back(const Collaborators& with) { return new HandBack(with); }

} // namespace ohmo

#include "hand_back.moc"
