// A robot file with some of its numbers set to other values.
#include <algorithm>
#include <charconv>
#include <cmath>
#include <sstream>

#include <fmt/format.h>

#include "formats/read/toml_parts.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/robot_file.hpp"

namespace vast_turn {

namespace {

/// Which of a list, from 1; 0 for what is no number.
std::size_t number_of(const std::string& part) {
    std::size_t number = 0;
    const auto [rest, fault] = std::from_chars(part.data(), part.data() + part.size(), number);
    return fault == std::errc{} && rest == part.data() + part.size() ? number : 0;
}

std::vector<std::string> parts_of(const std::string& name) {
    std::vector<std::string> parts;
    std::istringstream in(name);
    for (std::string part; std::getline(in, part, '.');) {
        parts.push_back(part);
    }
    return parts;
}

/// The table in which a setting's key stands, made where the file leaves it out.
toml::table& table_for(toml::table& root, const Setting& setting, const std::vector<std::string>& parts) {
    toml::node* at = &root;
    for (std::size_t i = 0; i + 1 < parts.size(); ++i) {
        if (toml::array* list = at->as_array()) {
            const std::size_t number = number_of(parts[i]);
            if (number == 0 || number > list->size()) {
                throw InputError(
                    "", fmt::format("{}: there is no number {} of {}", written_name(setting), parts[i], list->size()),
                    "the first is 1");
            }
            at = list->get(number - 1);
        } else if (toml::table* table = at->as_table()) {
            at = table->contains(parts[i]) ? table->get(parts[i])
                                           : &table->insert_or_assign(parts[i], toml::table{}).first->second;
        } else {
            break;
        }
    }
    toml::table* table = at->as_table();
    if (table == nullptr) {
        throw InputError("", fmt::format("{} stands in no table of the robot file", written_name(setting)),
                         "name its tables with dots between, a number for one of several: robot.sensor.2.spot_mm=7");
    }
    return *table;
}

} // namespace

std::optional<double> robot_number(std::string_view text, std::string_view file, const Setting& setting) {
    parse_robot(text, file); // its own faults at their places
    toml::table root = toml::parse(text, file);
    const std::vector<std::string> parts = parts_of(setting.name);
    const toml::table& table = table_for(root, setting, parts);
    const toml::node* node = table.get(parts.back());
    return node != nullptr ? node->value<double>() : std::nullopt;
}

Robot parse_robot(std::string_view text, std::string_view file, const std::vector<Setting>& settings) {
    Robot plain = parse_robot(text, file); // its own faults at their places
    if (std::none_of(settings.begin(), settings.end(), [](const Setting& s) { return s.of == Setting::Of::robot; })) {
        return plain;
    }
    toml::table root = toml::parse(text, file);
    for (const Setting& setting : settings) {
        if (setting.of != Setting::Of::robot) {
            continue;
        }
        const std::vector<std::string> parts = parts_of(setting.name);
        const auto number = parse_number(setting.value);
        const double value = number ? number->value : 0.0;
        toml::table& table = table_for(root, setting, parts);
        const bool is_whole = std::abs(value) < 1e15 && setting.value.find_first_of(".eE") == std::string::npos;
        if (is_whole) {
            table.insert_or_assign(parts.back(), static_cast<std::int64_t>(value));
        } else {
            table.insert_or_assign(parts.back(), value);
        }
    }
    std::ostringstream out;
    out << root;
    try {
        return parse_robot(out.str(), file);
    } catch (const InputError& error) { // places of the changed text mean nothing to anybody
        const Problem& problem = error.problems().front();
        throw InputError(std::string(file), fmt::format("as it was set: {}", problem.message), problem.cure);
    }
}

} // namespace vast_turn
