#pragma once

/// Robots that drive side by side, look by look, each to its own end.

#include <cstdint>
#include <memory>
#include <optional>

#include "many/lane_commands.hpp"
#include "many/lane_eyes.hpp"
#include "many/lane_motion.hpp"
#include "many/lane_senses.hpp"
#include "sim/driver.hpp"
#include "vast_turn/many/drive_many.hpp"
#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

/// Up to sixteen lanes. Each has a Driver of its own, which begins the run, ends it and does what is done for one robot
/// alone; what is done for all at once has its numbers here, and hand_over() gives them to the Driver when it is asked.
class LaneGroup {
public:
    /// Keeps references. `lanes` is 1 to lanes_wide.
    LaneGroup(const Scene& scene, const Plan& plan, const TakeRun& take, std::size_t lanes);

    /// Whether a lane is free, and whether all are.
    bool has_room() const { return driving_ < lanes_; }
    bool is_empty() const { return driving_ == 0; }

    /// Sets a robot down in a free lane. Throws InputError as drive() does.
    void add(std::size_t number, const RunOptions& options);

    /// From look to look: all drive on to their next one. Runs that end are given away, and leave their lanes.
    void round();

    /// Until when the referee need not be asked: Referee::settled() of each, squares of the room.
    struct Settled {
        Wide<double> x;
        Wide<double> y;
        Wide<double> room2;
        Wide<double> array_x;
        Wide<double> array_y;
        Wide<double> array_room2;
        Wide<double> middle_ahead;
        Wide<double> middle_left;
    };

private:
    struct Lane {
        std::size_t number = 0;
        std::unique_ptr<const RunGround> ground;
        std::optional<Driver> driver;
        std::optional<Mind> mind;
        bool told_here = false; ///< what its array remembers is in eyes_
        bool queues = false;    ///< its commands take longer than a look, or as long as chance says
        Run run;
    };
    /// What is alike for all robots, so that it is done for all at once.
    struct Plain {
        bool motion = true;
        bool eyes = true;
        bool senses = true;
        bool chances = true;
        bool commands = true;
    };

    bool is_on(std::size_t lane) const { return on_[lane] != 0; }
    void find_plain();
    void hand_over(std::size_t lane);
    void take_looks();
    void draw_chances(std::array<Chances, lanes_wide>& chances);
    void take_look(std::size_t lane, const Chances& chances);
    void decide(std::size_t lane);
    void drive_on();
    void obey_queues();
    void move();
    void watch();
    void look_at(std::size_t lane);
    void note_settled(std::size_t lane);
    void give_away(std::size_t lane);

    const Scene& scene_;
    const Plan& plan_;
    const AskedNames names_;
    const TakeRun& take_;
    const std::size_t lanes_;
    std::size_t driving_ = 0;
    std::array<Lane, lanes_wide> lane_;
    Plain plain_;
    bool changed_ = false; ///< another robot came
    Wide<std::int64_t> on_{};
    Wide<std::int64_t> looks_{};                     ///< at this look
    std::array<std::uint64_t, lanes_wide> number_{}; ///< of this look
    std::array<double, lanes_wide> step_ms_{};
    Wide<std::int64_t> steps_{}; ///< of the next move
    LaneBodies bodies_{};
    LaneCommands commands_;
    LaneEyes eyes_;
    LaneMotion motion_;
    LaneSenses senses_;
    Settled settled_{};
};

} // namespace vast_turn
