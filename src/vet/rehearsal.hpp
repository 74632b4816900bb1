#pragma once

/// Trial drives of a plan over a course, for what can go wrong along its lines.

#include <array>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "sim/junction_misreads.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/sense/pattern.hpp"
#include "vast_turn/sim/run.hpp"
#include "vet/line_walk.hpp"
#include "vet/way_marks.hpp"

namespace vast_turn::vetting {

/// What came of all passes of one mark one way.
struct Passes {
    int came = 0; ///< how often a robot came to it on the line
    int failed =
        0; ///< a bend, a gap: the line was lost there, or it turned away; a plate: its marker was not seen long enough
    int for_good = 0;     ///< of those, how often it did not go on behind it
    int searched = 0;     ///< a gap: it turned to search, and came over
    int astray = 0;       ///< a gap: of those that failed, how often it went on and met no line behind it, or another
    int blocked = 0;      ///< a plate that covers the line: it acted as a gap
    int looks_needed = 1; ///< a plate: looks in which its marker must be seen
    RuleId rule;          ///< a gap: the first that acted with the line out of sight, where it failed
    double fastest_mm_s = 0.0; ///< a plate: the mean speed over it, of the fastest pass
};

/// A pattern that no rule answered.
struct UnansweredLook {
    int looks = 0;
    int drives = 0;
    Vec2 first_at;
};

/// What came of the drives from one start.
struct StartDrives {
    int drives = 0;
    int unanswered = 0; ///< drives in which a look found no rule before any motion was asked for
    int stood = 0;      ///< of those, drives in which it never moved
    Pattern pattern;    ///< the first that was not answered
    std::size_t block = 0;
};

/// Where a rule that asks for nothing but the line ended drives on a plain line.
struct HaltOnLine {
    int drives = 0;
    std::uint8_t bits = 0; ///< what it saw
    Vec2 at;               ///< of the first: the middle of the array
    StretchId line;
};

/// How often a rule took a plain line for a junction, or one for two.
struct MisreadDrives {
    int drives = 0;
    JunctionMisread first;
    std::uint8_t bits = 0; ///< what it saw at the first
};

/// All that was seen.
struct Rehearsal {
    std::vector<WayMark> marks;
    std::vector<std::array<Passes, 2>> passes; ///< of each mark: along its stretch, and against it
    std::map<std::pair<std::size_t, std::uint8_t>, UnansweredLook> unanswered; ///< by block and pattern
    /// In how many drives the edge of a plate was taken for a marker, by marker of the plan and plate of the course; or
    /// the edge of a line, without a plate.
    std::map<std::pair<std::size_t, std::optional<std::size_t>>, int> misreads;
    std::vector<StartDrives> starts;         ///< as the course has them
    std::map<std::size_t, HaltOnLine> halts; ///< by the rule's number
    /// By the rule's number and what was misread.
    std::map<std::pair<std::size_t, JunctionMisread::Kind>, MisreadDrives> junctions;
    std::set<std::size_t> at_junctions; ///< rules that acted at junctions
    double fastest_mm_s = 0.0;          ///< the greatest mean speed forward of a drive within 300 ms
    int drives = 0;
    bool cut_short = false; ///< the course asks for more looks than may be spent: some places were not driven to
};

struct RehearsalOptions {
    std::optional<Calibration> calibration{};
    runtime::NumberKind numbers = runtime::NumberKind::binary64;
    int from_starts = 8;  ///< drives from each start
    int before_marks = 4; ///< drives each way at a mark that none from a start came to
    double looks = 1.2e6; ///< that all drives together may take, by their time limits; the same on every machine
};

/// Drives from every start of the scene's course with other seeds, each set down a part of a stride farther back, so
/// that looks fall elsewhere. What no such drive comes to is driven to from a place before it, in every direction in
/// which a start leads there, or in both: by a mind that has begun to follow the line elsewhere where the plan begins
/// with an errand. Nothing stands in the way but walls; the button is held for the first 0.4 s when the plan asks for
/// it. The same for any number of threads. Throws InputError as drive() does.
Rehearsal rehearse(const Scene& scene, const Plan& plan, const RehearsalOptions& options = {});

/// The longest step that the robot's times are whole multiples of, ms.
double step_for(const Robot& robot);

} // namespace vast_turn::vetting
