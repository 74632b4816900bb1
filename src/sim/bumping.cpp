/// A robot with weight that comes against things and walls.

#include <algorithm>
#include <cmath>

#include "sim/drivetrain.hpp"

namespace vast_turn {

/// Of any point of the robot, at most.
double Drivetrain::fastest() const { return std::hypot(ahead_, sideways_) + std::abs(turning_) * outline_.reach_mm(); }

/// Whether it might come against something in that time.
bool Drivetrain::is_near_something(const Body& body, double seconds) {
    if (barriers_.empty()) {
        return false;
    }
    constexpr double may_speed_up = 40.0; // mm/s in a stride
    find_meetings(body, 0.5 + (fastest() + may_speed_up) * seconds);
    return !meetings_.empty();
}

void Drivetrain::find_meetings(const Body& body, double near_mm) {
    meetings_.clear();
    for (const Barrier& barrier : barriers_) {
        outline_.meet(body, barrier, near_mm, meetings_);
    }
}

/// Where it meets something it may come no nearer than that is; what stops it also rubs.
void Drivetrain::push_bumps(const Body& body, Pushes& pushes) {
    for (std::size_t i = 0; i < meetings_.size(); ++i) {
        const Meeting& meeting = meetings_[i];
        const Vec2 place = into_robot(body.ahead, meeting.at - body.at);
        const Vec2 away = into_robot(body.ahead, meeting.away);
        const Vec2 along{-away.y, away.x};
        const auto eased = [&](Vec2 way) {
            const double lever = place.x * way.y - place.y * way.x;
            return 1.0 / mass_ + lever * lever / inertia_;
        };
        Vec2& given = pushes.bumps[i];
        const double nears = -dot(speed_at(place), away) - std::max(0.0, meeting.gap_mm) / pushes.h_s;
        const double more = std::max(0.0, given.x + nears / eased(away)) - given.x;
        given.x += more;
        push_body(place, more * away);
        const double most = rub_ * given.x;
        const double before = given.y;
        given.y = std::clamp(before - dot(speed_at(place), along) / eased(along), -most, most);
        push_body(place, (given.y - before) * along);
    }
}

void Drivetrain::note_pressed(const Pushes& pushes) {
    for (std::size_t i = 0; i < meetings_.size(); ++i) {
        const bool known = std::any_of(pressed_.begin(), pressed_.end(),
                                       [&](const Meeting& m) { return m.what == meetings_[i].what; });
        if (pushes.bumps[i].x > 0.0 && !known) {
            pressed_.push_back(meetings_[i]);
        }
    }
}

/// Rounding and turning let it into things by hundredths of a millimetre; it is set back, which gives it no speed.
void Drivetrain::come_out(Body& body) {
    find_meetings(body, 0.0);
    for (const Meeting& meeting : meetings_) {
        if (meeting.gap_mm < 0.0) {
            body.at = body.at - 0.5 * meeting.gap_mm * meeting.away;
        }
    }
}

} // namespace vast_turn
