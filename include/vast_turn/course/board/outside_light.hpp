#pragma once

/// Light that falls on a course from outside: lamps, windows, shadows, what flickers.

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <string>
#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// One source of it, or a shadow. Strengths are by LineSensor::outside: 1 where that was measured.
struct OutsideLight {
    enum class Kind : std::uint8_t {
        even,   ///< `strength` everywhere
        window, ///< `strength` at `at`, less and less towards `to`, none from there on
        lamp,   ///< above `at` at `height_mm`: strength (h^2 / (h^2 + d^2))^(3/2) at the distance d, the cosine law and
                ///< the inverse square (Lambert, "Photometria", 1760)
        shadow, ///< to the left of the line from `at` to `to` all that the sources before it give is cut to `strength`
                ///< of it
    };
    Kind kind = Kind::even;
    double strength = 1.0;
    Vec2 at{};
    Vec2 to{};
    double height_mm = 1000.0; ///< of a lamp
    double soft_mm = 0.0;      ///< of a shadow: how broad its edge is, half of it to each side
    double flicker_hz = 0.0;   ///< it swells and fades so often a second
    double flicker = 0.0;      ///< by so large a part of its strength
    double phase = 0.0;        ///< of that at the start of a run, in turns
};

/// "even", "window", "lamp", "shadow".
const char* name_of(OutsideLight::Kind kind);

/// How one of them spreads over the course, made ready for many places.
class LightSpread {
public:
    explicit LightSpread(const OutsideLight& light);

    /// Which part of its strength is there, without its flicker; of a shadow how deep in it that is. 0 to 1.
    double part(Vec2 p) const {
        const Vec2 off = p - at_;
        switch (kind_) {
        case OutsideLight::Kind::even: return 1.0;
        case OutsideLight::Kind::window: return std::clamp(1.0 - dot(off, way_), 0.0, 1.0);
        case OutsideLight::Kind::lamp: {
            const double cosine2 = height2_ / (height2_ + dot(off, off));
            return cosine2 * std::sqrt(cosine2);
        }
        case OutsideLight::Kind::shadow: break;
        }
        // Left of a way on a board whose y goes down; one from a point to itself shades nothing.
        return sharp_ > 0.0 ? std::clamp(0.5 - cross(way_, off) * sharp_, 0.0, 1.0) : 0.0;
    }

private:
    OutsideLight::Kind kind_;
    Vec2 at_;
    Vec2 way_{};           ///< of a window: over its length squared; of a shadow's edge: of length 1
    double height2_ = 0.0; ///< of a lamp, squared
    double sharp_ = 0.0;   ///< 1 / breadth of a shadow's edge
};

/// All of it at a place and a time, seconds since the start of a run; never below 0.
double light_at(const std::vector<OutsideLight>& lights, Vec2 p, double t_s);

} // namespace vast_turn
