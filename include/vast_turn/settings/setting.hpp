#pragma once

/// Numbers of a plan, a robot or a day set to other values for one call: "cruise=52", "robot.look_ms=8",
/// "day.left_motor=0.93".

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/robot/variation.hpp"

namespace vast_turn {

/// A number by its name, and what it is to be.
struct Setting {
    /// Whose number it is.
    enum class Of {
        plan,  ///< a `let` by its name, or a number by its line: "line12", "line12.2" for the second on it
        robot, ///< a key of the robot file, tables with dots: "motors.left.gain", "sensor.2.spot_mm" (from 1)
        day,   ///< a quantity by its key in days files; "sensor_2" is the light of the second line sensor
    };
    Of of = Of::plan;
    std::string name;  ///< without `robot.` or `day.`
    std::string value; ///< as it was written; a number, in plans with a unit if it likes
};

/// A number as it is written, and its unit behind it: "140mm".
struct WrittenNumber {
    double value = 0.0;
    std::string unit; ///< small letters; empty for none
};

/// Reads one; nothing for any other text, and for what is not finite.
std::optional<WrittenNumber> parse_number(std::string_view text);

/// "robot.look_ms", as it is written in a call.
std::string written_name(const Setting& setting);

/// Reads "cruise=52". Throws InputError for what has no `=`, no name or no number.
Setting parse_setting(std::string_view text);

/// Which setting of the plan each text changed: as many as there are settings.
using SettingsTaken = std::vector<bool>;

/// A plan's text with those numbers that it has set to other values; all else stays as it is written. A number keeps
/// its unit when the value has none. A `let` may be missing: `taken` is made as long as `settings`, and those that were
/// there are marked. Throws InputError for a line that has no number, or several when it is not said which; the
/// compiler judges the changed text.
std::string plan_text_with(const std::string& text, const std::string& file, const std::vector<Setting>& settings,
                           SettingsTaken& taken);

/// Throws InputError for the first setting of a plan that no plan has, naming the nearest of `lets`.
void check_all_taken(const std::vector<Setting>& settings, const SettingsTaken& taken,
                     const std::vector<std::string>& lets);

/// A number of a plan that a setting names, as it is now. Throws InputError when there is none, or when it is reckoned
/// from others.
WrittenNumber plan_number(const std::string& text, const std::string& file, const Setting& setting);

/// What the comments of a plan's lets allow to move: "cruise=36..84" for `let cruise = 47 // may be 36..84`. In their
/// order.
std::vector<std::string> movable_lets(const std::string& text, const std::string& file);

/// Names of the `let`s of a text, in order.
std::vector<std::string> lets_of(const std::string& text, const std::string& file);

/// The quantity of a day with its value. Throws InputError for one that there is not, or a value that cannot be.
DayValue day_value_of(const Setting& setting);

} // namespace vast_turn
