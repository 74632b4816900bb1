#include "vast_turn/fit/telling_drive.hpp"

#include <fmt/format.h>

namespace vast_turn {

std::string telling_drive(const Robot& robot) {
    return fmt::format(
        R"(// A drive that tells the numbers of {}. Set it down on open floor, two metres each way, and keep the log:
// left_pct, right_pct and whatever it measures, in every look.
plan "a drive that tells"
sensors {}

errand go {{
    still over 3s                              // noise of the sensors, drift of the gyro
    loop 2 {{
        ahead(ramp(1, 17)) over 2500ms         // dead band, friction of turning wheels
        wheels(0 - ramp(1, 17), 0 - ramp(1, 17)) over 2500ms
    }}
    loop 8 {{                                   // lag and delay
        ahead(73) over 190ms
        wheels(-46, -46) over 310ms
        wheels(61, 22) over 170ms
        wheels(-22, -61) over 170ms
    }}
    ahead(100) over 700ms                      // top speed, the battery under load
    wheels(-100, -100) over 700ms
    still over 600ms
    loop 2 {{                                   // track, sizes of the wheels
        rotate(left, 44) over 3s
        still over 400ms
        rotate(right, 44) over 3s
        still over 400ms
    }}
    pivot(left, 52) over 1200ms
    pivot(right, 52) over 1200ms
    still over 1s
    halt
}}
)",
        robot.name, robot.sensors.size());
}

} // namespace vast_turn
