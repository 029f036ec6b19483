// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/wording.h"

#include "base/shortened.h"

#include <fmt/format.h>

namespace ohmo::wording {
namespace {

struct Words {
    std::string what, mend;
};

std::string list_of_kinds() {
    std::string out;
    for (const auto& k : all_kinds()) out += (out.empty() ? "" : ", ") + std::string(k.name);
    return out;
}

constexpr std::size_t kMostShown = 120; // bytes: what stands in a file may be megabytes long

Words words_of(const Problem& p) {
    const std::string found = shortened(p.found, kMostShown);
    const std::string& expected = p.expected;
    switch (p.kind) {
    case ProblemKind::FileUnreadable:
        return {fmt::format("cannot be read: {}", found), "check the name and the rights of the file"};
    case ProblemKind::FileUnwritable:
        return {fmt::format("cannot be written: {}", found), "the old file still stands; save elsewhere or free some room"};
    case ProblemKind::FileTooLarge:
        return {fmt::format("is {} bytes long", found), "a job is far below 64 MB; is this the right file?"};
    case ProblemKind::JsonBroken:
        return {fmt::format("is not complete JSON{}{}", found.empty() ? "" : ": ", found),
                expected == "end" ? "the file breaks off here; restore it from a copy or close the brackets"
                                  : "mend the text at this place"};
    case ProblemKind::SchemaMismatch:
        return {expected.empty() ? found : fmt::format("{} stands where {} belongs", found, expected), "see docs/job-format.md"};
    case ProblemKind::UnknownPartKind:
        return {fmt::format("“{}” is no kind of part", found), "use one of: " + list_of_kinds()};
    case ProblemKind::DuplicateRef:
        return {fmt::format("the ref {} is used twice", found), "give each part its own ref"};
    case ProblemKind::UnknownPin:
        return {fmt::format("“{}” is no pin of it, or stands twice", found), "pins here: " + expected};
    case ProblemKind::PinOnNoNet:
        return {fmt::format("{} is on no net", found), "give the net's name"};
    case ProblemKind::MissingPin:
        return {fmt::format("{} lacks its pin {}", expected, found), "add the pin with its net"};
    case ProblemKind::NetWithOnePin:
        return {fmt::format("the net {} has one pin only", found), "is a part missing, or the name mistyped?"};
    case ProblemKind::NoSuchNet:
        return {fmt::format("there is no net {}", found), "use a net that stands at some part's pins"};
    case ProblemKind::NoSuchPart:
        return {fmt::format("there is no part {}", found), "use a ref of the board"};
    case ProblemKind::NoSuchEntry:
        return {fmt::format("there is no earlier entry {}", found), "entries count from 0"};
    case ProblemKind::SameNetTwice:
        return {fmt::format("both leads are on {}", found), "a reading needs two nets"};
    case ProblemKind::UnreadableValue:
        return {fmt::format("“{}” cannot be read as a value{}", found, p.warning ? "; the part counts as one without" : ""),
                "write it as " + expected};
    case ProblemKind::UnreadableTime:
        return {fmt::format("“{}” is no time", found), "write it as " + expected};
    case ProblemKind::NegativeValue:
        return {fmt::format("{} is negative", found), "this quantity cannot be below zero"};
    case ProblemKind::OutOfRangeValue:
        return {fmt::format("{} is out of range", found), "allowed: " + expected};
    case ProblemKind::UnknownFigure:
        return {fmt::format("there is no figure “{}”", found), "ohmo practice lists them"};
    case ProblemKind::FixedFigure:
        return {fmt::format("“{}” is a safety limit", found), fmt::format("it stays at {}; take it out of the file", expected)};
    case ProblemKind::NoteTooLong:
        return {fmt::format("the text is {} bytes long", found),
                fmt::format("keep notes below {} bytes; put long papers in a file beside the job", expected)};
    case ProblemKind::UnknownWord:
        return {fmt::format("“{}” is not in the vocabulary", found),
                (p.warning ? "kept as a note; known words: " : "use one of: ") + expected};
    case ProblemKind::UnknownAction:
        return {fmt::format("“{}” is nothing a journal can do", found), "see docs/job-format.md for the list"};
    case ProblemKind::UnknownFaultMode:
        return {fmt::format("“{}” is no fault of this part", found), "possible: " + expected};
    case ProblemKind::MissingField:
        return {fmt::format("“{}” is missing", found), "add it"};
    case ProblemKind::NotAConnector:
        return {fmt::format("{} is no connector", found), "only connectors are pulled; use lift for other parts"};
    case ProblemKind::RailsNet:
        return {fmt::format("no part would be left at {} of the rail {}", found, expected),
                fmt::format("take the rail away first (rail {} gone), or wire another part there", expected)};
    case ProblemKind::SolveFailed:
        return {fmt::format("could not be computed: {}", found), "check the wiring around it"};
    case ProblemKind::Cancelled:
        return {"was cancelled", ""};
    case ProblemKind::Usage:
        return {fmt::format("“{}” is not understood", found), "use: " + expected};
    }
    return {};
}

} // namespace

std::string problem(const Problem& p) {
    const Words w = words_of(p);
    std::string text = p.place;
    if (p.line > 0 && p.place.find("line") == std::string::npos) text += (text.empty() ? "" : " ") + fmt::format("(line {})", p.line);
    text += (text.empty() ? "" : ": ") + w.what;
    if (!w.mend.empty()) text += " – " + w.mend;
    return text;
}

} // namespace ohmo::wording
