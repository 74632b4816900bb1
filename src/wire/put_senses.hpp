#pragma once

/// What the sensors tell in a look, as frames hold it.

#include <algorithm>
#include <cmath>
#include <string>
#include <utility>
#include <vector>

#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/runtime/look.hpp"
#include "wire/frame_content.hpp"

namespace vast_turn {

inline double sense_number(const Look& look, const std::string& sense) {
    const std::pair<const char*, double> all[] = {{"left_deg", look.left_deg},
                                                  {"right_deg", look.right_deg},
                                                  {"gyro_deg", look.heading_by_gyro_deg},
                                                  {"compass_deg", look.heading_by_compass_deg},
                                                  {"range_mm", look.range_mm},
                                                  {"battery_pct", look.battery_pct}};
    for (const auto& [name, value] : all) {
        if (sense == name) {
            return value;
        }
    }
    return 0.0;
}

inline std::uint64_t sense_whole(const Look& look, const std::string& sense, std::size_t i) {
    return sense == "counts"       ? static_cast<std::uint64_t>(std::llround(look.raw[i]))
           : sense == "markers_at" ? look.markers_at[i]
           : sense == "markers"    ? look.markers
           : sense == "heard"      ? look.heard
                                   : (look.button ? 1U : 0U);
}

/// The clock and all senses that a program asks for, in their order.
inline void put_senses(FrameContent& content, const std::vector<SenseField>& senses, const Look& look) {
    content.whole(static_cast<std::uint64_t>(std::llround(1000.0 * look.clock_ms)) & 0xFFFFFFFFU, 4);
    for (const SenseField& sense : senses) {
        for (int k = 0; k < std::max(sense.count, 1); ++k) {
            sense.bytes == 0 ? content.number(sense_number(look, sense.name))
                             : content.whole(sense_whole(look, sense.name, static_cast<std::size_t>(k)), sense.bytes);
        }
    }
}

} // namespace vast_turn
