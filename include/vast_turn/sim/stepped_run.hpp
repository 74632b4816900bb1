#pragma once

/// A run that can be stopped at any look, gone back in, copied, and made to go on otherwise.

#include <cstddef>
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <utility>
#include <variant>
#include <vector>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/sim/motion.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

class Driver;
class RunGround;

/// What may be done otherwise at one look, before it is decided.
namespace instead {

/// Another plan goes on in place of the logic, from its own beginning; it must fit the robot.
struct OtherPlan {
    Plan plan;
};

/// The motors are given these powers in this one look; the logic does not learn of it.
struct OtherAnswer {
    double left_pct = 0.0; ///< -100 to 100, positive forward
    double right_pct = 0.0;
};

/// A line sensor tells this in this one look.
struct OtherReading {
    std::size_t sensor = 0; ///< of the array, from 0 at the left
    double reading = 0.0;   ///< 0 floor to 1 line; rounded to whole counts
};

/// Anything else of this one look: range, markers, button, what is heard. Not what the line sensors give.
struct OtherLook {
    std::function<void(Look&)> change;
};

/// A var of the plan has this value from here on.
struct OtherVar {
    std::size_t var = 0; ///< number in Plan::vars()
    double value = 0.0;  ///< in mm, ms, degrees; a truth is 1 or 0, a side 1 (left) or -1
};

/// From here on it is another day of the robot: RunOptions::day. Its noise is that day's too.
struct OtherDay {
    std::uint64_t day = 0;
};

/// A thing lies in the way from here on.
struct MoreThings {
    Thing thing;
};

} // namespace instead

using Instead = std::variant<instead::OtherPlan, instead::OtherAnswer, instead::OtherReading, instead::OtherLook,
                             instead::OtherVar, instead::OtherDay, instead::MoreThings>;

/// Stands at a look: the robot has looked, its logic has decided, but the motors have not been told. Looks are numbered
/// from 0 as in Run::looks. Driven on to its end it is the same run as drive() makes, bit for bit.
///
///     SteppedRun run(scene, plan);
///     run.to_time(4.2);
///     SteppedRun other = run;                             // goes on by itself
///     other.instead(instead::OtherAnswer{40.0, 40.0});
///     other.to_end();
///
/// A copy shares what both have in common and is cheap but for the looks that were recorded (72 bytes each). To go back
/// and on again, states are kept on the way: one every 512 looks, at most 128 of them (then every second is let go, and
/// from there on half as many are kept), each a few kilobytes; and what was recorded ahead of here, until something is
/// done otherwise. So going where it has been costs at most as much as driving 512 looks, or a 64th of the run.
class SteppedRun {
public:
    /// Stands at the first look. Course and robot of the scene must outlive it; all else is kept. The looks are always
    /// recorded, up to 4,000,000 of them. Throws InputError as drive() does, and when the time limit allows more looks.
    SteppedRun(const Scene& scene, const Plan& plan, const RunOptions& options = {});
    /// The same with any logic. It is copied where states are kept, so that going back takes it back too: whatever it
    /// holds by reference is not.
    SteppedRun(const Scene& scene, Decide decide, const AskedNames& names, const RunOptions& options = {});
    SteppedRun(const SteppedRun& other);
    SteppedRun(SteppedRun&& other) noexcept;
    SteppedRun& operator=(const SteppedRun& other);
    SteppedRun& operator=(SteppedRun&& other) noexcept;
    ~SteppedRun();

    /// On to the next look; false when the run is over before there is one.
    bool next();
    /// To the look of this number, forward or back; false when the run is over before it (and stands at its end).
    bool to_look(std::size_t look);
    /// To the last look at or before a time in seconds, or to the first look. False when the run ends before that time.
    bool to_time(double t_s);
    /// To its end.
    void to_end();

    /// Whether it has ended; then there is no look at which it stands, and run() is whole.
    bool is_over() const { return over_; }
    /// The number of the look at which it stands; of a run that is over one behind the last.
    std::size_t at() const { return run_.looks.size(); }
    /// Since the start.
    double time_s() const;
    /// Where the robot is, and how fast its wheels go.
    const Body& body() const;

    /// What the logic was told here and what it answered. At the end those of the last look.
    const Look& look() const;
    const Answer& answer() const;
    /// The plan before it decided this look, and after it; null when it is driven by other logic.
    const Mind* mind_before() const { return std::get_if<Mind>(&before_); }
    const Mind* mind() const { return std::get_if<Mind>(&logic_); }

    /// This look as it will be recorded; at the end the last one, where the robot stands now.
    LookRecord record() const;
    /// What was recorded before this look; all of it once the run is over.
    const Run& run() const { return run_; }
    /// Powers on their way: when they reach the motors, as speeds that the wheels settle at; first what the motors
    /// have.
    struct Underway {
        double at_s = 0.0;
        double left_mm_s = 0.0;
        double right_mm_s = 0.0;
    };
    std::vector<Underway> underway() const;
    /// All that may be in the way, and how the run is made here.
    const std::vector<Thing>& things() const;
    /// Whether one of them, by its number there, is in the way now.
    bool is_there(std::size_t thing) const;
    const RunOptions& options() const;
    /// What it is driven on, as the run has it that day.
    const Scene& scene() const;

    /// Does something otherwise at this look; it is decided anew. What was done otherwise at later looks, before this
    /// was gone back, is forgotten. Throws InputError when it does not fit, and changes nothing then; a run that is
    /// over is left as it is (asserted).
    void instead(const Instead& change);

    /// How many states are kept to go back to, and roughly how many bytes those and the recorded looks take.
    std::size_t states_kept() const { return saved_.size(); }
    std::size_t memory_bytes() const;

private:
    using Logic = std::variant<Mind, Decide>;
    /// How it is driven on from a look.
    struct Setting;
    /// A state to go back to: at a look, before anything of it was changed or decided.
    struct Saved;
    struct Recorded; ///< how much of the run there was then
    struct Applying;

    SteppedRun(const Scene& scene, Logic logic, const AskedNames& names, const RunOptions& options);
    void arrive();
    void save();
    void decide();
    void apply(const Instead& change);
    void change_ground(const RunOptions& options, const AskedNames& names);
    /// To the last state that was kept at or before a look where it has been.
    void jump(std::size_t look);
    void remember_ahead();

    Scene scene_;
    std::shared_ptr<const Setting> setting_;
    std::unique_ptr<Driver> driver_;
    Logic before_;
    Logic logic_;
    Answer said_;        ///< by the logic, before this look and at it: what was given in its place it never learns
    Answer said_before_; ///< own code may go on from it
    std::optional<instead::OtherAnswer> powers_; // in place of the logic's, at this look
    Run run_;
    Run known_; ///< the longest that was recorded with these changes; begins as run_ does
    bool over_ = false;
    std::vector<std::pair<std::size_t, Instead>> changes_; // by look, in order
    std::size_t save_every_ = 512;
    std::vector<std::shared_ptr<const Saved>> saved_; // in order
};

} // namespace vast_turn
