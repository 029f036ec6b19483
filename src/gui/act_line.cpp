// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/act_line.h"

#include "gui/text.h"
#include "readings/quantities.h"
#include "report/wording.h"

namespace ohmo {

std::span<const NextAct> acts_now(const Session& session) {
    const auto& a = session.analysis();
    if (!a) return {};
    const auto& now = session.replay();
    if (now.cold_unlocked) return a->next.acts;
    return now.mains_on ? std::span<const NextAct>(a->live_next) : std::span<const NextAct>();
}

QString line_for(const Board& board, const std::vector<MeterProfile>& meters, const NextAct& act) {
    if (act.act == Act::Look) return QStringLiteral("look %1 ").arg(qs(board.part(act.part).ref));
    if (act.act == Act::Substitute) return QStringLiteral("substitute %1 ").arg(qs(board.part(act.part).ref));
    if (act.act == Act::Cool) return QStringLiteral("cool %1 ").arg(qs(board.part(act.part).ref));
    if (act.act == Act::Assure)
        return (act.query.state.is_pulled(act.part) ? QStringLiteral("pull %1") : QStringLiteral("lift %1"))
            .arg(qs(board.part(act.part).ref));
    if (act.act == Act::Pull) return QStringLiteral("pull %1").arg(qs(board.part(act.part).ref));
    const auto& q = act.query;
    const bool four_wires = meters[static_cast<std::size_t>(q.meter)].id == milliohm_meter().id;
    const auto word = four_wires && q.what == Quantity::Ohms ? std::string_view("milliohm") : quantity_info(q.what).word;
    if (!act.to_lift.empty() && q.alone < 0) return QStringLiteral("lift %1").arg(qs(board.part(act.to_lift.front()).ref));
    const int on = q.alone >= 0 ? q.alone : act.part;
    if (on >= 0) {
        const auto& part = board.part(on);
        const auto& info = kind_info(part.kind);
        if (part.net(info.red) == q.red && part.net(info.black) == q.black)
            return QStringLiteral("%1 %2 %3").arg(qs(part.ref), qs(word), act.to_lift.empty() ? QString() : QStringLiteral("lifted "));
    }
    return QStringLiteral("%1 %2 %3 ").arg(qs(board.net_name(q.red)), qs(board.net_name(q.black)), qs(word));
}

QString line_for(const Board& board, const ReworkCheck& check) {
    const QString ref = qs(board.part(check.part).ref);
    if (check.kind == CheckKind::Look) return QStringLiteral("prove %1 look ").arg(ref);
    if (check.kind == CheckKind::Joined) return QStringLiteral("prove %1 %2 ").arg(ref, qs(check.pin));
    return QStringLiteral("%1 %2 %3 ")
        .arg(qs(board.net_name(check.query.red)), qs(board.net_name(check.query.black)), qs(quantity_info(check.query.what).word));
}

QString verdict_of(const Board& board, const NextAct& act, double value, bool over) {
    for (const auto& band : act.bands)
        if (over ? band.over : !band.over && value >= band.lo && value <= band.hi) return qs(wording::band_label(board, act, band));
    return QCoreApplication::translate("acts", "between the bands");
}

} // namespace ohmo
