#pragma once

/// The options that all commands share which drive a robot.

#include <string>
#include <vector>

#include <fmt/format.h>

#include "arguments.hpp"
#include "call_files.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/settings/setting.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/wire/other_mind.hpp"

namespace vturn {

/// What a robot reads with and what is wrong with it, as the command line gives it.
struct RobotOptions {
    std::string calibration;
    std::vector<std::string> faults;

    std::optional<vast_turn::Calibration> calibration_of(const vast_turn::Robot& robot) const {
        if (calibration.empty()) {
            return std::nullopt;
        }
        return vast_turn::calibration_for(robot, vast_turn::load_calibration(calibration));
    }
    vast_turn::Faults faults_of(const vast_turn::Robot& robot) const {
        return vast_turn::parse_faults(faults, static_cast<int>(robot.sensors.size()));
    }
};

inline void add_robot_options(Command& command, RobotOptions& options) {
    command.may_read(
        vast_turn::FolderKind::calibration, "--calibration", options.calibration,
        "what the sensors read with (*.calibration.toml); half way between the course's colours when not given");
    command
        .option("--fault", options.faults,
                std::string("put a fault into the robot; may be given again: ") + vast_turn::fault_forms)
        .one_value_each();
}

/// How a plan computes, by its word.
inline vast_turn::runtime::NumberKind numbers_of(const std::string& word) {
    if (word != "double" && word != "float") {
        throw vast_turn::InputError("", fmt::format("there are no numbers called `{}`", word),
                                    "write --numbers double, or --numbers float for a chip without a unit for double");
    }
    return word == "float" ? vast_turn::runtime::NumberKind::binary32 : vast_turn::runtime::NumberKind::binary64;
}

inline void add_numbers_option(Command& command, std::string& numbers) {
    command.option("--numbers", numbers, "the plan computes in `double`, or in `float` as on a small chip")
        .shows_default();
}

/// How a program did that decided in the place of a plan.
inline std::string told_pace(const std::string& call, const vast_turn::Pace& pace, double period_ms) {
    const std::string late =
        pace.late == 0 ? "none late" : fmt::format("{} came late, while it was still busy", pace.late);
    return fmt::format("  on          {}: {} looks answered, {}; the slowest took {:.3g} of {:g} ms\n", call,
                       pace.looks, late, pace.slowest_ms, period_ms);
}

inline Option add_on_option(Command& command, std::string& on) {
    return command.option(
        "--on", on,
        "a program that decides in the place of PLAN, with its arguments in one text: it is given each "
        "look and answers it (docs/on-the-robot.md). No shell takes part");
}

/// Of commands that read a course.
inline void add_drawings_option(Command& command, const Streams& streams) {
    command.flag("--drawings-anywhere", streams.files->drawings_anywhere,
                 "the course's drawing may lie outside its folder; say so only for files that you trust");
}

/// Of commands that take trips.
inline void add_trips_options(Command& command, std::string& trips, int& jobs) {
    command.reads("--trips", trips, "trips of this file (*.trips.toml) in place of the course's own");
    command.option("--jobs", jobs, "threads; 0 for as many as there are. The result is the same")
        .shows_default()
        .within(0, 256);
}

/// Of commands that take trips over all variants or layouts when none is named.
inline void add_only_variant_option(Command& command, std::string& variant) {
    command.option("--variant", variant,
                   "only over this variant of the course, by name; of a shuffled course \"layout 7\" is one");
}

inline Option add_variant_option(Command& command, std::string& variant) {
    return command.option("--variant", variant, "of the course, by name; as its file draws it when not given");
}

/// Numbers that a call sets to other values: `--set cruise=52`.
class SetOptions {
public:
    std::vector<std::string> words;

    /// The text of a plan with those that are its own, and the plan; warnings are appended.
    std::string text(const std::string& path) const;
    vast_turn::Plan plan(const std::string& path, std::vector<vast_turn::Problem>& warnings) const;
    /// A robot with those that are its own, of the text of its file.
    vast_turn::Robot robot(const std::string& text, const std::string& path) const;
    /// Those of the day, behind what is set already.
    void into(vast_turn::RunOptions& options) const;
    /// Once all plans are read: throws InputError for one that no plan has.
    void check() const;

    /// All of them.
    std::vector<vast_turn::Setting> all() const;

private:
    /// What was found of them in the plans read so far.
    mutable vast_turn::SettingsTaken taken_;
    mutable std::vector<std::string> lets_;
};

void add_set_option(Command& command, SetOptions& options);

/// The options of a run, filled in for a robot.
struct DriveOptions {
    vast_turn::RunOptions run;
    RobotOptions robot;
    std::string days_file;
    bool touches_go_on = false;
    std::string numbers = "double";
    SetOptions set;

    /// The call itself says how days differ.
    bool says_days() const { return !days_file.empty(); }

    /// With the days of a file of their own, when one is given.
    vast_turn::Robot load(const std::string& path) const { return read(vast_turn::read_file(path), path); }
    vast_turn::Robot read(const std::string& text, const std::string& path) const {
        vast_turn::Robot loaded = set.robot(text, path);
        if (!days_file.empty()) {
            loaded.variation = vast_turn::load_days(days_file);
        }
        return loaded;
    }

    vast_turn::RunOptions filled_for(const vast_turn::Robot& which) const {
        vast_turn::RunOptions filled = run;
        filled.touch_ends = !touches_go_on;
        filled.numbers = numbers_of(numbers);
        filled.calibration = robot.calibration_of(which);
        filled.faults = robot.faults_of(which);
        set.into(filled);
        return filled;
    }
};

/// Where days are driven that differ by their noise alone.
inline void warn_of_days_alike(const Streams& streams, const vast_turn::Robot& robot) {
    if (robot.variation.empty()) {
        streams.err << fmt::format("{}: warning: {} has no [variation], so its days differ by the noise of its sensors "
                                   "alone\n  to do: write one, or name a file that has one: --variation "
                                   "data/fern-house/ordinary.days.toml\n",
                                   robot.file, robot.name);
    }
}

inline void add_drive_options(Command& command, DriveOptions& options) {
    command.option("--seed", options.run.seed, "of the sensors' noise; the same seed gives the same run")
        .shows_default();
    command
        .option("--day", options.run.day,
                "drive this day of the robot, from 1; 0 is an ideal one, on which the robot is as described")
        .shows_default();
    command.may_read(
        vast_turn::FolderKind::days, "--variation", options.days_file,
        "how days differ (*.days.toml), in place of what the files of the robot and of the trips say of it");
    command.option("--step-ms", options.run.step_ms, "step of the simulation").shows_default().within(0.001, 100.0);
    command.option("--lost-s", options.run.lost_after_s, "tape nowhere under the array for longer than this ends a run")
        .shows_default()
        .within(0.001, 36000.0);
    command.flag("--touches-go-on", options.touches_go_on,
                 "what a robot with [drive] touches stops it, and it may slide along; without, a touch ends the run");
    add_numbers_option(command, options.numbers);
    add_set_option(command, options.set);
    add_robot_options(command, options.robot);
}

/// Of commands that drive one run: how it begins and how far it may go.
inline void add_one_run_options(Command& command, DriveOptions& options) {
    command.option("--start", options.run.start, "name of the start; the course's first when not given");
    command.option("--button-s", options.run.button_s, "the start button is held: from, until; may be given again");
    command.option("--limit-s", options.run.time_limit_s, "the run ends after this long")
        .shows_default()
        .within(0.001, 36000.0);
    command.option("--off-course-mm", options.run.off_course_mm, "farther than this from any tape ends the run")
        .shows_default()
        .within(1.0, 100000.0);
}

} // namespace vturn
