#include "sim/referee.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include <fmt/format.h>

namespace vast_turn {

namespace {

constexpr double leave_margin_mm = 10.0; // a place counts again after this far outside its radius

} // namespace

Referee::Referee(const RunGround& ground)
    : scene_(ground.scene), off_course_mm_(ground.options.off_course_mm), lost_after_s_(ground.options.lost_after_s),
      has_tape_(!ground.scene.course().tapes.empty()), inside_(ground.scene.course().places.size(), false),
      array_middle_(ground.scene.array_middle()),
      things_(ground.things, !ground.options.with_things, ground.day.things_later_s), outline_(ground.scene.robot()),
      touch_ends_(ground.options.touch_ends) {}

void Referee::go_on_from(const Referee& other) {
    inside_ = other.inside_;
    things_.go_on_from(other.things_);
    begun_ = other.begun_;
    hint_ = other.hint_;
    array_off_ = other.array_off_;
    array_was_on_ = other.array_was_on_;
    off_since_s_ = other.off_since_s_;
}

bool Referee::end(Ending ending, std::string because) {
    verdict_ = {ending, std::move(because)};
    return true;
}

bool Referee::must_end(const Body& body, double t_s, Run& run) {
    settled_ = {body.at, std::numeric_limits<double>::infinity()};
    places(body, t_s, run);
    return off_course(body) || touched(body, t_s);
}

void Referee::places(const Body& body, double t_s, Run& run) {
    const std::vector<CoursePlace>& list = scene_.course().places;
    for (std::size_t i = 0; i < list.size(); ++i) {
        const double distance = length(body.at - list[i].at);
        if (!inside_[i] && distance <= list[i].radius_mm) {
            inside_[i] = true;
            if (begun_) { // a place that holds the start counts only when the robot comes back to it
                run.visits.push_back({i, t_s});
            }
        } else if (inside_[i] && distance > list[i].radius_mm + leave_margin_mm) {
            inside_[i] = false;
        }
        leave_room(std::abs(distance - list[i].radius_mm - (inside_[i] ? leave_margin_mm : 0.0)));
    }
    begun_ = true;
}

bool Referee::off_course(const Body& body) {
    const Course& course = scene_.course();
    const double to_edge = std::min({body.at.x, body.at.y, course.width_mm - body.at.x, course.height_mm - body.at.y});
    if (to_edge < 0.0) {
        return end(Ending::off_course, "it drove off the board");
    }
    leave_room(to_edge);
    if (has_tape_) {
        TapeFinder::Hint near = hint_; // where the array was last: not far from here
        double distance = scene_.tape().distance_near(body.at, near);
        if (distance > 0.5 * off_course_mm_) { // too near the limit for an upper bound
            distance = scene_.tape().distance(body.at);
        }
        if (distance > off_course_mm_) {
            return end(Ending::off_course, fmt::format("it was more than {:g} mm from any tape", off_course_mm_));
        }
        leave_room(off_course_mm_ - distance);
    }
    return false;
}

/// Whether a robot of any outline meets a closed line round something, or a wall.
bool Referee::meets(const Body& body, const std::vector<Vec2>& round) {
    meetings_.clear();
    const std::size_t sides = round.size() > 2 ? round.size() : 1;
    for (std::size_t i = 0; i < sides; ++i) {
        outline_.meet(body, {round[i], round[(i + 1) % round.size()], 0}, 0.0, meetings_);
    }
    return std::any_of(meetings_.begin(), meetings_.end(), [](const Meeting& m) { return m.gap_mm <= 0.0; });
}

bool Referee::touched(const Body& body, double t_s) {
    const double radius = outline_.reach_mm();
    const std::vector<Thing>& list = things_.list();
    for (std::size_t i = 0; i < list.size(); ++i) {
        const double distance = distance_to(list[i], body.at);
        leave_room(things_.watch(i, distance, t_s));
        if (touch_ends_ && distance <= radius && things_.is_there(i, t_s) &&
            (outline_.is_disc() || !(distance > 0.0) || meets(body, corners_of(list[i])))) {
            return end(Ending::touched, fmt::format("it touched \"{}\"", list[i].name));
        }
        leave_room(distance - radius);
    }
    if (!touch_ends_) {
        return false;
    }
    for (const Wall& wall : scene_.course().walls) {
        const double distance = length(body.at - nearest_on_segment(body.at, wall.from, wall.to)) - radius;
        if (distance <= 0.0 && (outline_.is_disc() || meets(body, {wall.from, wall.to}))) {
            return end(Ending::touched, "it touched a wall");
        }
        leave_room(distance);
    }
    return false;
}

void Referee::find_array(Vec2 array, double t_s) {
    const double reach = scene_.array_outermost_mm();
    double beyond = scene_.tape().beyond_edge_near(array, hint_);
    if (beyond > reach) {
        beyond = scene_.tape().beyond_edge(array, hint_);
    }
    array_settled_ = {array, std::abs(reach - beyond)};
    const bool off = beyond > reach;
    if (off && !array_off_) {
        off_since_s_ = t_s;
    }
    array_off_ = off;
    array_was_on_ = array_was_on_ || !off;
}

bool Referee::off_too_long(double t_s) {
    return t_s - off_since_s_ > lost_after_s_ &&
           end(Ending::lost, fmt::format("the tape was nowhere under the array for {:g} s (a longer lost_after_s lets "
                                         "it search on)",
                                         lost_after_s_));
}

} // namespace vast_turn
