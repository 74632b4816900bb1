#pragma once

/// One run of a robot over a course, and its recording.

#include <array>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/faults.hpp"
#include "vast_turn/robot/variation.hpp"
#include "vast_turn/runtime/arithmetic.hpp"
#include "vast_turn/runtime/look.hpp"
#include "vast_turn/sense/calibration.hpp"
#include "vast_turn/sim/ending.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// Decides one look: a Mind (a plan) or any callable of your own. It is called once a look, in
/// order, from one thread.
using Decide = std::function<void(const Look&, Answer&)>;

/// Something from outside that a plan may listen to.
struct Heard {
    std::string name{};
    double at_s = 0.0; ///< since the start of the run; heard at the first look from then on
};

/// How a run is made. Every field has a sensible default.
struct RunOptions {
    std::string start{};          ///< name of a start; the course's first when empty
    std::optional<Pose> pose{};   ///< in place of a start; the run's start is then called as `start` says
    std::uint64_t seed = 1;       ///< of the noise; the same seed gives the same run
    double step_ms = 1.0;         ///< of the simulation; look_ms and delay_ms must be whole multiples
    double time_limit_s = 60.0;   ///< the run ends after this long
    double lost_after_s = 3.2;    ///< tape nowhere under the array for longer than this, once it was, ends it
    double off_course_mm = 250.0; ///< farther than this from any tape ends the run
    std::optional<Calibration> calibration{};          ///< on the course's own colours when not given
    std::vector<std::pair<double, double>> button_s{}; ///< from, until: when the start button is held
    std::vector<Heard> hears{};                        ///< what comes from outside, by name; each for one look
    /// Of the robot's variation, from 1: what differs that day is drawn from the seed and this number, and its noise is
    /// that of seed + day - 1. 0: an ideal day, on which the robot is as described.
    std::uint64_t day = 0;
    std::vector<DayValue> set{}; ///< quantities that are so in this run, in place of those of the day; the last of each
    std::uint64_t again = 0;     ///< the same once more, with other noise: that of so many seeds further
    /// False: a thing or wall that it touches stops the robot, which may slide along it, and the run goes on. Only for
    /// a robot with weight.
    bool touch_ends = true;
    /// How the plan computes: binary32 as a robot that was given its C with `float`. What senses it stays as it is.
    runtime::NumberKind numbers = runtime::NumberKind::binary64;
    bool with_things = true;          ///< false: nothing is in the way but walls
    std::vector<Thing> more_things{}; ///< in the way in this run, beside those of the course
    Faults faults{};                  ///< put into the robot; none
    bool keep_told = false;           ///< keep everything that the logic was told: Run::told
    bool keep_looks = true;           ///< record every look; a run without is a little faster
};

/// One look as it was: 72 bytes.
struct LookRecord {
    double t_s = 0.0;
    Vec2 at;
    float heading_deg = 0.0F;                     ///< does not wrap
    float way_mm = 0.0F;                          ///< net way of the point midway between the wheels
    float left_pct = 0.0F;                        ///< what the logic answered
    float right_pct = 0.0F;                       ///< likewise
    std::array<std::uint16_t, max_sensors> raw{}; ///< counts; those of the array come first
    std::uint8_t line_bits = 0;                   ///< bit k: sensor k + 1 sees line
    std::uint16_t block = 0;                      ///< that acted, by the plan's number
    RuleId rule;                                  ///< that acted, or no_rule
    std::uint16_t markers = 0;                    ///< as in Look
    float range_mm = 0.0F;                        ///< as in Look
};

/// One thing that the logic said, and when and where.
struct RunEvent {
    double t_s = 0.0;
    Vec2 at;
    Event event; ///< what it said
};

/// The robot came to a place.
struct Visit {
    std::size_t place = 0; ///< index into Course::places
    double t_s = 0.0;
};

/// The robot came against something and drove on.
struct Touch {
    double t_s = 0.0;
    Vec2 at;          ///< where it touched it
    std::string what; ///< "the can", or empty for a wall
};

/// What a run was.
struct Run {
    std::string start;
    /// Of its noise.
    std::uint64_t seed = 0;
    std::uint64_t day = 0;         ///< as in RunOptions
    Calibration calibration;       ///< that the robot read with
    std::vector<LookRecord> looks; ///< empty when they were not kept
    /// What the logic was told, look by look, for a trace that is a whole log; empty when it was not kept.
    std::vector<Look> told;
    /// Notes, lights and so on, in order; not each unanswered look.
    std::vector<RunEvent> events;
    std::vector<Visit> visits; ///< in order
    /// With RunOptions::touch_ends false: each time it came against something from which it had been away for half a
    /// second.
    std::vector<Touch> touches;
    Ending ending = Ending::time_over;
    std::string ended_because; ///< one sentence for people
    /// When it ended, since its start.
    double time_s = 0.0;
    double way_mm = 0.0;     ///< way of the point midway between the wheels, backwards counted too
    double turned_deg = 0.0; ///< net, counter-clockwise positive
    Vec2 end_at;
    double slid_s = 0.0; ///< how long a tyre was sliding; 0 without Robot::drive
    std::uint32_t looks_done = 0;
    std::uint32_t unanswered = 0; ///< looks in which no rule held

    /// Way by time; 0 for a run of no length.
    double mean_speed_mm_s() const { return time_s > 0.0 ? way_mm / time_s : 0.0; }
};

/// Runs a robot with any decision logic.
///
/// Throws InputError when the options do not fit the course or the robot (no such start, a loop
/// period that is no whole number of steps, a calibration for another number of sensors).
/// Deterministic: the same scene, logic and options give the same run, bit for bit.
Run drive(const Scene& scene, const Decide& decide, const RunOptions& options = {});

/// Runs a robot with a plan. Throws InputError also when the plan is written for another number of
/// sensors than the robot has.
Run drive(const Scene& scene, const Plan& plan, const RunOptions& options = {});

/// The options of the n-th further run: of another day when days are driven, else with another seed.
RunOptions nth_run(RunOptions options, std::uint64_t n);

/// The options with the seed and the day of a run that was made with some like them.
RunOptions options_like(RunOptions options, const Run& run);

/// Names whose numbers in a look are those of who asks: a plan's, or your own code's.
struct AskedNames {
    std::vector<std::string> markers{}; ///< the course's palette in its order when empty
    std::vector<std::string> places{};  ///< colour sensors
    std::vector<std::string> heard{};   ///< at most 16
};

/// The names that a plan asks for, by its own numbers.
AskedNames asked_names(const Plan& plan);

/// Runs a robot with any decision logic that asks for markers, colour sensors and heard names by these numbers.
/// Throws InputError as above.
Run drive(const Scene& scene, const Decide& decide, const AskedNames& names, const RunOptions& options = {});

/// Runs a robot with decision logic that stands in for a plan: a Mind that somebody watches, or two of them. Throws
/// InputError as with the plan.
Run drive(const Scene& scene, const Plan& asks_as, const Decide& decide, const RunOptions& options = {});

/// Refuses (InputError) a plan that is written for another number of line sensors than the robot has.
void check_sensor_count(const Robot& robot, const Plan& plan);

/// Refuses (InputError) also a plan that asks for what this robot cannot tell.
void check_fit(const Robot& robot, const Plan& plan);

/// The readings 0..1 that belong to a recorded look.
std::vector<double> readings_of(const Run& run, const LookRecord& look);

} // namespace vast_turn
