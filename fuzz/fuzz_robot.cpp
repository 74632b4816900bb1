// Any text is read as a robot file.
#include <cstdint>
#include <iterator>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/robot_file.hpp"

namespace {

constexpr std::string_view robot_words[] = {"name",
                                            "track_mm",
                                            "wheel_mm",
                                            "top_speed_mm_s",
                                            "look_ms",
                                            "delay_ms",
                                            "[motors]",
                                            "lag_ms",
                                            "dead_band_pct",
                                            "left",
                                            "right",
                                            "gain",
                                            "reversed",
                                            "command",
                                            "output",
                                            "pwm",
                                            "servo",
                                            "percent",
                                            "span",
                                            "neutral_deg",
                                            "span_deg",
                                            "[[sensor]]",
                                            "at_mm",
                                            "spot_mm",
                                            "light",
                                            "red",
                                            "green",
                                            "blue",
                                            "white",
                                            "infrared",
                                            "channel",
                                            "adc_max",
                                            "noise",
                                            "[[colour_sensor]]",
                                            "[range_sensor]",
                                            "max_mm",
                                            "heading_deg",
                                            "[gyro]",
                                            "[compass]",
                                            "[encoders]",
                                            "fitted",
                                            "[drive]",
                                            "mass_g",
                                            "gyration_mm",
                                            "grip",
                                            "keep_pct",
                                            "start_pct",
                                            "play_deg",
                                            "caster_mm",
                                            "outline_mm",
                                            "curve",
                                            "response_ms",
                                            "height_mm",
                                            "raised_mm",
                                            "line_sensor",
                                            "blind_ms",
                                            "exposure_ms",
                                            "wander_deg_s",
                                            "settling_deg_s",
                                            "settles_ms",
                                            "counts",
                                            "lost",
                                            "delay_varies_ms",
                                            "outside",
                                            "white",
                                            "rate_ms",
                                            "beam_deg",
                                            "slant_deg",
                                            "[variation]",
                                            "about",
                                            "deviation",
                                            "one_of",
                                            "left_motor",
                                            "aside_mm",
                                            "late_looks",
                                            "share",
                                            "by_ms"};

} // namespace

std::vector<std::string_view> fuzz_words() { return {std::begin(robot_words), std::end(robot_words)}; }

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    try {
        vast_turn::parse_robot({reinterpret_cast<const char*>(data), size}, "fuzz");
    } catch (const vast_turn::InputError&) {
        return 0; // refused with a reason
    }
    return 0;
}
