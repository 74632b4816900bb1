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

/// The square of the way to an upright rectangle: never more than that to anything in it. A little less, so that
/// rounding takes nothing away.
double squared_to_box(Vec2 p, Vec2 least, Vec2 most) {
    constexpr double all_but = 1.0 - 1e-12;
    const double x = std::max(std::max(least.x - p.x, p.x - most.x), 0.0);
    const double y = std::max(std::max(least.y - p.y, p.y - most.y), 0.0);
    return all_but * (x * x + y * y);
}

} // namespace

TapeFinder::TapeFinder(const Course& course) {
    for (const Tape& tape : course.tapes) {
        const std::size_t n = tape.path.size();
        for (std::size_t i = 0; i + 1 < n; ++i) {
            segments_.push_back({tape.path[i], tape.path[i + 1], 0.5 * tape.width_mm});
        }
        if (tape.closed && n > 1) {
            segments_.push_back({tape.path[n - 1], tape.path[0], 0.5 * tape.width_mm});
        }
    }
    for (std::size_t i = 0; i < segments_.size(); ++i) {
        const Segment& one = segments_[i];
        const Vec2 least{std::min(one.a.x, one.b.x), std::min(one.a.y, one.b.y)};
        const Vec2 most{std::max(one.a.x, one.b.x), std::max(one.a.y, one.b.y)};
        if (i % in_a_box == 0) {
            boxes_.push_back({least, most, one.half_width_mm});
        }
        Box& box = boxes_.back();
        box.least = {std::min(box.least.x, least.x), std::min(box.least.y, least.y)};
        box.most = {std::max(box.most.x, most.x), std::max(box.most.y, most.y)};
        box.half_width_mm = std::max(box.half_width_mm, one.half_width_mm);
    }
    const bool alike = std::all_of(segments_.begin(), segments_.end(), [&](const Segment& one) {
        return !(std::abs(one.half_width_mm - segments_.front().half_width_mm) > 0.0);
    });
    if (alike && !segments_.empty()) {
        half_width_mm_ = segments_.front().half_width_mm;
    }
}

double TapeFinder::distance(Vec2 p) const {
    Hint unused;
    return distance(p, unused);
}

double TapeFinder::distance(Vec2 p, Hint& hint) const {
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t box = 0; box < boxes_.size(); ++box) {
        if (squared_to_box(p, boxes_[box].least, boxes_[box].most) > best) {
            continue;
        }
        for (std::size_t i = box * in_a_box; i < std::min(segments_.size(), (box + 1) * in_a_box); ++i) {
            const double squared = squared_to(p, segments_[i].a, segments_[i].b);
            if (squared < best) {
                best = squared;
                hint.segment = i;
            }
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

std::pair<std::size_t, std::size_t> TapeFinder::around(Hint hint) const {
    constexpr std::size_t segments = 3; // to both sides
    return {hint.segment > segments ? hint.segment - segments : 0,
            std::min(segments_.size(), hint.segment + segments + 1)};
}

double TapeFinder::distance_near(Vec2 p, Hint& hint) const {
    const auto [from, to] = around(hint);
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

void TapeFinder::beyond_edge(Vec2 p, std::size_t from, std::size_t to, Hint& hint, double& best) const {
    for (std::size_t i = from; i < to; ++i) {
        const double beyond = std::sqrt(squared_to(p, segments_[i].a, segments_[i].b)) - segments_[i].half_width_mm;
        if (beyond < best) {
            best = beyond;
            hint.segment = i;
        }
    }
}

double TapeFinder::beyond_edge(Vec2 p, Hint& hint) const {
    if (half_width_mm_) {
        return distance(p, hint) - *half_width_mm_;
    }
    constexpr double rounding_mm = 1e-9;
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t box = 0; box < boxes_.size(); ++box) {
        const double within = best + boxes_[box].half_width_mm + rounding_mm; // of a middle, to be nearer by its edge
        if (within > 0.0 && !(squared_to_box(p, boxes_[box].least, boxes_[box].most) > within * within)) {
            beyond_edge(p, box * in_a_box, std::min(segments_.size(), (box + 1) * in_a_box), hint, best);
        }
    }
    return best;
}

double TapeFinder::beyond_edge(Vec2 p) const {
    Hint unused;
    return beyond_edge(p, unused);
}

double TapeFinder::beyond_edge_near(Vec2 p, Hint& hint) const {
    if (half_width_mm_) {
        return distance_near(p, hint) - *half_width_mm_;
    }
    const auto [from, to] = around(hint);
    double best = std::numeric_limits<double>::infinity();
    beyond_edge(p, from, to, hint, best);
    return best;
}

} // namespace vast_turn
