#include "vast_turn/course/board/outside_light.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

using Kind = OutsideLight::Kind;

LightSpread::LightSpread(const OutsideLight& light)
    : kind_(light.kind), at_(light.at), height2_(light.height_mm * light.height_mm) {
    const Vec2 way = light.to - light.at;
    const double size = length(way);
    if (kind_ == Kind::window && size > 0.0) {
        way_ = (1.0 / (size * size)) * way;
    } else if (kind_ == Kind::shadow && size > 0.0) {
        constexpr double sharpest_mm = 1e-6;
        way_ = (1.0 / size) * way;
        sharp_ = 1.0 / std::max(light.soft_mm, sharpest_mm);
    }
}

const char* name_of(OutsideLight::Kind kind) {
    switch (kind) {
    case Kind::even: return "even";
    case Kind::window: return "window";
    case Kind::lamp: return "lamp";
    case Kind::shadow: return "shadow";
    }
    return "";
}

double light_at(const std::vector<OutsideLight>& lights, Vec2 p, double t_s) {
    double all = 0.0;
    for (const OutsideLight& light : lights) {
        const double part = LightSpread(light).part(p);
        if (light.kind == Kind::shadow) {
            all *= 1.0 - (1.0 - light.strength) * part;
            continue;
        }
        const double swell = light.flicker > 0.0
                                 ? 1.0 + light.flicker * std::sin(2.0 * pi * (light.flicker_hz * t_s + light.phase))
                                 : 1.0;
        all += light.strength * swell * part;
    }
    return std::max(0.0, all);
}

} // namespace vast_turn
