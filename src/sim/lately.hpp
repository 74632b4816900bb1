#pragma once

/// Where things on a robot were a moment ago.

#include <cmath>

#include "vast_turn/sim/motion.hpp"

namespace vast_turn {

/// What moves a body now, taken to have held for a while: it came along a circle.
class Lately {
public:
    Lately(const Body& body, double track_mm)
        : at_(body.at), ahead_(body.ahead), speed_(0.5 * (body.left_mm_s + body.right_mm_s)),
          turning_((body.right_mm_s - body.left_mm_s) / track_mm) {}

    /// Where what stands at `at_mm` in the robot's frame was some time before now.
    Vec2 place(Vec2 at_mm, double before_s) const {
        const double half = -0.5 * before_s * turning_;
        const auto [sine, cosine] = sine_and_cosine(half);
        const Vec2 along = turned(ahead_, sine, cosine); // of the chord
        return from_robot(at_ - (before_s * speed_) * along,
                          turned(ahead_, 2.0 * sine * cosine, cosine * cosine - sine * sine), at_mm);
    }

    /// The way of one thing, for several times.
    class Way {
    public:
        Vec2 place(double before_s) const {
            if (std::abs(before_s * lately_.turning_) > small_rad) {
                return lately_.place(at_mm_, before_s);
            }
            return now_ - before_s * (speed_ - (0.5 * before_s) * bend_);
        }

        /// Of it now, mm/s.
        double speed() const { return length(speed_); }

    private:
        friend class Lately;
        /// Up to this angle what the series leaves out is below a thousandth of the way.
        static constexpr double small_rad = 0.07;

        Way(const Lately& lately, Vec2 at_mm)
            : lately_(lately), at_mm_(at_mm), now_(from_robot(lately.at_, lately.ahead_, at_mm)),
              speed_(from_robot({}, lately.ahead_,
                                {lately.speed_ - lately.turning_ * at_mm.y, lately.turning_ * at_mm.x})),
              bend_(lately.turning_ * Vec2{speed_.y, -speed_.x}) {}

        const Lately& lately_;
        Vec2 at_mm_;
        Vec2 now_;
        Vec2 speed_;
        Vec2 bend_; ///< how its speed changes: it turns with the body
    };
    Way way_of(Vec2 at_mm) const { return {*this, at_mm}; }

private:
    Vec2 at_;
    Vec2 ahead_;
    double speed_;
    double turning_; // rad/s
};

} // namespace vast_turn
