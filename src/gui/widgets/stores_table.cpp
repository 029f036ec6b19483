// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/stores_table.h"

#include "base/engineering.h"
#include "circuit/energised.h"
#include "gui/text.h"
#include "gui/widgets/unit_strip.h"
#include "gui/widgets/yielding.h"
#include "report/wording.h"

#include <QHeaderView>

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr std::size_t kMost = 5;

} // namespace

StoresTable::StoresTable(const Collaborators& with, QWidget* parent) : QTableWidget(parent), m_with(with) {
    setObjectName(QStringLiteral("stores-table"));
    setAccessibleName(tr("Capacitors that can hurt"));
    setColumnCount(4);
    setHorizontalHeaderLabels({tr("Capacitor"), tr("Holds, at the most"), tr("Emptied by"), tr("Measured, unplugged")});
    verticalHeader()->hide();
    setSelectionBehavior(SelectRows);
    setSelectionMode(SingleSelection);
    setEditTriggers(NoEditTriggers);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setTabKeyNavigation(false);
    share_columns(*this, {3, 3, 5, 3});
    connect(this, &QTableWidget::currentCellChanged, this, &StoresTable::chosen);
}

QString StoresTable::name_of(const StorePath& path) const {
    const Board& board = m_with.session.replay().board;
    QStringList refs;
    for (int p : path.store.parts) refs << qs(wording::part_name(board.part(p)));
    return refs.size() > 3 ? tr("%1 and %2 more").arg(refs.mid(0, 2).join(QLatin1Char(' '))).arg(refs.size() - 2)
                           : refs.join(QLatin1Char(' '));
}

QString StoresTable::holds(const StorePath& path) const {
    const auto& s = path.store;
    return tr("%1, %2%3")
        .arg(qs(format_quantity(s.volts, "V")), qs(format_quantity(s.joules, "J", 2)), path.hazardous() ? QString() : tr(": welds"));
}

QString StoresTable::emptied_by(const StorePath& path) const {
    const Board& board = m_with.session.replay().board;
    if (!std::isfinite(path.tau)) return tr("nothing: stays charged");
    QStringList refs;
    bool read = true;
    const auto& a = m_with.session.analysis();
    for (std::size_t k = 0; k < std::min<std::size_t>(path.through.size(), 2); ++k) {
        const int part = path.through[k];
        refs << qs(wording::part_name(board.part(part)));
        const bool own = a && part < static_cast<int>(a->replay.board.parts.size()) && a->assessment.of(part).proof == Proof::Own &&
                         a->assessment.of(part).bad < board.practice().shown_suspect;
        read = read && own;
    }
    const double low = path.hazardous() ? hazard_volts() : working_volts();
    const QString when = path.store.volts > low
                             ? tr("%1 V in %2").arg(low).arg(qs(format_quantity(decay_seconds(path.store.volts, low, path.tau), "s", 2)))
                             : QString();
    const QString through = refs.isEmpty() ? tr("the board") : refs.join(QLatin1Char(' ')) + (read ? QString() : tr(" (not read)"));
    return when.isEmpty() ? through : tr("%1: %2").arg(through, when);
}

std::optional<Charge> StoresTable::charge_of(const StorePath& path) const {
    const auto& now = m_with.session.replay();
    if (path.main && now.charge && !now.mains_on) return now.charge;
    const auto at = now.measured.find(std::minmax(path.plus, path.minus));
    return at == now.measured.end() ? std::nullopt : std::optional(at->second);
}

QString StoresTable::measured(const StorePath& path) const {
    const auto charge = charge_of(path);
    if (!charge) return tr("not yet");
    return tr("%1, %2").arg(qs(format_quantity(charge->volts, "V", 2)), age_text(m_with.session.now() - charge->at));
}

std::vector<const StorePath*> StoresTable::unmeasured() const {
    std::vector<const StorePath*> out;
    for (const auto& path : m_paths)
        if (path.hazardous() && !path.main && !charge_of(path)) out.push_back(&path);
    return out;
}

const StorePath* StoresTable::chosen_store() const {
    const int row = currentRow();
    return row >= 0 && row < static_cast<int>(std::min(m_paths.size(), kMost)) ? &m_paths[static_cast<std::size_t>(row)] : nullptr;
}

void StoresTable::refresh() {
    const auto& a = m_with.session.analysis();
    const auto& board = m_with.session.replay().board;
    const bool same = a && a->replay.board.nets == board.nets && a->replay.board.parts.size() == board.parts.size();
    m_paths = same ? a->stores : std::vector<StorePath>{};
    const int rows = static_cast<int>(std::min(m_paths.size(), kMost));
    setVisible(rows > 0);
    const QSignalBlocker quiet(this);
    const int current = std::clamp(currentRow(), 0, std::max(rows - 1, 0));
    setRowCount(rows);
    for (int r = 0; r < rows; ++r) {
        const auto& path = m_paths[static_cast<std::size_t>(r)];
        int column = 0;
        for (const auto& text : {name_of(path), holds(path), emptied_by(path), measured(path)}) {
            auto* item = new QTableWidgetItem(text);
            item->setToolTip(text);
            setItem(r, column++, item);
        }
    }
    if (rows > 0) setCurrentCell(current, 0);
    int height = horizontalHeader()->sizeHint().height() + 2 * frameWidth();
    for (int r = 0; r < rows; ++r) height += rowHeight(r);
    setFixedHeight(height);
}

} // namespace ohmo
