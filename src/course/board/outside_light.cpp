#include "vast_turn/course/board/outside_light.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

namespace {

double part_of(const OutsideLight& light, Vec2 p) {
    switch (light.kind) {
    case OutsideLight::Kind::even: return 1.0;
    case OutsideLight::Kind::window: {
        const Vec2 way = light.to - light.at;
        const double size = dot(way, way);
        return size > 0.0 ? std::clamp(1.0 - dot(p - light.at, way) / size, 0.0, 1.0) : 1.0;
    }
    case OutsideLight::Kind::lamp: {
        const double h2 = light.height_mm * light.height_mm;
        const double cosine2 = h2 / (h2 + dot(p - light.at, p - light.at));
        return cosine2 * std::sqrt(cosine2);
    }
    case OutsideLight::Kind::shadow: break;
    }
    return 0.0;
}

/// How deep in the shadow a point lies, 0 to 1. Left of a way on a board whose y goes down.
double depth_of(const OutsideLight& shadow, Vec2 p) {
    const Vec2 way = shadow.to - shadow.at;
    const double size = length(way);
    if (!(size > 0.0)) {
        return 0.0;
    }
    const double left = -cross(way, p - shadow.at) / size;
    if (!(shadow.soft_mm > 0.0)) {
        return left > 0.0 ? 1.0 : 0.0;
    }
    return std::clamp(0.5 + left / shadow.soft_mm, 0.0, 1.0);
}

} // namespace

const char* name_of(OutsideLight::Kind kind) {
    switch (kind) {
    case OutsideLight::Kind::even: return "even";
    case OutsideLight::Kind::window: return "window";
    case OutsideLight::Kind::lamp: return "lamp";
    case OutsideLight::Kind::shadow: return "shadow";
    }
    return "";
}

double light_at(const std::vector<OutsideLight>& lights, Vec2 p, double t_s) {
    double all = 0.0;
    for (const OutsideLight& light : lights) {
        if (light.kind == OutsideLight::Kind::shadow) {
            all *= 1.0 - (1.0 - light.strength) * depth_of(light, p);
            continue;
        }
        const double swell = light.flicker > 0.0
                                 ? 1.0 + light.flicker * std::sin(2.0 * pi * (light.flicker_hz * t_s + light.phase))
                                 : 1.0;
        all += light.strength * swell * part_of(light, p);
    }
    return std::max(0.0, all);
}

} // namespace vast_turn
