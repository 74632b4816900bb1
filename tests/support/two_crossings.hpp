#pragma once

/// A course with a bend and two crossings, and a plan that counts them.

#include <string>

#include <fmt/format.h>

#include "vast_turn/formats/read/robot_file.hpp"

namespace fixtures::two_crossings {

inline const char* const cart = R"(name = "Sprig-3"
track_mm = 116
wheel_mm = 53
top_speed_mm_s = 407
look_ms = 9
[motors]
lag_ms = 38
[[sensor]]
at_mm = [61, 17]
noise = 3
[[sensor]]
at_mm = [61, 0]
noise = 3
[[sensor]]
at_mm = [61, -17]
noise = 3
)";

/// An aisle with a bend of 130 mm, then two crossings.
inline const char* const aisles = R"(name = "aisles"
size_mm = [1120, 1150]
line = { colour = "#1B1B1B", width_mm = 26 }
[[tape]]
path = "M 80,160 H 510 A 130,130 0 0 1 640,290 V 1010"
[[tape]]
path = "M 400,560 H 890"
[[tape]]
path = "M 400,830 H 890"
[[start]]
name = "door"
at_mm = [120, 160]
heading_deg = 0
[[place]]
name = "mist room"
at_mm = [400, 830]
[[place]]
name = "bench"
at_mm = [400, 560]
[[trip]]
name = "to the mist room"
from = "door"
visits = ["mist room"]
within_s = 30
)";

/// Counts by this rule and turns right at the second.
inline std::string counter(const std::string& rule, int on_mm) {
    return fmt::format(R"(plan "counter"
sensors 3
var met = 0
habit follow {{
    {}
    [...] lasting 60 looks -> halt
    [##.] mirrored         -> bend(7, 43)
    [#..] mirrored         -> bend(29, 36)
    [...]                  -> keep
    else                   -> ahead(43)
}}
errand junction {{
    ahead(40) over {}mm
    if met == 2 {{
        rotate(right, 34) over 55deg
        rotate(right, 34) till [?#?] or turned > 120deg
    }}
}}
)",
                       rule, on_mm);
}

inline const char* const by_side = "fresh [?##] -> set met = met + 1, do junction";
inline const char* const by_all = "fresh [###] -> set met = met + 1, do junction";
inline const char* const each_look = "[###] -> set met = met + 1, do junction";

/// A dark plate before the second crossing, which tells to turn there.
inline std::string with_plate() {
    return std::string(aisles) + "[palette]\nteal = \"#17656B\"\n[[marker]]\ncolour = \"teal\"\nat_mm = [640, 690]\n";
}

/// Turns right at the next crossing, so far behind the plate at least.
inline std::string by_plate(int on_mm) {
    return fmt::format(R"(plan "by plate"
sensors 3
markers teal
habit follow {{
    fresh teal             -> do turn
    [...] lasting 60 looks -> halt
    as line
}}
habit line {{
    [##.] mirrored -> bend(7, 43)
    [#..] mirrored -> bend(29, 36)
    [...]          -> keep
    else           -> ahead(43)
}}
errand turn {{
    ahead(40) over {}mm
    do line till [###]
    ahead(40) over 47mm
    rotate(right, 34) over 55deg
    rotate(right, 34) till [?#?] or turned > 120deg
}}
)",
                       on_mm);
}

inline vast_turn::Robot robot_with_nose() {
    vast_turn::Robot nosed = vast_turn::parse_robot(cart, "cart");
    nosed.colour_sensors = {{.name = "nose", .at_mm = {66.0, 0.0}}};
    return nosed;
}

inline vast_turn::Robot robot() { return vast_turn::parse_robot(cart, "cart"); }

} // namespace fixtures::two_crossings
