// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/part_sheet_dialog.h"

#include "appcore/background.h"
#include "gui/photos/take_picture.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/yielding.h"
#include "report/part_words.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>

namespace ohmo {
namespace {

enum Column { kTest, kHere, kAlone, kWhenBad, kRead, kSisters, kColumns };
constexpr std::size_t kMostHistory = 8;
constexpr QSize kThumbnail(96, 72);

} // namespace

PartSheetDialog::PartSheetDialog(const Collaborators& with, QWidget* parent)
    : QDialog(parent), m_with(with), m_title(heading({})), m_judged(body({})), m_reasons(body({})), m_history(body({}, "muted")),
      m_tests(new QTableWidget(0, kColumns)), m_pictures(new QHBoxLayout), m_thumbnails(new Thumbnails(with.session, kThumbnail, this)) {
    auto* outer = dialog_layout(*this, "part-sheet", tr("Part sheet"), {940, 600});
    outer->addWidget(m_title);
    m_judged->setObjectName(QStringLiteral("part-sheet-judged"));
    outer->addWidget(m_judged);
    m_reasons->setObjectName(QStringLiteral("part-sheet-reasons"));
    outer->addWidget(m_reasons);
    m_tests->setObjectName(QStringLiteral("part-sheet-tests"));
    m_tests->setAccessibleName(tr("Tests by pins"));
    m_tests->setHorizontalHeaderLabels(
        {tr("Test, red → black"), tr("Sound, in circuit"), tr("Sound, lifted"), tr("When bad, lifted"), tr("Read"), tr("Sisters")});
    m_tests->verticalHeader()->hide();
    m_tests->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_tests->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_tests->setSelectionMode(QAbstractItemView::SingleSelection);
    m_tests->setWordWrap(true);
    m_tests->setTabKeyNavigation(false);
    share_columns(*m_tests, {4, 4, 4, 7, 4, 5});
    outer->addWidget(m_tests, 1);
    outer->addWidget(m_history);
    m_pictures->setSpacing(6);
    auto* add = button(tr("Picture of it…"), "part-sheet-picture");
    add->setAutoDefault(false);
    connect(add, &QPushButton::clicked, this, &PartSheetDialog::take_its_picture);
    m_pictures->addStretch(1);
    m_pictures->addWidget(add, 0, Qt::AlignBottom);
    outer->addLayout(m_pictures);
    auto* ends = new QHBoxLayout;
    ends->addWidget(body(tr("Enter or a double click puts the test into the bench line. The sheet follows the selected part."), "muted"),
                    1);
    auto* close = button(tr("Close"), "part-sheet-close");
    close->setAutoDefault(false);
    ends->addWidget(close);
    outer->addLayout(ends);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    connect(m_tests, &QTableWidget::cellActivated, this, [this](int row) { take(row); });
    connect(&with.selection, &Selection::changed, this, &PartSheetDialog::ask);
    connect(&with.session, &Session::analysis_changed, this, &PartSheetDialog::ask);
    connect(&with.session, &Session::job_changed, this, &PartSheetDialog::show_pictures);
    connect(&with.selection, &Selection::changed, this, &PartSheetDialog::show_pictures);
    connect(m_thumbnails, &Thumbnails::ready, this, &PartSheetDialog::show_pictures);
    if (const auto& a = with.session.analysis(); a && with.selection.part() < 0 && !a->assessment.parts.empty())
        with.selection.select(a->assessment.parts.front().part); // the most suspect one
    ask();
    show_pictures();
    m_tests->setFocus();
}

void PartSheetDialog::ask() {
    const auto a = m_with.session.analysis();
    const int part = m_with.selection.part();
    m_part = -1;
    if (!a || part < 0 || part >= static_cast<int>(a->replay.board.parts.size())) {
        m_title->setText(tr("No part is selected"));
        m_judged->setText(tr("Choose one on the map, in the list of suspects, or with Ctrl+F."));
        m_reasons->clear();
        m_history->clear();
        m_tests->setRowCount(0);
        return;
    }
    m_title->setText(qs(wording::part_title(a->replay.board.part(part)) + ", " + wording::part_role(a->replay.board.part(part))));
    const int mine = ++m_asked;
    in_background(
        this, [a, part] { return part_sheet(*a, part); },
        [this, a, mine](const PartSheet& sheet) {
            if (mine == m_asked) show_sheet(*a, sheet);
        });
}

void PartSheetDialog::show_sheet(const Analysis& a, const PartSheet& sheet) {
    const Board& board = a.replay.board;
    m_part = sheet.part;
    m_judged->setText(qs(wording::part_judgement(a, sheet)) + QStringLiteral(". ") +
                      qs(wording::proof_in_full(a.assessment.of(sheet.part).proof)));
    QStringList reasons;
    for (const auto& r : wording::part_reasons(a, sheet))
        reasons << (r.sign == wording::PartReason::Sign::For       ? QStringLiteral("✓ ")
                    : r.sign == wording::PartReason::Sign::Against ? QStringLiteral("✕ ")
                                                                   : QStringLiteral("? ")) +
                       qs(r.text);
    m_reasons->setText(reasons.join(QLatin1Char('\n')));
    m_shown = sheet.tests;
    m_tests->setRowCount(static_cast<int>(sheet.tests.size()));
    for (int r = 0; r < m_tests->rowCount(); ++r) {
        const auto& t = sheet.tests[static_cast<std::size_t>(r)];
        int column = 0;
        for (const auto& text : {wording::test_name(t), wording::shown(t.what, t.here), wording::shown(t.what, t.alone),
                                 wording::test_failures(board, sheet.part, t), wording::test_read(t), wording::test_sisters(board, t)}) {
            auto* item = new QTableWidgetItem(qs(text));
            item->setToolTip(qs(text));
            m_tests->setItem(r, column++, item);
        }
    }
    m_tests->resizeRowsToContents();
    if (m_tests->rowCount() > 0 && m_tests->currentRow() < 0) m_tests->setCurrentCell(0, 0);
    QStringList history;
    for (std::size_t k = sheet.history.size() > kMostHistory ? sheet.history.size() - kMostHistory : 0; k < sheet.history.size(); ++k)
        history << qs(wording::entry(board, a.job.journal[static_cast<std::size_t>(sheet.history[k])]));
    m_history->setText(history.isEmpty() ? tr("Nothing was logged on it yet.")
                                         : tr("Logged: %1.").arg(history.join(QStringLiteral(" · "))));
}

std::string PartSheetDialog::chosen() const {
    const auto& board = m_with.session.replay().board;
    const int part = m_with.selection.part();
    return part < 0 || part >= static_cast<int>(board.parts.size()) ? std::string() : board.part(part).ref;
}

void PartSheetDialog::take_its_picture() {
    const std::string ref = chosen();
    if (ref.empty()) return;
    take_picture(
        this, m_with, tr("Picture of %1").arg(qs(ref)), [this](const QString& text, bool) { m_history->setText(text); },
        [this, ref](const std::string& file) { (void)m_with.logbook.log(part_picture(file, ref)); });
}

// A small picture each, which opens large.
void PartSheetDialog::show_pictures() {
    while (m_pictures->count() > 2) { // the stretch and the button stay
        QLayoutItem* item = m_pictures->takeAt(0);
        delete item->widget();
        delete item;
    }
    const std::string ref = chosen();
    for (const auto& picture : m_with.session.replay().part_pictures) {
        if (picture.part != ref) continue;
        auto* b = new QToolButton;
        b->setObjectName(QStringLiteral("part-sheet-shown"));
        b->setAccessibleName(tr("Picture of %1").arg(qs(ref)));
        b->setToolTip(tr("Larger"));
        b->setIconSize(kThumbnail);
        if (const auto small = m_thumbnails->of(picture.file); small && !small->isNull())
            b->setIcon(QIcon(QPixmap::fromImage(*small)));
        else
            b->setText(small ? tr("%1 cannot be read").arg(qs(picture.file)) : tr("reading…"));
        connect(b, &QToolButton::clicked, this,
                [this, picture] { show_picture(this, m_with.session, picture.file, tr("Picture of %1").arg(qs(picture.part))); });
        m_pictures->insertWidget(m_pictures->count() - 2, b);
    }
}

void PartSheetDialog::take(int row) {
    if (m_part < 0 || row < 0 || row >= static_cast<int>(m_shown.size())) return;
    const auto& t = m_shown[static_cast<std::size_t>(row)];
    const QString what = t.what == Quantity::Farads ? QStringLiteral("farads") : qs(quantity_name(t.what));
    m_with.write_bench_line(
        QStringLiteral("%1 %2-%3 %4 ").arg(qs(m_with.session.replay().board.part(m_part).ref), qs(t.red), qs(t.black), what));
    accept();
}

} // namespace ohmo
