#pragma once

/// Line sensors of several robots side by side.

#include <cstdint>

#include "base/wide.hpp"
#include "many/lane_motion.hpp"
#include "sim/eyes.hpp"
#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

/// What the arrays tell at a look: each number of Look that comes from them, for all lanes.
struct LaneArrays {
    std::array<Wide<double>, max_sensors> raw;
    std::array<Wide<double>, max_sensors> sensor;
    Wide<std::int64_t> line_bits;
    Wide<double> offset;
    Wide<double> last_side;
};

/// Does for each what Eyes does for one whose counts are plain (Eyes::are_plain()), with the same bits.
class LaneEyes {
public:
    /// One more robot in a lane, or another in place of it; it has told what `eyes` have. All have as many sensors.
    void put(std::size_t lane, const Eyes& eyes);

    /// The look of each that looks, at a look of its own number. Of the others the bits, the offset and the side stay,
    /// which are remembered.
    void look(const LaneBodies& bodies, const std::array<std::uint64_t, lanes_wide>& number,
              const Wide<std::int64_t>& looks);

    /// The part of a look that the array gives, and the record's, of the last look of a lane that looked.
    void get(std::size_t lane, Look& look, LookRecord& record) const {
        for (std::size_t i = 0; i < count_; ++i) {
            look.raw[i] = told_.raw[i][lane];
            look.sensor[i] = told_.sensor[i][lane];
            record.raw[i] = static_cast<std::uint16_t>(told_.raw[i][lane]);
        }
        look.sensors = static_cast<std::uint8_t>(count_);
        look.line_bits = record.line_bits = static_cast<std::uint8_t>(told_.line_bits[lane]);
        look.offset = told_.offset[lane];
        look.last_side = told_.last_side[lane];
    }

    /// What an array remembers of its last look.
    ArrayReader::Past past(std::size_t lane) const {
        return {static_cast<std::uint8_t>(told_.line_bits[lane]), told_.offset[lane], told_.last_side[lane]};
    }

    /// One sensor of each: its channel and its scale.
    struct Sensors {
        Wide<double> ahead_mm;
        Wide<double> left_mm;
        Wide<double> always;
        Wide<double> scale;
        Wide<double> most;
        Wide<double> noise;
        Wide<double> floor_counts;
        Wide<double> per_count;
        Wide<double> on_from;
        Wide<double> off_below;
        Wide<double> weight;
    };

private:
    void see(std::size_t sensor, const LaneBodies& bodies, SpotMap::Numbers& seen) const;

    std::array<Sensors, max_sensors> sensors_{};
    std::array<std::array<const SpotMap*, lanes_wide>, max_sensors> maps_{};
    std::array<bool, max_sensors> one_map_{}; // of all lanes
    std::array<const double*, lanes_wide> sides_{};
    std::array<std::uint64_t, lanes_wide> seeds_{};
    std::array<bool, lanes_wide> noisy_{};
    bool any_noise_ = false;
    std::size_t count_ = 0;
    LaneArrays told_{};
};

} // namespace vast_turn
