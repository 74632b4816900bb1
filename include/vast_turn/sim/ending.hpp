#pragma once

/// How a run can end.

#include <cstdint>

namespace vast_turn {

/// How a run ended.
enum class Ending : std::uint8_t {
    halted,     ///< the plan said so
    off_course, ///< off the board, or too far from any tape
    lost,       ///< the tape was nowhere under the array for longer than the limit
    touched,    ///< the robot touched a thing or a wall
    time_over,  ///< the time given was over
};

/// "halt", "off course", "lost", "touch", "time over": as written in trips and printed.
const char* name_of(Ending ending);

} // namespace vast_turn
