#include "vast_turn/wire/told_log.hpp"

#include <algorithm>
#include <iterator>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/robot/array.hpp"
#include "wire/text_columns.hpp"
#include "wire/told_reader.hpp"

namespace vast_turn {

bool is_told_in_frames(std::string_view bytes) {
    return !bytes.empty() && static_cast<std::uint8_t>(bytes.front()) == frames::mark;
}

std::vector<LoggedLook> parse_told(std::string_view bytes, const std::string& file, const Plan& plan,
                                   const Robot& robot, ArrayReader reader) {
    ToldReader told(plan, robot, reader);
    std::vector<LoggedLook> log;
    std::size_t number_bytes = 0;
    const auto* const all = reinterpret_cast<const std::uint8_t*>(bytes.data());
    for (std::size_t at = 0; at < bytes.size();) {
        const std::size_t whole = frames::frame_here(all + at, bytes.size() - at);
        const bool is_told = whole != 0 && all[at + 1] == frames::told;
        const std::size_t own = is_told ? told.number_bytes(all[at + 2]) : 0;
        if (own != 0 && number_bytes != 0 && own != number_bytes) {
            throw InputError(file, "looks of two programs stand in it: some in float, some in double",
                             "part it into two files");
        }
        if (own != 0) {
            number_bytes = own;
            log.push_back(told.look(FrameReader(all + at + 3, own), own == 4));
        }
        at += whole == 0 ? 1 : whole; // behind what only looked like one a whole one may begin
    }
    if (log.empty()) {
        throw InputError(file, fmt::format("there is no look of {} with {} in it", plan.file(), robot.name),
                         "name the plan and the robot that the program was exported from");
    }
    return log;
}

DriveLog told_drive_log(std::string_view bytes, const std::string& file, const Plan& plan, const Robot& robot) {
    DriveLog log;
    log.name = file;
    const std::vector<LoggedLook> looks = parse_told(bytes, file, plan, robot, array_reader(robot));
    const std::vector<SenseField> senses = asked_senses(plan, robot);
    const auto told = [&](const char* name) {
        return std::any_of(senses.begin(), senses.end(), [&](const SenseField& sense) { return sense.name == name; });
    };
    const auto take = [&](const char* name, std::vector<double>& into, auto value) {
        if (told(name)) {
            std::transform(looks.begin(), looks.end(), std::back_inserter(into), value);
        }
    };
    for (const LoggedLook& one : looks) {
        log.t_ms.push_back(one.look.clock_ms);
        log.left_pct.push_back(one.left_pct.value_or(0.0));
        log.right_pct.push_back(one.right_pct.value_or(0.0));
    }
    take("left_deg", log.left_deg, [](const LoggedLook& one) { return one.look.left_deg; });
    take("right_deg", log.right_deg, [](const LoggedLook& one) { return one.look.right_deg; });
    take("gyro_deg", log.gyro_deg, [](const LoggedLook& one) { return one.look.heading_by_gyro_deg; });
    take("compass_deg", log.compass_deg, [](const LoggedLook& one) { return one.look.heading_by_compass_deg; });
    for (std::size_t k = 0; told("counts") && k < robot.sensors.size(); ++k) {
        log.counts.emplace_back();
        take("counts", log.counts.back(), [k](const LoggedLook& one) { return one.look.raw[k]; });
    }
    return log;
}

std::string told_log_csv(const std::vector<LoggedLook>& looks, const Robot& robot, const std::optional<Plan>& plan) {
    const std::vector<TextColumn> columns =
        text_columns(plan ? TextNames{plan->markers(), plan->places(), plan->heard()} : TextNames{}, robot, false);
    const bool has_powers = std::all_of(looks.begin(), looks.end(), [](const LoggedLook& one) {
        return one.left_pct.has_value() && one.right_pct.has_value();
    });
    std::string text = names_of(columns) + (has_powers ? ",left_pct,right_pct\n" : "\n");
    for (const LoggedLook& one : looks) {
        text += row_of(columns, one.look);
        text += has_powers ? fmt::format(",{},{}\n", *one.left_pct, *one.right_pct) : "\n";
    }
    return text;
}

} // namespace vast_turn
