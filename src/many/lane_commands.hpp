#pragma once

/// Powers that become commands of wheels, and commands on their way, of several robots side by side.

#include <cstdint>
#include <limits>

#include "base/wide.hpp"
#include "vast_turn/robot/faults.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// Times are steps of the simulation. A lane whose robot has a command on its way for longer than a look keeps a
/// CommandQueue, of which only the next moment stands here.
class LaneCommands {
public:
    static constexpr std::int64_t never = std::numeric_limits<std::int64_t>::max();

    /// When a robot does something.
    struct Times {
        std::int64_t delay = 0;   ///< from a look to its command; `never` for one that keeps a queue
        std::int64_t longest = 1; ///< it may go without the referee
        std::int64_t last = 0;
        std::int64_t between_looks = 1;
    };
    /// One more robot in a lane, or another in place of it: it stands, at step 0.
    void put(std::size_t lane, const Robot& robot, const Faults& faults, const Times& times);

    /// The powers that a lane was given at this look.
    void give(std::size_t lane, double left_pct, double right_pct) {
        all_.left_pct[lane] = left_pct;
        all_.right_pct[lane] = right_pct;
    }
    /// Those of all that looked and keep no queue are on their way.
    void send(const Wide<std::int64_t>& looked);
    /// What the wheels have in a lane with a queue, and when that changes.
    void queued(std::size_t lane, double left_mm_s, double right_mm_s, std::int64_t next) {
        all_.left_mm_s[lane] = left_mm_s;
        all_.right_mm_s[lane] = right_mm_s;
        all_.due[lane] = next;
    }

    /// Gives the wheels what has reached them; how many steps each goes on before something is to be done, 0 of one
    /// that has come to its look or is not on. Whether any does.
    bool aim(const Wide<std::int64_t>& on, Wide<std::int64_t>& steps);
    /// They have gone so many.
    void gone(const Wide<std::int64_t>& steps);
    /// The next looks are on their way.
    void look(const Wide<std::int64_t>& on);

    const Wide<double>& left_mm_s() const { return all_.left_mm_s; }
    const Wide<double>& right_mm_s() const { return all_.right_mm_s; }
    const Wide<std::int64_t>& step() const { return all_.step; }
    std::int64_t next_look(std::size_t lane) const { return all_.next_look[lane]; }
    bool is_at_end(std::size_t lane) const { return all_.step[lane] >= all_.last[lane]; }

    /// Motors, one for each side: as settled_speed() and wheel_targets() have it.
    struct Motors {
        Wide<double> gain;
        Wide<double> wheel;
        Wide<double> factor;
    };
    struct Numbers {
        Motors left;
        Motors right;
        Wide<double> top_mm_s;
        Wide<double> dead_band_pct;
        Wide<std::int64_t> swapped;
        Wide<std::int64_t> queued;
        Wide<std::int64_t> delay;
        Wide<std::int64_t> longest;
        Wide<std::int64_t> last;
        Wide<std::int64_t> between_looks;
        Wide<std::int64_t> step;
        Wide<std::int64_t> next_look;
        Wide<std::int64_t> due;
        Wide<double> left_pct;
        Wide<double> right_pct;
        Wide<double> due_left_mm_s;
        Wide<double> due_right_mm_s;
        Wide<double> left_mm_s;
        Wide<double> right_mm_s;
    };

private:
    Numbers all_{};
};

} // namespace vast_turn
