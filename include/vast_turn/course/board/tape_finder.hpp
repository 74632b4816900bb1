#pragma once

/// How far a point is from the nearest tape.

#include <cstddef>
#include <optional>
#include <utility>
#include <vector>

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Answers about the distance to the middle of the nearest tape; gaps count as tape.
/// Immutable, so any number of threads may share one.
class TapeFinder {
public:
    /// Keeps nothing of the course.
    explicit TapeFinder(const Course& course);

    /// Distance in mm; infinite when the course has no tape. Looks at every stretch of every tape.
    double distance(Vec2 p) const;

    /// Remembers which stretch was near the last time.
    struct Hint {
        std::size_t segment = 0;
    };

    /// An upper bound of the distance that is cheap and tight while p moves along a tape: the
    /// distance to the stretches around the hint. Moves the hint along.
    double distance_near(Vec2 p, Hint& hint) const;

    /// As distance(), and sets the hint to the nearest stretch.
    double distance(Vec2 p, Hint& hint) const;

    /// How far a point is beyond the edge of the tape that is nearest by its edge; negative over it, infinite without
    /// tape.
    double beyond_edge(Vec2 p, Hint& hint) const;
    /// An upper bound of it, as distance_near() is of the distance.
    double beyond_edge_near(Vec2 p, Hint& hint) const;
    /// The same without a hint.
    double beyond_edge(Vec2 p) const;

    /// The point of the middle of the nearest tape. The course must have tape (asserted).
    Vec2 nearest(Vec2 p) const;

private:
    /// A straight piece of tape.
    struct Segment {
        Vec2 a;
        Vec2 b;
        double half_width_mm;
    };
    /// The upright rectangle round some segments that follow on one another, and the widest of them.
    struct Box {
        Vec2 least;
        Vec2 most;
        double half_width_mm;
    };
    /// The nearest edge by those, when it is nearer than `best`, which it then becomes.
    void beyond_edge(Vec2 p, std::size_t from, std::size_t to, Hint& hint, double& best) const;
    /// The numbers of the segments about a hint.
    std::pair<std::size_t, std::size_t> around(Hint hint) const;

    std::vector<Segment> segments_;
    std::vector<Box> boxes_; // of so many segments each
    static constexpr std::size_t in_a_box = 8;
    /// When all tapes are of one width, half of it: then the nearest by its middle is the nearest by its edge.
    std::optional<double> half_width_mm_;
};

} // namespace vast_turn
