// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/map/map_wiring.h"

#include "gui/text.h"
#include "job/traced.h"
#include "report/wording.h"

#include <QKeyEvent>

#include <algorithm>

namespace ohmo {
namespace {

// The pin after this one, the first after the last.
PinName after(const Part& part, const PinName& pin) {
    auto at = std::find_if(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.role == pin.role; });
    if (at != part.pins.end()) ++at;
    return {part.ref, (at == part.pins.end() ? part.pins.begin() : at)->role};
}

} // namespace

MapWiring::MapWiring(const Collaborators& with, MapView& map) : QObject(&map), m_with(with), m_map(map) {
    map.installEventFilter(this);
    connect(&with.session, &Session::job_changed, this, &MapWiring::leave_off);
}

bool MapWiring::eventFilter(QObject* watched, QEvent* event) {
    if (watched == &m_map && event->type() == QEvent::KeyPress && m_with.session.has_job()) {
        const auto* press = static_cast<QKeyEvent*>(event);
        if (press->modifiers() == Qt::NoModifier && key(press->key())) return true;
    }
    return QObject::eventFilter(watched, event);
}

bool MapWiring::key(int key) {
    switch (key) {
    case Qt::Key_J:
        take_pin();
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_X:
        if (!m_to) return false;
        log(key != Qt::Key_X);
        return true;
    case Qt::Key_Escape:
        if (!m_from) return false;
        leave_off();
        Q_EMIT said({}, true);
        return true;
    case Qt::Key_Delete:
        if (const Part* part = selected()) Q_EMIT strike(part->ref);
        return true;
    case Qt::Key_Insert:
        Q_EMIT begin_part();
        return true;
    default:
        return false;
    }
}

const Part* MapWiring::selected() const {
    const int part = m_with.selection.part();
    const auto& board = m_with.session.replay().board;
    return part < 0 || part >= static_cast<int>(board.parts.size()) ? nullptr : &board.part(part);
}

void MapWiring::take_pin() {
    const Part* part = selected();
    if (part == nullptr || part->pins.empty()) {
        Q_EMIT said(tr("Choose the part on the map first: arrows or a click."), false);
        return;
    }
    auto& end = !m_from || (m_from->ref == part->ref && !m_to) ? m_from : m_to;
    end = end && end->ref == part->ref ? after(*part, *end) : PinName{part->ref, part->pins.front().role};
    if (m_to && m_to->ref == m_from->ref) m_to.reset(); // back at the first part: it is begun anew
    say();
}

QString MapWiring::named(const PinName& pin) const {
    const auto& board = m_with.session.replay().board;
    const auto part = board.find_part(pin.ref);
    const NetId net = part ? board.part(*part).net(pin.role) : -1;
    return net < 0 ? qs(pin.ref + "." + pin.role) : tr("%1 (%2)").arg(qs(pin.ref + "." + pin.role), qs(board.net_name(net)));
}

void MapWiring::say() {
    const auto& board = m_with.session.replay().board;
    const auto of = [&](const std::optional<PinName>& pin) { return pin ? board.find_part(pin->ref).value_or(-1) : -1; };
    const auto net = [&](const std::optional<PinName>& pin) {
        const int part = of(pin);
        return part >= 0 ? board.part(part).net(pin->role) : NetId(-1);
    };
    const auto pin_text = [](const std::optional<PinName>& pin) { return pin ? qs(pin->ref + "." + pin->role) : QString(); };
    m_map.show_leads({.part = of(m_to ? m_to : m_from),
                      .red = net(m_from),
                      .black = net(m_to),
                      .red_part = of(m_from),
                      .black_part = of(m_to),
                      .red_pin = pin_text(m_from),
                      .black_pin = pin_text(m_to)});
    if (m_to)
        Q_EMIT said(
            tr("%1 to %2: Enter if it beeps, X if it does not, J for the next pin, Esc leaves off.").arg(named(*m_from), named(*m_to)),
            true);
    else
        Q_EMIT said(tr("From %1. J: its next pin. Go to the other part and press J there.").arg(named(*m_from)), true);
}

void MapWiring::log(bool joined) {
    const JointEdit edit{*m_from, *m_to, joined};
    const auto problems = m_with.logbook.log(trace_entry({edit}));
    leave_off();
    if (has_errors(problems)) Q_EMIT said(qs(wording::problem(problems.front())), false);
}

void MapWiring::leave_off() {
    if (!m_from) return;
    m_from.reset();
    m_to.reset();
    m_map.show_leads({});
}

} // namespace ohmo
