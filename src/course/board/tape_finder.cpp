#include "vast_turn/course/board/tape_finder.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>

namespace vast_turn {

namespace {

double squared_to(Vec2 p, Vec2 a, Vec2 b) {
    const Vec2 d = p - nearest_on_segment(p, a, b);
    return dot(d, d);
}

} // namespace

TapeFinder::TapeFinder(const Course& course) {
    for (const Tape& tape : course.tapes) {
        const std::size_t n = tape.path.size();
        for (std::size_t i = 0; i + 1 < n; ++i) {
            segments_.push_back({tape.path[i], tape.path[i + 1]});
        }
        if (tape.closed && n > 1) {
            segments_.push_back({tape.path[n - 1], tape.path[0]});
        }
    }
}

double TapeFinder::distance(Vec2 p) const {
    Hint unused;
    return distance(p, unused);
}

double TapeFinder::distance(Vec2 p, Hint& hint) const {
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < segments_.size(); ++i) {
        const double squared = squared_to(p, segments_[i].a, segments_[i].b);
        if (squared < best) {
            best = squared;
            hint.segment = i;
        }
    }
    return std::sqrt(best);
}

Vec2 TapeFinder::nearest(Vec2 p) const {
    assert(!segments_.empty());
    Hint hint;
    distance(p, hint);
    return nearest_on_segment(p, segments_[hint.segment].a, segments_[hint.segment].b);
}

double TapeFinder::distance_near(Vec2 p, Hint& hint) const {
    constexpr std::size_t around = 3;
    const std::size_t from = hint.segment > around ? hint.segment - around : 0;
    const std::size_t to = std::min(segments_.size(), hint.segment + around + 1);
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t i = from; i < to; ++i) {
        const double squared = squared_to(p, segments_[i].a, segments_[i].b);
        if (squared < best) {
            best = squared;
            hint.segment = i;
        }
    }
    return std::sqrt(best);
}

} // namespace vast_turn
