// Numbers of plans, robots and days that a call sets to other values.
#include "commands/run_options.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace vturn {

using namespace vast_turn;

std::vector<Setting> SetOptions::all() const {
    std::vector<Setting> settings;
    settings.reserve(words.size());
    for (const std::string& word : words) {
        settings.push_back(parse_setting(word));
    }
    return settings;
}

std::string SetOptions::text(const std::string& path) const {
    std::string text = read_plan(path);
    if (words.empty()) {
        return text;
    }
    for (std::string& name : lets_of(text, path)) {
        lets_.push_back(std::move(name));
    }
    return plan_text_with(text, path, all(), taken_);
}

Plan SetOptions::plan(const std::string& path, std::vector<Problem>& warnings) const {
    Compiled compiled = compile_plan(text(path), path);
    if (!compiled.plan) {
        throw InputError(std::move(compiled.problems));
    }
    warnings.insert(warnings.end(), compiled.problems.begin(), compiled.problems.end());
    return *compiled.plan;
}

Robot SetOptions::robot(const std::string& text, const std::string& path) const {
    return parse_robot(text, path, all());
}

void SetOptions::into(RunOptions& options) const {
    for (const Setting& setting : all()) {
        if (setting.of == Setting::Of::day) {
            options.set.push_back(day_value_of(setting));
        }
    }
}

void SetOptions::check() const { check_all_taken(all(), taken_, lets_); }

void add_set_option(Command& command, SetOptions& options) {
    command
        .option(
            "--set", options.words,
            "another number in this call, as NAME=NUMBER; may be given again: cruise=52 (a let of the plan), line12=48 "
            "(a number at that line; line12.2 for the second), robot.look_ms=8, robot.sensor.2.spot_mm=7, "
            "day.left_motor=0.93")
        .one_value_each();
}

} // namespace vturn
