#pragma once

/// A run from look to look: what the robot is told, and what comes of its answer.

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "sim/chances.hpp"
#include "sim/command_queue.hpp"
#include "sim/drivetrain.hpp"
#include "sim/eyes.hpp"
#include "sim/referee.hpp"
#include "sim/run_ground.hpp"
#include "sim/surroundings.hpp"
#include "vast_turn/sim/motion.hpp"

namespace vast_turn {

/// Where a run stands: the robot, its sensors, what is on its way to the motors. A copy goes on from where the original
/// stands. What is recorded goes into a Run that the caller keeps, the same for every call.
///
///     while (driver.to_look(run)) {
///         decide(driver.look(), driver.answer());
///         driver.answered(run);
///     }
class Driver {
public:
    /// Before the first look. Keeps a reference to the ground.
    explicit Driver(const RunGround& ground);

    /// Notes in a run what is known before it begins.
    void begin(Run& run) const;

    /// Drives on to the next look that takes place and takes it. False: the run is over, and all of it is recorded.
    bool to_look(Run& run);

    /// What the logic is told at the look where it stands, and where its answer goes.
    Look& look() { return look_; }
    const Look& look() const { return look_; }
    Answer& answer() { return answer_; }
    const Answer& answer() const { return answer_; }

    /// The logic has answered this look.
    void answered(Run& run);

    /// The number of the look where it stands, from 1, lost ones counted.
    std::uint64_t look_number() const { return look_number_; }
    const Body& body() const { return body_; }
    double time_s() const { return seconds(step_); }
    /// The look where it stands as it is recorded.
    LookRecord record() const;
    bool is_there(std::size_t thing) const { return referee_.things().is_there(thing, time_s()); }

    /// What the motors have, and what is on its way to them.
    const Command& obeyed() const { return wheels_; }
    const CommandQueue& queue() const { return queue_; }
    double seconds(std::int64_t step) const { return static_cast<double>(step) * step_s_; }

    /// The look's counts were changed by hand: readings, bits, offset and side follow.
    void read_anew() { eyes_.read_anew(look_, record_); }

    /// Goes on from where another stands, over this ground in place of its own: on another day, or with other things in
    /// the way. At the same look of the same robot, which has seen and counted what it has. Keeps a reference.
    Driver(const RunGround& ground, const Driver& other);

    /// Roughly, of one copy.
    std::size_t memory_bytes() const;

private:
    friend class LaneGroup; // does the same for several side by side
    bool is_over(Run& run);
    bool take_look();
    std::optional<Chances> begin_look();
    void finish_look(const Chances& chances);
    void note_answer(Run& run);
    void note_events(double t_s, Run& run);
    void go_on(Run& run);
    std::int64_t next_moment();
    void finish_halted(Run& run) { finish(run, Ending::halted, "its decision logic said halt"); }
    void move(int steps, Run& run);
    void note_touches(Run& run);
    void obey();
    void finish(Run& run, Ending ending, std::string because);

    const RunGround* ground_;
    double step_s_;
    std::int64_t last_;    // step at which the time is over
    std::int64_t longest_; // steps without the referee
    Motion motion_;
    double beside_mm_ = 0.0; // what is farther away cannot be met in a move
    std::map<std::size_t, double> touched_s_;
    std::optional<Drivetrain> drivetrain_; // of a robot with weight, in place of the motion
    Referee referee_;
    std::int64_t look_steps_;
    std::int64_t delay_steps_;
    Eyes eyes_;
    Surroundings surroundings_;
    std::int64_t late_steps_;
    std::int64_t varies_steps_;
    bool by_chance_;
    std::uint64_t look_number_ = 0;
    std::int64_t step_ = 0;
    std::int64_t next_look_ = 0;
    bool at_look_ = false;     // which was answered, or is being
    std::int64_t late_by_ = 0; // steps that this look's answer takes longer
    Body body_;
    double start_heading_deg_;
    Look look_;
    LookRecord record_;
    Answer answer_;
    Command wheels_;
    CommandQueue queue_;
};

} // namespace vast_turn
