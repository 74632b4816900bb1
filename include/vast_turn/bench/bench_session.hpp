#pragma once

/// What one learns of a robot on the bench, look by look: readings, what its plan would do, and a calibration that
/// grows.

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/bench/card_walk.hpp"
#include "vast_turn/bench/robot_line.hpp"
#include "vast_turn/plan/explain/asker.hpp"
#include "vast_turn/sense/array_reader.hpp"
#include "vast_turn/sense/calibrate.hpp"

namespace vast_turn {

/// What the session is made of.
struct BenchParts {
    Robot robot;
    std::optional<Plan> plan{};               ///< what it would do is asked of this
    std::optional<Calibration> calibration{}; ///< until one has grown; none
    runtime::NumberKind numbers = runtime::NumberKind::binary64;
};

/// Looks go in; what is there to be seen comes out.
class BenchSession {
public:
    /// Throws InputError when plan and robot do not belong together.
    explicit BenchSession(const BenchParts& parts);

    /// A look as RobotEar has it; `has_counts` as RobotEar::tells_counts(). Readings are made with the calibration in
    /// hand, and the plan is asked.
    void take(const LoggedLook& told, bool has_counts);

    /// What lies under the array from now on: a name as BenchLook::under has it; empty for nothing that should be
    /// remembered. After so many looks nothing is remembered any more, so that a hand which goes on does not mix
    /// surfaces; 0: until something else is said.
    void lies_over(const std::string& under, int looks = 0) {
        under_ = under;
        left_ = looks;
    }
    const std::string& under() const { return under_; }
    /// Forgets what was recorded over it.
    void forget(const std::string& under);

    /// All that was recorded, and how many looks over something.
    const BenchReadings& readings() const { return readings_; }
    int looks_over(const std::string& under) const;

    /// The report of what was recorded so far; nothing until there are ten looks over line and over floor.
    std::optional<CalibrationReport> report() const;
    /// Reads with the report from now on, if every sensor is usable; whether that was so. The plan begins anew.
    bool use_report();
    const std::optional<Calibration>& calibration() const { return calibration_; }

    /// The plan begins anew with the next look.
    void begin_plan();

    /// The last look, with readings; nothing before the first.
    const std::optional<LoggedLook>& last() const { return last_; }
    /// Whether its readings mean something: there is a calibration, or it told them itself.
    bool can_read() const { return can_read_; }
    /// For how long no sensor has seen line, by the robot's clock; 0 while one does and while it cannot read.
    double blind_ms() const { return blind_since_ms_ ? last_->look.clock_ms - *blind_since_ms_ : 0.0; }
    /// What the plan makes of it, when there is a plan and it can read.
    const std::optional<Reply>& reply() const { return reply_; }
    /// Looks in which the robot told other powers than the plan decides, of those that can be compared: from the
    /// robot's first look on, as long as none is missing.
    std::uint64_t differing() const { return differing_; }
    std::uint64_t compared() const { return compared_; }

    /// The plan goes on with this value of one of its vars, also when it begins anew. A name that it has not is passed
    /// over.
    void set_var(const std::string& name, double value);

    /// The card check; walked by who holds the card.
    CardWalk& card_walk() { return walk_; }
    const CardWalk& card_walk() const { return walk_; }
    void begin_card_walk() { walk_ = CardWalk(robot_); }

    /// What it was made of.
    const Robot& robot() const { return robot_; }
    const std::optional<Plan>& plan() const { return plan_; }

private:
    void give_var(const std::string& name, double value);
    void note_gap(double now_ms);

    Robot robot_;
    std::optional<Plan> plan_;
    std::optional<Calibration> calibration_;
    runtime::NumberKind numbers_;
    std::optional<ArrayReader> reader_;
    std::optional<Asker> asker_;
    BenchReadings readings_;
    std::map<std::string, int> counted_; // of the looks in it, by what lay under
    std::string under_;
    int left_ = 0; // looks until nothing is remembered; 0: no end
    std::optional<LoggedLook> last_;
    std::optional<Reply> reply_;
    bool can_read_ = false;
    std::optional<double> blind_since_ms_; ///< by the robot's clock; none while a sensor sees line
    std::map<std::string, double> vars_;
    bool from_first_ = false; // every look since the robot's first was seen
    std::uint64_t differing_ = 0;
    std::uint64_t compared_ = 0;
    CardWalk walk_;
};

} // namespace vast_turn
