#pragma once

/// Which things are in the way now.

#include <algorithm>
#include <limits>
#include <optional>
#include <vector>

#include "sim/outline.hpp"
#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Distance from a point to a box, mm; 0 within.
double distance_to(const Thing& thing, Vec2 p);

/// Some things appear or go when the robot comes near, so which are there hangs on the way it came.
class ThingsThere {
public:
    /// Keeps a reference to the list. With `none` nothing is ever there; times of the
    /// file are so much later.
    ThingsThere(const std::vector<Thing>& things, bool none, double later_s)
        : things_(&things), none_(none), later_s_(later_s), came_(things.size()) {}

    /// All that may be there.
    const std::vector<Thing>& list() const { return *things_; }

    /// The robot has been where it was among those of another list, which this one has too and begins with.
    void go_on_from(const ThingsThere& other) { std::copy(other.came_.begin(), other.came_.end(), came_.begin()); }

    /// Notes how near the robot is to a thing. Returns by how much its distance may change before this must be asked
    /// again; infinite when nothing hangs on it any more.
    double watch(std::size_t thing, double distance_mm, double t_s);

    bool is_there(std::size_t thing, double t_s) const;

private:
    /// When the robot first came so near that the thing appears or goes.
    struct Came {
        std::optional<double> to_appear_s;
        std::optional<double> to_go_s;
    };

    const std::vector<Thing>* things_;
    bool none_;
    double later_s_;
    std::vector<Came> came_;
};

/// The sides of things that are there, and walls, nearer than that to a point. Walls count on behind the things.
std::vector<Barrier> near_by(const Course& course, const ThingsThere& things, Vec2 p, double near_mm, double t_s);

} // namespace vast_turn
