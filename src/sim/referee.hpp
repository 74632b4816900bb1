#pragma once

/// Watches a run: which places it visits, and when it must end.

#include <optional>
#include <string>
#include <vector>

#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// Why a run must end now.
struct Verdict {
    Ending ending = Ending::time_over;
    std::string because;
};

/// Asked every few milliseconds. Distances change no faster than the robot moves, so each question
/// is put anew only after the robot has moved as far as the last answer leaves room for.
class Referee {
public:
    Referee(const Scene& scene, const RunOptions& options);

    /// Looks at the robot at time t; appends visits to `run`. Returns why the run must end, if so.
    std::optional<Verdict> look_at(const Body& body, double t_s, Run& run);

private:
    /// As long as the point stays within `room` of where it was, the answer cannot have changed.
    struct Settled {
        Vec2 at;
        double room_mm = -1.0;
        bool holds(Vec2 p) const { return room_mm > 0.0 && dot(p - at, p - at) < room_mm * room_mm; }
    };

    void places(const Body& body, double t_s, Run& run);
    std::optional<Verdict> off_course(const Body& body);
    std::optional<Verdict> touched(const Body& body, double t_s);
    std::optional<Verdict> lost(const Body& body, double t_s);
    bool array_is_off(const Body& body);

    const Scene& scene_;
    double off_course_mm_;
    double lost_after_s_;
    bool has_tape_;
    bool begun_ = false;
    std::vector<bool> inside_;
    Settled places_settled_;
    Settled course_settled_;
    Settled touch_settled_;
    Settled array_settled_;
    TapeFinder::Hint hint_;
    bool array_off_ = false;
    double off_since_s_ = 0.0;
};

} // namespace vast_turn
