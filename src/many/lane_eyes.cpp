#include "many/lane_eyes.hpp"

#include <algorithm>

#include "vast_turn/base/noise.hpp"

namespace vast_turn {

static_assert(lanes_wide == SpotMap::points_at_once && lanes_wide == draws_at_once);

void LaneEyes::put(std::size_t lane, const Eyes& eyes) {
    count_ = eyes.eyes_.size();
    for (std::size_t i = 0; i < count_; ++i) {
        const Eyes::Eye& eye = eyes.eyes_[i];
        const SensorScale& scale = eyes.reader_.scales().scale(static_cast<int>(i));
        Sensors& into = sensors_[i];
        into.ahead_mm[lane] = eye.at_mm.x;
        into.left_mm[lane] = eye.at_mm.y;
        into.always[lane] = eye.channel.always;
        into.scale[lane] = eye.channel.scale;
        into.most[lane] = eye.channel.most;
        into.noise[lane] = eyes.noisy_ ? eye.channel.noise : 0.0;
        into.floor_counts[lane] = scale.floor_counts();
        into.per_count[lane] = scale.per_count();
        into.on_from[lane] = scale.on_from();
        into.off_below[lane] = scale.off_below();
        into.weight[lane] = eyes.reader_.weights()[i];
        maps_[i][lane] = eye.view.surface;
        one_map_[i] = std::all_of(maps_[i].begin(), maps_[i].end(),
                                  [&](const SpotMap* map) { return map == nullptr || map == eye.view.surface; });
    }
    sides_[lane] = eyes.reader_.sides().data();
    seeds_[lane] = eyes.seed_;
    noisy_[lane] = eyes.noisy_;
    any_noise_ = std::find(noisy_.begin(), noisy_.end(), true) != noisy_.end();
    const ArrayReader::Past past = eyes.reader_.past();
    told_.line_bits[lane] = past.bits;
    told_.offset[lane] = past.offset;
    told_.last_side[lane] = past.last_side;
}

namespace {

using Numbers = SpotMap::Numbers;
using Sensors = LaneEyes::Sensors;

/// As from_robot() of geometry.
VAST_TURN_WIDE void place_sensor(const LaneBodies& bodies, const Sensors& sensors, Numbers& x, Numbers& y) {
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        x[l] = bodies.x[l] + bodies.ahead_x[l] * sensors.ahead_mm[l] + bodies.ahead_y[l] * sensors.left_mm[l];
        y[l] = bodies.y[l] + bodies.ahead_y[l] * sensors.ahead_mm[l] - bodies.ahead_x[l] * sensors.left_mm[l];
    }
}

/// What is there in all lanes when one sensor after another is read.
struct LaneReading {
    Wide<std::int64_t> bits{};
    Wide<double> sum{};
    Wide<double> weighted{};
};

/// Light to counts, readings and bits, as Eyes, SensorScale and weighted_position() have it.
VAST_TURN_WIDE void read_sensor(const Sensors& sensors, const Numbers& light, const Wide<double>& normal,
                                std::int64_t bit, const Wide<std::int64_t>& bits_before, Wide<double>& raw,
                                Wide<double>& reading, LaneReading& all) {
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const double value = sensors.always[l] + sensors.scale[l] * light[l] + sensors.noise[l] * normal[l];
        const double above = value > 0.0 ? value : 0.0;
        const double most = sensors.most[l];
        const double within = above < most ? above : most;
        const double counts = static_cast<int>(within + 0.5);
        const double s = (counts - sensors.floor_counts[l]) * sensors.per_count[l];
        const double positive = s > 0.0 ? s : 0.0;
        const double told = positive < 1.0 ? positive : 1.0;
        const double on_from = sensors.on_from[l];
        const double off_below = sensors.off_below[l];
        const double least = (bits_before[l] & bit) != 0 ? off_below : on_from;
        const double weighted = sensors.weight[l] * told;
        raw[l] = counts;
        reading[l] = told;
        all.bits[l] |= told >= least ? bit : 0;
        all.sum[l] += told;
        all.weighted[l] += weighted;
    }
}

/// The offset of each that looks, and its bits.
VAST_TURN_WIDE void finish_arrays(const LaneReading& all, const Wide<std::int64_t>& looks, LaneArrays& told) {
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const bool is_new = looks[l] != 0 && all.bits[l] != 0 && all.sum[l] > 0.0;
        const double offset = all.weighted[l] / all.sum[l];
        told.offset[l] = is_new ? offset : told.offset[l];
        told.line_bits[l] = looks[l] != 0 ? all.bits[l] : told.line_bits[l];
    }
}

} // namespace

void LaneEyes::see(std::size_t sensor, const LaneBodies& bodies, Numbers& seen) const {
    Numbers x;
    Numbers y;
    place_sensor(bodies, sensors_[sensor], x, y);
    const auto& maps = maps_[sensor];
    if (one_map_[sensor]) {
        (*std::find_if(maps.begin(), maps.end(), [](const SpotMap* map) {
            return map != nullptr;
        }))->at_many(x, y, seen);
        return;
    }
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        seen[l] = maps[l] == nullptr ? 0.0 : maps[l]->at({x[l], y[l]});
    }
}

void LaneEyes::look(const LaneBodies& bodies, const std::array<std::uint64_t, lanes_wide>& number,
                    const Wide<std::int64_t>& looks) {
    const NormalQuantile& normal = NormalQuantile::table();
    std::array<std::array<std::uint32_t, draws_at_once>, 4> drawn{};
    if (any_noise_) {
        random_draws(seeds_, Stream::line_sensors, number, drawn);
    }
    LaneReading all;
    Wide<double> noise{};
    for (std::size_t i = 0; i < count_; ++i) {
        Numbers light;
        see(i, bodies, light);
        if (any_noise_) {
            for (std::size_t l = 0; l < lanes_wide; ++l) {
                noise[l] = static_cast<double>(normal.of_part((drawn[i / 2][l] >> (16U * (i % 2))) % 65536U / 4U));
            }
        }
        read_sensor(sensors_[i], light, noise, std::int64_t{1} << i, told_.line_bits, told_.raw[i], told_.sensor[i],
                    all);
    }
    finish_arrays(all, looks, told_);
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (looks[l] != 0) {
            const double side = sides_[l][told_.line_bits[l]];
            told_.last_side[l] = side > 0.0 || side < 0.0 ? side : told_.last_side[l];
        }
    }
}

} // namespace vast_turn
