#include "vast_turn/settings/setting.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/runtime/look.hpp"

namespace vast_turn {

namespace {

std::string_view trimmed(std::string_view text) {
    const std::size_t from = text.find_first_not_of(" \t");
    return from == std::string_view::npos ? std::string_view{}
                                          : text.substr(from, text.find_last_not_of(" \t") - from + 1);
}

} // namespace

std::optional<WrittenNumber> parse_number(std::string_view text) {
    WrittenNumber number;
    text = trimmed(text);
    const char* end = text.data() + text.size();
    const auto [rest, fault] = std::from_chars(text.data(), end, number.value);
    number.unit = trimmed({rest, static_cast<std::size_t>(end - rest)});
    const bool is_unit = number.unit.size() <= 8 && std::all_of(number.unit.begin(), number.unit.end(),
                                                                [](char c) { return c >= 'a' && c <= 'z'; });
    return fault == std::errc{} && std::isfinite(number.value) && is_unit ? std::optional(number) : std::nullopt;
}

std::string written_name(const Setting& setting) {
    switch (setting.of) {
    case Setting::Of::plan: return setting.name;
    case Setting::Of::robot: return "robot." + setting.name;
    case Setting::Of::day: return "day." + setting.name;
    }
    return "";
}

Setting parse_setting(std::string_view text) {
    const std::string cure = "write it so: cruise=52 (a let of the plan), line12=48 (a number at that line), "
                             "robot.look_ms=8, day.left_motor=0.93";
    const std::size_t equals = text.find('=');
    if (equals == std::string_view::npos) {
        throw InputError("", fmt::format("`{}` sets nothing", text), cure);
    }
    Setting setting;
    std::string_view name = trimmed(text.substr(0, equals));
    for (const auto& [begins, of] : {std::pair{std::string_view("robot."), Setting::Of::robot},
                                     std::pair{std::string_view("day."), Setting::Of::day}}) {
        if (name.starts_with(begins)) {
            setting.of = of;
            name.remove_prefix(begins.size());
        }
    }
    setting.name = name;
    setting.value = trimmed(text.substr(equals + 1));
    const auto number = parse_number(setting.value);
    if (name.empty() || !number || (setting.of != Setting::Of::plan && !number->unit.empty())) {
        throw InputError("", fmt::format("`{}` is no name and number", text), cure);
    }
    return setting;
}

DayValue day_value_of(const Setting& setting) {
    const auto number = parse_number(setting.value);
    const double value = number ? number->value : 0.0;
    std::vector<std::string> known;
    std::optional<DayValue> found;
    for (const QuantityFacts& facts : quantities()) {
        const bool each = facts.quantity == Quantity::sensor;
        for (std::size_t i = 0; i < (each ? max_sensors : 1); ++i) {
            known.push_back(each ? fmt::format("sensor_{}", i + 1) : facts.key);
            if (known.back() == setting.name) {
                found = DayValue{facts.quantity, i, value};
            }
        }
    }
    if (!found) {
        throw InputError("", fmt::format("there is no day.{}{}", setting.name, did_you_mean(setting.name, known)),
                         fmt::format("days have {}", one_of(known)));
    }
    const QuantityFacts& facts = facts_of(found->what);
    if (!number || value < facts.least || value > facts.most) {
        throw InputError("", fmt::format("day.{} cannot be {}", setting.name, setting.value),
                         fmt::format("give a number from {:g} to {:g}", facts.least, facts.most));
    }
    return *found;
}

} // namespace vast_turn
