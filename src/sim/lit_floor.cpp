#include "sim/lit_floor.hpp"

#include <algorithm>
#include <cmath>

#include "vast_turn/base/noise.hpp"

namespace vast_turn {

LitFloor::LitFloor(const std::vector<OutsideLight>& lights, std::uint64_t seed, const std::vector<double>& before_s) {
    for (std::size_t i = 0; i < lights.size(); ++i) {
        const OutsideLight& light = lights[i];
        const double drawn = static_cast<double>(random_draw(seed, Stream::outside_light, i)[0]) / 65536.0;
        Source source{LightSpread(light), light.strength, light.kind == OutsideLight::Kind::shadow,
                      light.flicker_hz,   light.flicker,  light.phase + drawn};
        if (!source.is_shadow && light.flicker > 0.0) {
            for (const double before : before_s) {
                const double turned = 2.0 * pi * light.flicker_hz * before;
                source.back.push_back({std::cos(turned), std::sin(turned)});
            }
        }
        sources_.push_back(std::move(source));
    }
}

void LitFloor::at_time(double t_s) {
    for (Source& source : sources_) {
        if (!source.back.empty()) {
            const double turned = 2.0 * pi * (source.flicker_hz * t_s + source.phase);
            source.sine = std::sin(turned);
            source.cosine = std::cos(turned);
        }
    }
}

double LitFloor::at(std::size_t who, Vec2 p) const {
    double all = 0.0;
    for (const Source& source : sources_) {
        const double part = source.spread.part(p);
        if (source.is_shadow) {
            all *= 1.0 - (1.0 - source.strength) * part;
        } else if (source.back.empty()) {
            all += source.strength * part;
        } else {
            const Vec2 back = source.back[who];
            all += source.strength * part * (1.0 + source.flicker * (source.sine * back.x - source.cosine * back.y));
        }
    }
    return std::max(0.0, all);
}

} // namespace vast_turn
