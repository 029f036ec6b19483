// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/actions.h"

#include "gui/stations/station.h"

#include <QCoreApplication>

namespace ohmo {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("actions", text); }

} // namespace

std::vector<ActionInfo> all_actions() {
    using Where = ActionPlace;
    const auto key = [](const char* text) { return QKeySequence(QString::fromLatin1(text)); };
    std::vector<ActionInfo> out = {
        {QStringLiteral("new"), tr("New from blueprint…"), QKeySequence::New, Where::JobMenu},
        {QStringLiteral("open"), tr("Open…"), QKeySequence::Open, Where::JobMenu},
        {QStringLiteral("save"), tr("Save"), QKeySequence::Save, Where::JobMenu},
        {QStringLiteral("save-as"), tr("Save as…"), key("Ctrl+Shift+S"), Where::JobMenu},
        {QStringLiteral("export"), tr("Export the board…"), key("Ctrl+Shift+B"), Where::JobMenu},
        {QStringLiteral("teach-meter"), tr("Teach the meter…"), key("Ctrl+M"), Where::JobMenu},
        {QStringLiteral("quit"), tr("Quit"), key("Ctrl+Q"), Where::JobMenu},
        {QStringLiteral("undo"), tr("Undo"), QKeySequence::Undo, Where::EditMenu},
        {QStringLiteral("redo"), tr("Redo"), key("Ctrl+Shift+Z"), Where::EditMenu},
        {QStringLiteral("look-round"), tr("Look round: from the fuse to the rails…"), key("F6"), Where::EditMenu},
        {QStringLiteral("rails-round"), tr("Rails round: one after the other…"), key("F4"), Where::EditMenu},
        {QStringLiteral("hunt"), tr("Short hunt: halve the rail…"), key("F12"), Where::EditMenu},
        {QStringLiteral("twin"), tr("Beside a good unit: what reads otherwise…"), key("F5"), Where::EditMenu},
        {QStringLiteral("meter-in-hand"), tr("Meter in hand, leads touched…"), key("F10"), Where::EditMenu},
        {QStringLiteral("apart"), tr("Taking apart, putting together…"), key("F8"), Where::EditMenu},
        {QStringLiteral("part-sheet"), tr("Part sheet: tests by pins, judgement…"), key("F7"), Where::EditMenu},
        {QStringLiteral("bench-line"), tr("Go to the bench line"), key("Ctrl+L"), Where::EditMenu},
        {QStringLiteral("find"), tr("Find a part…"), QKeySequence::Find, Where::EditMenu},
        {QStringLiteral("take-suggestion"), tr("Take the suggested reading"), key("F2"), Where::EditMenu},
        {QStringLiteral("suggestion-before"), tr("The suggestion before"), key("Alt+PgUp"), Where::EditMenu},
        {QStringLiteral("suggestion-after"), tr("Another suggestion"), key("Alt+PgDown"), Where::EditMenu},
    };
    int number = 0;
    for (const auto& info : all_stations())
        out.push_back(
            {QStringLiteral("station-") + info.id, info.title, QKeySequence(QStringLiteral("Ctrl+%1").arg(++number)), Where::ViewMenu});
    const std::vector<ActionInfo> rest = {
        {QStringLiteral("start"), tr("Start page"), key("Ctrl+0"), Where::ViewMenu},
        {QStringLiteral("photo"), tr("Map or photo of the board"), key("F3"), Where::ViewMenu},
        {QStringLiteral("glance"), tr("Glance: the next act in large letters"), key("F11"), Where::ViewMenu},
        {QStringLiteral("voice"), tr("Voice: what was logged, what comes next"), key("F9"), Where::ViewMenu},
        {QStringLiteral("theme"), tr("Light or dark"), key("Ctrl+D"), Where::ViewMenu},
        {QStringLiteral("larger"), tr("Larger text"), key("Ctrl++"), Where::ViewMenu},
        {QStringLiteral("smaller"), tr("Smaller text"), key("Ctrl+-"), Where::ViewMenu},
        {QStringLiteral("actions"), tr("All actions…"), key("F1"), Where::ViewMenu},
        {QStringLiteral("log-line"), tr("Bench line: log it"), key("Return"), Where::BenchLine},
        {QStringLiteral("complete-line"), tr("Bench line: complete the word"), key("Tab"), Where::BenchLine},
        {QStringLiteral("recall-before"), tr("Bench line: the line before"), key("Up"), Where::BenchLine},
        {QStringLiteral("recall-after"), tr("Bench line: the line after"), key("Down"), Where::BenchLine},
        {QStringLiteral("map-left"), tr("Map: the part to the left"), key("Left"), Where::Map},
        {QStringLiteral("map-right"), tr("Map: the part to the right"), key("Right"), Where::Map},
        {QStringLiteral("map-up"), tr("Map: the part above"), key("Up"), Where::Map},
        {QStringLiteral("map-down"), tr("Map: the part below"), key("Down"), Where::Map},
        {QStringLiteral("map-closer"), tr("Map: closer"), key("+"), Where::Map},
        {QStringLiteral("map-farther"), tr("Map: farther"), key("-"), Where::Map},
        {QStringLiteral("map-fit"), tr("Map: fit"), key("0"), Where::Map},
        {QStringLiteral("map-whole"), tr("Map: the whole board, or what matters"), key("W"), Where::Map},
        {QStringLiteral("map-unfold"), tr("Map: open the fold, put it away"), key("Return"), Where::Map},
        {QStringLiteral("map-nothing"), tr("Map: nothing selected"), key("Esc"), Where::Map},
        {QStringLiteral("map-wire"), tr("Trace, map: a pin of the part, then of another"), key("J"), Where::TraceMap},
        {QStringLiteral("map-beep"), tr("Trace, map: it beeps between the two pins"), key("Return"), Where::TraceMap},
        {QStringLiteral("map-silent"), tr("Trace, map: it does not"), key("X"), Where::TraceMap},
        {QStringLiteral("map-strike"), tr("Trace, map: the part is not on this board"), key("Del"), Where::TraceMap},
        {QStringLiteral("map-new"), tr("Trace, map: a new part"), key("Ins"), Where::TraceMap},
        {QStringLiteral("table-new"), tr("Trace, table: a new part"), key("Ins"), Where::PartsTable},
        {QStringLiteral("table-double"), tr("Trace, table: the same part once more"), key("Ctrl+Ins"), Where::PartsTable},
        {QStringLiteral("table-strike"), tr("Trace, table: it is not on this board"), key("Del"), Where::PartsTable},
        {QStringLiteral("table-paste"), tr("Trace, table: paste rows"), key("Ctrl+V"), Where::PartsTable},
    };
    out.insert(out.end(), rest.begin(), rest.end());
    return out;
}

} // namespace ohmo
