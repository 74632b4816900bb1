#pragma once

/// Watches a run: which places it visits, and when it must end.

#include <cmath>
#include <string>
#include <vector>

#include "sim/outline.hpp"
#include "sim/run_ground.hpp"
#include "sim/things.hpp"
#include "vast_turn/sim/motion.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// Why a run must end now.
struct RunVerdict {
    Ending ending = Ending::time_over;
    std::string because;
};

/// Asked every few milliseconds. Distances change no faster than the robot moves, so each question
/// is put anew only after the robot has moved as far as the last answer leaves room for.
class Referee {
public:
    /// Keeps a reference.
    explicit Referee(const RunGround& ground);

    /// It has watched what another has, which watched the same robot.
    void go_on_from(const Referee& other);

    /// Looks at the robot at time t; appends visits to `run`. Returns whether the run must end;
    /// `verdict` then says why.
    bool look_at(const Body& body, double t_s, Run& run) {
        return (!settled_.holds(body.at) && must_end(body, t_s, run)) || (has_tape_ && lost(body, t_s));
    }
    const RunVerdict& verdict() const { return verdict_; }
    const ThingsThere& things() const { return things_; }

    /// As long as the point stays within `room` of where it was, the answer cannot have changed.
    struct Settled {
        Vec2 at;
        double room_mm = -1.0;
        bool holds(Vec2 p) const { return room_mm > 0.0 && dot(p - at, p - at) < room_mm * room_mm; }
    };

    /// As long as the robot stands within the one, and the middle of its array within the other, look_at() need not be
    /// asked: it would say no, and note nothing. The array's is without room while it is off the tape.
    const Settled& settled() const { return settled_; }
    Settled array_settled() const {
        return !has_tape_ ? Settled{{}, HUGE_VAL} : (array_off_ ? Settled{} : array_settled_);
    }
    Vec2 array_middle() const { return array_middle_; }

private:
    void leave_room(double mm) { settled_.room_mm = mm < settled_.room_mm ? mm : settled_.room_mm; }
    void places(const Body& body, double t_s, Run& run);
    bool must_end(const Body& body, double t_s, Run& run);
    bool off_course(const Body& body);
    bool touched(const Body& body, double t_s);
    bool meets(const Body& body, const std::vector<Vec2>& round);
    bool lost(const Body& body, double t_s) {
        const Vec2 array = from_robot(body.at, body.ahead, array_middle_);
        if (!array_settled_.holds(array)) {
            find_array(array, t_s);
        }
        return array_off_ && array_was_on_ && off_too_long(t_s);
    }
    void find_array(Vec2 array, double t_s);
    bool off_too_long(double t_s);
    bool end(Ending ending, std::string because);

    const Scene& scene_;
    double off_course_mm_;
    double lost_after_s_;
    bool has_tape_;
    std::vector<bool> inside_;
    Vec2 array_middle_;
    ThingsThere things_;
    Outline outline_;
    std::vector<Meeting> meetings_; // kept for its room
    bool touch_ends_;
    RunVerdict verdict_;
    bool begun_ = false;
    Settled settled_; // places, course and things
    Settled array_settled_;
    TapeFinder::Hint hint_;
    bool array_off_ = false;
    bool array_was_on_ = false; ///< what has not found the line yet cannot lose it
    double off_since_s_ = 0.0;
};

} // namespace vast_turn
