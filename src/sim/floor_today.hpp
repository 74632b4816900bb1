#pragma once

/// The floor as line sensors see it on a day: tape that has faded, lies otherwise, is wider, has lifted ends.

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <vector>

#include "vast_turn/robot/day.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// The floor of one run. The painted surface stays as it is; where it is looked at, and what is made of it, differs.
class FloorToday {
public:
    /// Keeps a reference to what is large of the scene.
    FloorToday(const Scene& scene, const CourseDay& day, std::uint64_t seed);

    /// Whether it is as the course's file says.
    bool is_as_drawn() const { return is_of_width_ && off_.empty() && lifted_.empty() && !(day_.line_faded > 0.0); }

    /// Roughly, beyond its own size.
    std::size_t memory_bytes() const {
        return off_.capacity() * sizeof(Vec2) + (lifted_.capacity() + near_.capacity()) * sizeof(LiftedEnd);
    }

    /// One sensor's view of it.
    struct View {
        const SpotMap* surface = nullptr;
        double spot_mm = 0.0;
        double bare = 0.0;       ///< what it sees of the floor without tape
        bool line_darker = true; ///< than the floor
    };
    View view(std::size_t sensor) const;

    /// To be called when the robot has moved: what is far from it is left out until it comes nearer.
    void around(Vec2 at);

    /// How far the tape about a place lies off where it should.
    Vec2 off(Vec2 p) const { return off_.empty() ? Vec2{} : off_at(p); }

    /// What comes back of a light of 1 from the floor under a spot there, but for off() and faded().
    double shade(const View& view, Vec2 p) const;

    /// Whether near the robot shade() is what the surface shows.
    bool is_as_laid() const { return as_laid_; }

    /// What is left of a shade, or a mean of such, when all that lies on the floor has faded.
    double faded(const View& view, double shade) const { return shade + day_.line_faded * (view.bare - shade); }

private:
    struct LiftedEnd {
        TapeEnd end;
        double lifted_mm;
    };
    void lay_tape(std::uint64_t seed);
    void lift_ends(std::uint64_t seed);
    Vec2 off_at(Vec2 p) const {
        const double x = std::clamp(p.x * (1.0 / square_mm), 0.0, x_most_);
        const double y = std::clamp(p.y * (1.0 / square_mm), 0.0, y_most_);
        const int i = static_cast<int>(x);
        const int j = static_cast<int>(y);
        const double fx = x - i;
        const double fy = y - j;
        const Vec2* corner = off_.data() + static_cast<std::size_t>(j) * across_ + static_cast<std::size_t>(i);
        const Vec2 top = corner[0] + fx * (corner[1] - corner[0]);
        const Vec2 bottom = corner[across_] + fx * (corner[across_ + 1] - corner[across_]);
        return top + fy * (bottom - top);
    }
    double widened(const View& view, Vec2 p) const;

    const Scene* scene_;
    CourseDay day_;
    bool is_of_width_;
    bool as_laid_; // of its width, and no lifted end is near
    /// How far tape lies off its place, at the corners of squares.
    static constexpr double square_mm = 250.0;
    std::size_t across_ = 0;
    double x_most_ = 0.0; // in squares, of a place between corners
    double y_most_ = 0.0;
    std::vector<Vec2> off_;
    std::vector<LiftedEnd> lifted_;
    std::vector<LiftedEnd> near_;
    Vec2 centre_;
    bool has_centre_ = false;
};

} // namespace vast_turn
