#include "vast_turn/robot/faults.hpp"

#include <charconv>
#include <numeric>
#include <optional>
#include <utility>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

/// "a=b:c" in its parts; missing ones are empty.
struct Words {
    std::string whole;
    std::string what;
    std::string kind;
    std::string value;
};

Words parted(const std::string& text) {
    Words words{text, text, {}, {}};
    const std::size_t colon = words.what.find(':');
    if (colon != std::string::npos) {
        words.value = words.what.substr(colon + 1);
        words.what.resize(colon);
    }
    const std::size_t equals = words.what.find('=');
    if (equals != std::string::npos) {
        words.kind = words.what.substr(equals + 1);
        words.what.resize(equals);
    }
    return words;
}

[[noreturn]] void refuse(const Words& words, const std::string& why) {
    throw InputError("", fmt::format("fault `{}`: {}", words.whole, why), fmt::format("faults are {}", fault_forms));
}

std::optional<double> number(const std::string& text) {
    double value = 0.0;
    const char* end = text.data() + text.size();
    const auto [stopped, error] = std::from_chars(text.data(), end, value);
    return error == std::errc{} && stopped == end ? std::optional(value) : std::nullopt;
}

double share(const Words& words) {
    const std::optional<double> value = number(words.value);
    if (!value || !(*value >= 0.0 && *value <= 1.0)) {
        refuse(words, fmt::format("expected a number from 0 to 1 behind `{}:`, not `{}`", words.kind, words.value));
    }
    return *value;
}

void no_value(const Words& words) {
    if (!words.value.empty()) {
        refuse(words, fmt::format("`{}` takes no number", words.kind));
    }
}

/// A sensor's number from 1, as an index.
std::size_t sensor_number(const Words& words, const std::string& text, int sensors) {
    const std::optional<double> value = number(text);
    for (int k = 1; k <= sensors; ++k) {
        if (value && !(*value < k) && !(*value > k)) {
            return static_cast<std::size_t>(k - 1);
        }
    }
    refuse(words, fmt::format("the robot has sensors 1 to {}, there is no sensor `{}`", sensors, text));
}

void unknown(const Words& words, const std::vector<std::string>& known) {
    refuse(words, fmt::format("`{}` is no fault of `{}`{}", words.kind, words.what, did_you_mean(words.kind, known)));
}

void add_sensor_fault(Faults& faults, const Words& words, int sensors) {
    SensorFault& fault = faults.sensors[sensor_number(words, words.what.substr(6), sensors)];
    if (words.kind == "dead") {
        no_value(words);
        fault = {SensorFaultKind::dead, 0.0};
    } else if (words.kind == "stuck") {
        fault = {SensorFaultKind::stuck, share(words)};
    } else if (words.kind == "dim") {
        fault = {SensorFaultKind::dim, share(words)};
    } else {
        unknown(words, {"dead", "stuck", "dim"});
    }
}

void add_motor_fault(MotorFault& fault, const Words& words) {
    if (words.kind == "reversed") {
        no_value(words);
        fault.reversed = true;
    } else if (words.kind == "weak") {
        fault.strength = share(words);
    } else {
        unknown(words, {"reversed", "weak"});
    }
}

void swap_wires(Faults& faults, const Words& words, int sensors) {
    const std::size_t comma = words.value.find(',');
    if (comma == std::string::npos) {
        refuse(words, "expected the numbers of two sensors, for example swapped:1,2");
    }
    const std::size_t a = sensor_number(words, words.value.substr(0, comma), sensors);
    const std::size_t b = sensor_number(words, words.value.substr(comma + 1), sensors);
    std::swap(faults.wired_to[a], faults.wired_to[b]);
}

} // namespace

const char* const fault_forms = "sensor2=dead, sensor2=stuck:0.4 (part of its range), sensor2=dim:0.6 (part of its "
                                "light), swapped:1,2 (two sensors' wires), left_motor=reversed, right_motor=weak:0.8, "
                                "motors=swapped";

Faults parse_faults(const std::vector<std::string>& list, int sensors) {
    Faults faults;
    faults.sensors.resize(static_cast<std::size_t>(sensors));
    faults.wired_to.resize(static_cast<std::size_t>(sensors));
    std::iota(faults.wired_to.begin(), faults.wired_to.end(), 0);
    for (const std::string& text : list) {
        const Words words = parted(text);
        if (words.what.rfind("sensor", 0) == 0 && words.what.size() > 6) {
            add_sensor_fault(faults, words, sensors);
        } else if (words.what == "left_motor" || words.what == "right_motor") {
            add_motor_fault(words.what == "left_motor" ? faults.left : faults.right, words);
        } else if (words.what == "swapped" && words.kind.empty()) {
            swap_wires(faults, words, sensors);
        } else if (words.what == "motors" && words.kind == "swapped") {
            faults.motors_swapped = !faults.motors_swapped;
        } else {
            refuse(words, fmt::format(
                              "`{}` cannot be faulty{}", words.what,
                              did_you_mean(words.what, {"sensor1", "left_motor", "right_motor", "motors", "swapped"})));
        }
    }
    return faults;
}

} // namespace vast_turn
