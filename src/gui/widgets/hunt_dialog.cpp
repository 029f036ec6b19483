// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/hunt_dialog.h"

#include "base/engineering.h"
#include "gui/act_line.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/yielding.h"
#include "report/wording.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QStyledItemDelegate>
#include <QTreeWidget>

namespace ohmo {
namespace {

enum Column { kPlace, kShare, kHangs, kRead, kLeads, kColumns };
constexpr double kWorthHunting = 0.02; // chance of a short on the rail
constexpr int kShareRole = Qt::UserRole;
constexpr std::size_t kNamed = 4;
constexpr int kLeastNamed = 12; // letters

// The chance as a bar under its figure.
class ShareBar : public QStyledItemDelegate {
public:
    ShareBar(const ThemeSource& theme, QObject* parent) : QStyledItemDelegate(parent), m_theme(theme) {}

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex&) const override {
        return {option.fontMetrics.horizontalAdvance(QStringLiteral("100 %")) * 3, option.fontMetrics.height() + 12};
    }

    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& t = m_theme.theme();
        const double share = index.data(kShareRole).toDouble();
        const QRectF all = QRectF(option.rect).adjusted(4, 4, -8, -4);
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        p->setPen(Qt::NoPen);
        p->setBrush(t.inset);
        p->drawRoundedRect(all, 3, 3);
        p->setBrush(share >= 0.5 ? t.bad_fill : share >= 0.1 ? t.suspect_fill : t.line);
        p->drawRoundedRect(QRectF(all.topLeft(), QSizeF(std::max(3.0, all.width() * share), all.height())), 3, 3);
        p->setPen(t.text);
        p->drawText(all.adjusted(6, 0, -6, 0), Qt::AlignRight | Qt::AlignVCenter, index.data(Qt::DisplayRole).toString());
        p->restore();
    }

private:
    const ThemeSource& m_theme;
};

QString example_of(Quantity what) {
    switch (what) {
    case Quantity::Diode:
        return HuntDialog::tr("0.52 or open");
    case Quantity::Farads:
        return HuntDialog::tr("680u or open");
    case Quantity::Esr:
        return HuntDialog::tr("0.06 or open");
    default:
        return HuntDialog::tr("12m, 0.35 or open");
    }
}

QString hanging(const Board& board, const HuntPlace& place) {
    QStringList out;
    std::size_t rest = 0;
    for (const auto& [part, p] : place.hangs) {
        if (p < 0.005 || static_cast<std::size_t>(out.size()) >= kNamed)
            ++rest;
        else
            out << QStringLiteral("%1 %2").arg(qs(board.part(part).ref), qs(format_share(p)));
    }
    if (rest > 0)
        out << (!out.isEmpty() ? HuntDialog::tr("%1 more").arg(rest)
                : rest == 1    ? HuntDialog::tr("one part")
                               : HuntDialog::tr("%1 parts").arg(rest));
    return out.join(QStringLiteral(", "));
}

} // namespace

HuntDialog::HuntDialog(const Collaborators& with, QWidget* parent)
    : QDialog(parent), m_with(with), m_rail(new QComboBox), m_tree(new QTreeWidget), m_next(heading({})), m_halves(body({})),
      m_says(body({}, "bad")), m_value(new QLineEdit) {
    auto* outer = dialog_layout(*this, "hunt", tr("Short hunt"), {860, 560});
    auto* top = new QHBoxLayout;
    auto* label = body(tr("Rail"));
    m_rail->setObjectName(QStringLiteral("hunt-rail"));
    m_rail->setAccessibleName(tr("Rail"));
    label->setBuddy(m_rail);
    top->addWidget(label);
    top->addWidget(m_rail);
    top->addWidget(body(tr("From the source outwards: what is handed on, and where what pulls it down may hang."), "muted"), 1);
    outer->addLayout(top);
    m_tree->setObjectName(QStringLiteral("hunt-tree"));
    m_tree->setAccessibleName(tr("Places of the rail"));
    m_tree->setHeaderLabels({tr("Place"), tr("Here and beyond"), tr("Hangs here"), tr("To the return"), tr("Leads")});
    m_tree->setRootIsDecorated(false);
    m_tree->setItemsExpandable(false);
    m_tree->setSelectionMode(QAbstractItemView::SingleSelection);
    m_tree->setFocusPolicy(Qt::ClickFocus);
    m_tree->setUniformRowHeights(true);
    m_tree->setItemDelegateForColumn(kShare, new ShareBar(with.theme, m_tree));
    m_tree->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    outer->addWidget(m_tree, 1);
    m_next->setObjectName(QStringLiteral("hunt-next"));
    outer->addWidget(m_next);
    m_halves->setObjectName(QStringLiteral("hunt-halves"));
    outer->addWidget(m_halves);
    auto* row = new QHBoxLayout;
    m_value->setObjectName(QStringLiteral("hunt-value"));
    m_value->setAccessibleName(tr("Value of the next reading"));
    row->addWidget(m_value, 1);
    auto* close = button(tr("Close"), "hunt-close");
    close->setAutoDefault(false);
    row->addWidget(close);
    outer->addLayout(row);
    outer->addWidget(m_says);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    connect(m_value, &QLineEdit::returnPressed, this, &HuntDialog::log);
    connect(m_rail, &QComboBox::activated, this, &HuntDialog::refresh);
    connect(&with.session, &Session::analysis_changed, this, &HuntDialog::refresh);
    refresh();
    m_value->setFocus();
}

// The rail that is likeliest to be pulled down is chosen at first; what was chosen stays.
void HuntDialog::fill_rails(const Analysis& analysis) {
    if (m_rail->count() == static_cast<int>(analysis.replay.board.rails.size())) return;
    m_rail->clear();
    for (int r : rails_by_suspicion(analysis)) {
        const auto& rail = analysis.replay.board.rails[static_cast<std::size_t>(r)];
        m_rail->addItem(tr("%1 to %2").arg(qs(rail.net), qs(rail.ret)), r);
    }
}

void HuntDialog::refresh() {
    const auto a = m_with.session.analysis();
    if (!a || a->replay.board.rails.empty()) return nothing(a ? tr("No rail is known") : tr("Working it out…"), {});
    fill_rails(*a);
    const Hunt now = hunt(*a, m_rail->currentData().toInt());
    fill_tree(*a, now);
    if (!m_with.session.replay().cold_unlocked)
        return nothing(tr("Not yet: the bulk capacitor may be charged"),
                       tr("Cold readings wait until it has been measured low: Make safe (Ctrl+2)."));
    const Board& board = a->replay.board;
    const int likeliest = now.likeliest();
    if (likeliest >= 0 && a->assessment.of(likeliest).bad > board.practice().shown_bad && a->assessment.of(likeliest).proof == Proof::Own)
        return nothing(tr("Found: %1").arg(qs(wording::fault(board, a->assessment.of(likeliest).leading))),
                       tr("Put a new one in, then read the rail again: a second one may be behind it."));
    if (now.next == nullptr) {
        if (now.shorted < kWorthHunting || likeliest < 0)
            return nothing(tr("No reading along this rail would halve it further"), tr("Nothing on it is suspected of a short."));
        const QString ref = qs(board.part(likeliest).ref);
        m_next->setText(tr("Next: take %1 out and read it, ohms").arg(ref));
        m_halves->setText(tr("No reading along this rail would halve it further; %1 is the likeliest.").arg(ref));
        return ask(QStringLiteral("%1 ohm lifted ").arg(ref), Quantity::Ohms);
    }
    m_next->setText(tr("Next: %1").arg(qs(wording::act_title(board, *now.next))));
    m_halves->setText(qs(wording::parts_suspects(board, *now.next)));
    ask(line_for(board, a->replay.evidence.meters, *now.next), now.next->query.what);
    if (!m_value->isEnabled()) m_halves->setText(tr("Log it in the bench line: %1").arg(m_line));
}

void HuntDialog::nothing(const QString& title, const QString& why) {
    m_line.clear();
    m_next->setText(title);
    m_halves->setText(why);
    m_value->setEnabled(false);
}

// An act that takes no value goes through the bench line.
void HuntDialog::ask(const QString& line, Quantity what) {
    m_line = line;
    m_value->setPlaceholderText(example_of(what));
    m_value->setEnabled(line.endsWith(QLatin1Char(' ')));
}

void HuntDialog::fill_tree(const Analysis& analysis, const Hunt& hunt) {
    const Board& board = analysis.replay.board;
    m_tree->clear();
    std::vector<QTreeWidgetItem*> items;
    for (const auto& place : hunt.places) {
        auto* item = place.above < 0 ? new QTreeWidgetItem(m_tree) : new QTreeWidgetItem(items[static_cast<std::size_t>(place.above)]);
        items.push_back(item);
        const QString net = qs(board.net_name(place.net));
        item->setText(kPlace, place.via < 0 ? net : tr("%1  by %2").arg(net, qs(board.part(place.via).ref)));
        item->setText(kShare, qs(format_share(place.beyond)));
        item->setData(kShare, kShareRole, place.beyond);
        item->setText(kHangs, hanging(board, place));
        item->setText(kRead, place.ohms ? qs(format_quantity(*place.ohms, "Ω")) : QString());
        item->setText(kLeads, place.red ? tr("● red lead") : place.black ? tr("● black lead") : QString());
        for (int c = 0; c < kColumns; ++c) item->setToolTip(c, item->text(c));
    }
    m_tree->expandAll();
    share_width();
}

// What hangs at a place gives way; whatever is left over is the last column's.
void HuntDialog::share_width() {
    m_tree->header()->setStretchLastSection(false);
    int wanted = 0;
    for (int c = 0; c < kColumns; ++c) {
        m_tree->resizeColumnToContents(c);
        m_tree->setColumnWidth(c, m_tree->columnWidth(c) + fontMetrics().averageCharWidth());
        wanted += m_tree->columnWidth(c);
    }
    const int over = wanted - m_tree->viewport()->width(), least = fontMetrics().averageCharWidth() * kLeastNamed;
    if (over > 0) m_tree->setColumnWidth(kHangs, std::max(least, m_tree->columnWidth(kHangs) - over));
    m_tree->header()->setStretchLastSection(true);
}

void HuntDialog::resizeEvent(QResizeEvent* event) {
    QDialog::resizeEvent(event);
    share_width();
}

void HuntDialog::log() {
    if (m_line.isEmpty() || m_value->text().trimmed().isEmpty()) return;
    const auto problems = m_with.logbook.log_line(ss(m_line + m_value->text().trimmed()));
    m_says->setText(problems.empty() ? QString() : qs(wording::problem(problems.front())));
    if (!problems.empty()) return m_value->selectAll();
    m_value->clear();
}

} // namespace ohmo
