#include "run_options.hpp"

#include <pybind11/stl.h>

#include <functional>
#include <map>
#include <string>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/settings/setting.hpp"

namespace py = pybind11;

namespace vast_turn::python {

namespace {

using Take = std::function<void(RunOptions&, const py::handle&)>;

void take_start(RunOptions& options, const py::handle& value) {
    if (py::isinstance<py::str>(value)) {
        options.start = value.cast<std::string>();
        return;
    }
    const auto pose = value.cast<std::vector<double>>();
    if (pose.size() != 3) {
        throw py::value_error("start is a name or (x, y, heading)");
    }
    options.pose = Pose{{pose[0], pose[1]}, pose[2]};
}

void take_numbers(RunOptions& options, const py::handle& value) {
    const auto name = value.cast<std::string>();
    if (name != "double" && name != "float") {
        throw py::value_error("numbers is 'double' or 'float', not '" + name + "'");
    }
    options.numbers = name == "float" ? runtime::NumberKind::binary32 : runtime::NumberKind::binary64;
}

void take_set(RunOptions& options, const py::handle& value) {
    for (const auto& [key, number] : value.cast<std::map<std::string, double>>()) {
        options.set.push_back(day_value_of({Setting::Of::day, key, py::repr(py::float_(number)).cast<std::string>()}));
    }
}

template <class Value> Take into(Value RunOptions::*field) {
    return [field](RunOptions& options, const py::handle& value) { options.*field = value.cast<Value>(); };
}

const std::map<std::string, Take>& known_words() {
    static const std::map<std::string, Take> words{
        {"start", take_start},
        {"seed", into(&RunOptions::seed)},
        {"day", into(&RunOptions::day)},
        {"time_limit_s", into(&RunOptions::time_limit_s)},
        {"lost_after_s", into(&RunOptions::lost_after_s)},
        {"off_course_mm", into(&RunOptions::off_course_mm)},
        {"calibration",
         [](RunOptions& options, const py::handle& value) { options.calibration = value.cast<Calibration>(); }},
        {"numbers", take_numbers},
        {"with_things", into(&RunOptions::with_things)},
        {"touch_ends", into(&RunOptions::touch_ends)},
        {"set", take_set},
    };
    return words;
}

} // namespace

RunOptions options_from(const py::kwargs& words) {
    RunOptions options;
    for (const auto& [key, value] : words) {
        const auto name = key.cast<std::string>();
        const auto found = known_words().find(name);
        if (found == known_words().end()) {
            std::vector<std::string> names;
            for (const auto& known : known_words()) {
                names.push_back(known.first);
            }
            throw py::type_error("no option of a run is called '" + name + "'" + did_you_mean(name, names));
        }
        if (value.is_none()) {
            continue; // as when it is not said
        }
        try {
            found->second(options, value);
        } catch (const py::cast_error&) {
            throw py::type_error("'" + name + "' cannot be " + py::repr(value).cast<std::string>());
        }
    }
    return options;
}

} // namespace vast_turn::python
