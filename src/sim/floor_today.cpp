#include "sim/floor_today.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "vast_turn/base/noise.hpp"

namespace vast_turn {

FloorToday::FloorToday(const Scene& scene, const CourseDay& day, std::uint64_t seed)
    : scene_(&scene), day_(day), is_of_width_(!(std::abs(day.tape_wider_mm) > 0.0)), as_laid_(is_of_width_) {
    if (day.tape_off_mm > 0.0) {
        lay_tape(seed);
    }
    if (day.tape_lifted_mm > 0.0) {
        lift_ends(seed);
    }
}

/// At each corner of a square lattice it lies off by normal numbers, and between them as a hand lays it: straight on.
void FloorToday::lay_tape(std::uint64_t seed) {
    const Course& course = scene_->course();
    across_ = static_cast<std::size_t>(std::max(course.width_mm, 0.0) / square_mm) + 2;
    const auto down = static_cast<std::size_t>(std::max(course.height_mm, 0.0) / square_mm) + 2;
    x_most_ = static_cast<double>(across_ - 1) - 1e-9;
    y_most_ = static_cast<double>(down - 1) - 1e-9;
    off_.reserve(across_ * down);
    const NormalQuantile& normal = NormalQuantile::table();
    for (std::size_t k = 0; k < across_ * down; ++k) {
        const Draw draw = random_draw(seed, Stream::tape_place, k);
        off_.push_back(day_.tape_off_mm * Vec2{normal(draw[0]), normal(draw[1])});
    }
}

void FloorToday::lift_ends(std::uint64_t seed) {
    const std::vector<TapeEnd>& ends = scene_->tape_ends();
    for (std::size_t k = 0; k < ends.size(); ++k) {
        const double part = static_cast<double>(random_draw(seed, Stream::tape_ends, k)[0]) / 65536.0;
        lifted_.push_back({ends[k], part * day_.tape_lifted_mm});
    }
}

FloorToday::View FloorToday::view(std::size_t sensor) const {
    const LineSensor& which = scene_->robot().sensors[sensor];
    const double bare = reflectance(scene_->course().floor, which.light);
    return {&scene_->seen_by(sensor), which.spot_mm, bare, reflectance(scene_->course().line, which.light) < bare};
}

void FloorToday::around(Vec2 at) {
    constexpr double moves_mm = 60.0;
    if (lifted_.empty() || (has_centre_ && length(at - centre_) < moves_mm)) {
        return;
    }
    has_centre_ = true;
    centre_ = at;
    near_.clear();
    for (const LiftedEnd& one : lifted_) {
        // The array, and what sensors that are slow saw before.
        const double reach = length(scene_->array_middle()) + scene_->array_outermost_mm() + one.lifted_mm +
                             one.end.half_width_mm + 2.0 * moves_mm;
        if (length(one.end.at - at) < reach) {
            near_.push_back(one);
        }
    }
    as_laid_ = is_of_width_ && near_.empty();
}

/// Tape that is wider by w is seen as far as w / 2 beyond its edge: the most line within that distance (dilation, or
/// erosion where it is narrower; Serra, "Image Analysis and Mathematical Morphology", 1982), by eight points about p.
double FloorToday::widened(const View& view, Vec2 p) const {
    const double r = 0.5 * std::abs(day_.tape_wider_mm);
    const bool wants_least = view.line_darker == (day_.tape_wider_mm > 0.0);
    double value = view.surface->at(p);
    const double s = std::sqrt(0.5) * r;
    for (const Vec2 step : {Vec2{r, 0.0}, Vec2{s, s}, Vec2{0.0, r}, Vec2{-s, s}, Vec2{-r, 0.0}, Vec2{-s, -s},
                            Vec2{0.0, -r}, Vec2{s, -s}}) {
        const double there = view.surface->at(p + step);
        value = wants_least ? std::min(value, there) : std::max(value, there);
    }
    return value;
}

double FloorToday::shade(const View& view, Vec2 p) const {
    double value = is_of_width_ ? view.surface->at(p) : widened(view, p);
    for (const LiftedEnd& one : near_) {
        const Vec2 from_end = p - one.end.at;
        const double along = dot(from_end, one.end.inwards);
        const double aside = std::abs(cross(from_end, one.end.inwards));
        if (along > -view.spot_mm && aside < one.end.half_width_mm + 0.5 * view.spot_mm) {
            const double part = std::clamp(0.5 + (one.lifted_mm - along) / view.spot_mm, 0.0, 1.0); // of the spot
            value += part * (view.bare - value);
        }
    }
    return value;
}

} // namespace vast_turn
