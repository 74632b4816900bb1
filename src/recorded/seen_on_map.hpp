#pragma once

/// What line sensors would read where a robot is guessed to be.

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <vector>

#include "vast_turn/robot/array.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// What a sensor would read on the map.
class SeenOnMap {
public:
    explicit SeenOnMap(const Scene& scene) : scene_(scene), channels_(channels_of(scene.robot(), {})) {}

    double reading(std::size_t k, Vec2 at, Vec2 ahead) const {
        const SpotMap& map = scene_.seen_by(k);
        const double light = SpotMap::value(map.locate(from_robot(at, ahead, scene_.robot().sensors[k].at_mm)));
        const SensorLevels& levels = scene_.own_calibration().sensors[k];
        const double apart = levels.line_counts - levels.floor_counts;
        const double share = std::abs(apart) > 0.0 ? (channels_[k].counts(light) - levels.floor_counts) / apart : 0.0;
        return std::clamp(share, 0.0, 1.0);
    }

private:
    const Scene& scene_;
    std::vector<Channel> channels_;
};

} // namespace vast_turn
