// SPDX-License-Identifier: GPL-3.0-or-later
// The job document: unit, board, meters, journal. An immutable value; every change makes a new one with an entry more.
#pragma once
#include "base/clock.h"
#include "base/disk.h"
#include "base/result.h"
#include "board/board.h"
#include "board/edit.h"
#include "circuit/meter.h"

#include <nlohmann/json_fwd.hpp>

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace ohmo {

struct Supply;      // design/supply.h
struct DesignedJob; // job/blueprints.h

enum class Do {
    Symptom,
    History,
    Look,
    Read,
    Discharge,
    Lift,
    Refit,
    Pull,
    Plug,
    Remove,
    Replace,
    Clean,
    Cool,
    Heat,
    Substitute,
    Verdict,
    Note,
    Photo,
    Choose,
    PowerStep,
    SignOff,
    Retract,
    Recognise, ///< gives an assumed part its printed ref, value and ratings
    Trace,     ///< steps that change the board: parts, wires, rails
    Prove,     ///< a check of new work: what a look or a beep at a lead said
    Check,     ///< before the cover comes off: socket, plug fuse, lead, adapter, another supply in its place
    Try,       ///< one switching on of a unit that comes and goes
    Meter,     ///< what is in hand from here on: which meter, and what it shows with its tips touched
    Resolder,  ///< the joints of a part made anew
};
inline constexpr int kDoes = 29;

std::string_view do_name(Do act);

/// What a journal calls the meter that is meant where none is named.
inline constexpr std::string_view kUsualMeter = "usual";

/// One line of the journal. Which fields count depends on `act`.
struct Entry {
    Do act = Do::Note;
    Seconds at = 0;
    std::string saw, part, pin, stage, what, from, to, powered, load, meter, text, mode, ref, value_text, step;
    std::vector<std::string> pins;
    std::optional<double> value, volts, amps, watts;
    std::optional<double> x, y; ///< photo: where the mark stands, in widths of the picture from its upper left corner
    bool over = false, rising = false, lifted = false;
    std::vector<BoardEdit> edits; ///< trace: in order
    int target = -1;              ///< retract: index of the entry taken back; note: of what was put back
};

struct Unit {
    std::string name, model, maker, serial, currency;
    std::optional<double> worth;
};

/// A job. Copies share the file's own JSON, so that fields this version does not know survive a save.
class Job {
public:
    Unit unit;
    bool has_board = false;
    Board board; ///< as in the file; replay applies what was traced and recognised since
    std::vector<MeterProfile> meters;
    std::vector<Entry> journal;
    std::shared_ptr<const nlohmann::ordered_json> source; ///< unit, board, meters as read; the journal's entries as read

    /// The job with one entry more. Nothing is checked here; see check_entry.
    Job with(const Entry& entry) const;
    /// The job of another unit: name, maker, model, serial, worth.
    Job with_unit(const Unit& other) const;
    /// The job with this meter as the usual one: readings that name no meter were and will be taken with it. One of the same name goes.
    Job with_meter(MeterProfile meter) const;
    /// The file's text: one part and one entry a line.
    std::string text() const;
};

struct LoadedJob {
    Job job;
    Problems warnings;
};

struct Vocabulary {
    std::vector<std::string> symptoms, history, looks;
};

inline constexpr std::size_t kLongestNote = std::size_t{64} * 1024;
inline constexpr std::uintmax_t kLargestFile = 64u << 20;

/// Reads and validates jobs; holds the schema, the vocabulary and the figures of practice shipped with the application.
class JobReader {
public:
    /// Errors: FileUnreadable, JsonBroken (shipped data damaged), those of load_practice.
    static Result<JobReader> make(const Disk& disk, const Path& data);

    /// Errors: every problem found, with place, line and what was expected.
    Result<LoadedJob> parse(const std::string& text) const;
    Result<LoadedJob> load(const Disk& disk, const Path& path) const;

    /// A fresh job on a blueprint: every part assumed. Errors: as parse.
    Result<Job> from_blueprint(const Disk& disk, const Path& blueprint) const;

    /// The same on a board that is designed. Errors: as design_supply.
    Result<DesignedJob> design(const Supply& supply) const;

    const Vocabulary& vocabulary() const { return m_vocabulary; }

private:
    std::shared_ptr<const nlohmann::json> m_schema;
    Vocabulary m_vocabulary;
    std::shared_ptr<const Practice> m_edited_practice; ///< null: the shipped figures
};

/// Whether the entry makes sense on this board (as it is after replay). Places are relative: "/part", "/value". Words are warnings.
Problems check_entry(const Board& board, const Vocabulary& vocabulary, const Entry& entry, std::size_t journal_size);

/// The job with every entry moved by the same time, so that the last one is at `last`.
Job redated(Job job, Seconds last);

/// Saves atomically. Errors: FileUnwritable.
Result<Path> save_job(const Disk& disk, const Path& path, const Job& job);

/// 1-based line of a JSON pointer in a text; the deepest existing parent's line when the pointer itself does not exist.
int line_of_pointer(const std::string& text, const std::string& pointer);

} // namespace ohmo
