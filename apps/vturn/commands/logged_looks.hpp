#pragma once

/// Logs of robots, as commands read them.

#include <optional>
#include <string>
#include <vector>

#include "cli.hpp"
#include "vast_turn/plan/explain/log_check.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/calibration.hpp"

namespace vturn {

/// With what the looks of a log are read.
struct LogReading {
    /// Names markers, colour sensors and what is heard. Null: the log is looked at for what has no names.
    const vast_turn::Plan* plan;
    const vast_turn::Robot* robot;                     ///< null when nothing is known of it
    std::optional<vast_turn::Calibration> calibration; ///< of raw counts; else readings or a pattern are wanted
    vast_turn::runtime::NumberKind numbers = vast_turn::runtime::NumberKind::binary64;
};

/// The looks of a log, as text or in the short form. Says how many rows came garbled. Throws InputError.
std::vector<vast_turn::LoggedLook> read_looks(const Streams& streams, const std::string& path, const LogReading& with);

} // namespace vturn
