#include "vast_turn/formats/write/calibration_toml.hpp"

#include <iterator>

#include <fmt/format.h>

#include "formats/write/toml_text.hpp"

namespace vast_turn {

std::string calibration_toml(const CalibrationReport& report, const std::string& made_from) {
    fmt::memory_buffer out;
    const auto to = std::back_inserter(out);
    fmt::format_to(to, "# Made by vturn calibrate from {}. Counts.\n", made_from);
    for (const SensorReport& s : report.sensors) {
        fmt::format_to(to, "\n[[sensor]]\nchannel = {}\n", toml_quoted(s.channel));
        if (s.usable) {
            fmt::format_to(to, "line_counts = {:.2f}\nfloor_counts = {:.2f}\nthreshold_counts = {:.2f}{}\n",
                           s.line.mean, s.floor.mean, s.threshold_counts,
                           s.basis == ThresholdBasis::midway ? "" : "  # where mistakes are rarest, not half way");
            fmt::format_to(to, "hysteresis_counts = {:.2f}\n", s.hysteresis_counts);
        } else {
            fmt::format_to(
                to, "line_counts = {0:.2f}  # reads the same over everything: floor for ever\nfloor_counts = {0:.2f}\n",
                s.floor.mean);
        }
    }
    return fmt::to_string(out);
}

} // namespace vast_turn
