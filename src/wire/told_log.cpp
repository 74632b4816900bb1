#include "vast_turn/wire/told_log.hpp"

#include <algorithm>
#include <iterator>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/runtime/reckoning.hpp"
#include "wire/frame_content.hpp"

namespace vast_turn {

namespace {

/// Makes looks of the frames of one program.
class ToldReader {
public:
    ToldReader(const Plan& plan, const Robot& robot, ArrayReader& reader)
        : senses_(asked_senses(plan, robot)), robot_(robot), reader_(reader) {}

    /// Bytes of a number in a frame of this length; 0 when it is none of ours.
    std::size_t number_bytes(int length) const {
        for (const std::size_t bytes : {std::size_t{4}, std::size_t{8}}) {
            if (static_cast<std::size_t>(length) == senses_bytes(senses_, bytes) + 2 * bytes) {
                return bytes;
            }
        }
        return 0;
    }

    LoggedLook look(FrameReader frame, bool is_short) {
        const std::uint32_t clock_us = frame.whole(4);
        passed_us_ += begun_ ? clock_us - last_us_ : 0; // the difference is right, too, where it began anew
        last_us_ = clock_us;
        LoggedLook out;
        Look& look = out.look;
        for (const SenseField& sense : senses_) {
            for (int k = 0; k < std::max(sense.count, 1); ++k) {
                sense.bytes == 0 ? take(look, sense.name, frame.number()) : take_whole(look, sense, k, frame);
            }
        }
        is_short ? reckon<runtime::Binary32>(look) : reckon<runtime::Binary64>(look);
        begun_ = true;
        reader_.from_counts(look);
        out.left_pct = frame.number();
        out.right_pct = frame.number();
        return out;
    }

private:
    static void take(Look& look, const std::string& sense, double value) {
        (sense == "left_deg"      ? look.left_deg
         : sense == "right_deg"   ? look.right_deg
         : sense == "gyro_deg"    ? look.heading_by_gyro_deg
         : sense == "compass_deg" ? look.heading_by_compass_deg
         : sense == "range_mm"    ? look.range_mm
                                  : look.battery_pct) = value;
    }

    static void take_whole(Look& look, const SenseField& sense, int k, FrameReader& frame) {
        const std::uint32_t value = frame.whole(sense.bytes);
        if (sense.name == "counts") {
            look.raw[k] = value;
        } else if (sense.name == "button") {
            look.button = value != 0;
        } else {
            (sense.name == "markers" ? look.markers
             : sense.name == "heard" ? look.heard
                                     : look.markers_at[k]) = static_cast<std::uint16_t>(value);
        }
    }

    /// As the program itself does.
    template <class Numbers> void reckon(Look& look) {
        look.clock_ms = clock_ms<Numbers>(passed_us_);
        for (double Look::*field : {&Look::left_deg, &Look::right_deg, &Look::heading_by_gyro_deg}) {
            double& first = first_.*field;
            first = begun_ ? first : look.*field;
            look.*field = Numbers::kept(look.*field - first);
        }
        const WheelReckoning<Numbers> wheels(robot_.wheel_mm, robot_.track_mm);
        look.way_mm = wheels.way_mm(look.left_deg, look.right_deg);
        look.heading_by_wheels_deg = wheels.heading_deg(look.left_deg, look.right_deg);
        look.heading_deg = robot_.gyro.fitted      ? look.heading_by_gyro_deg
                           : robot_.compass.fitted ? look.heading_by_compass_deg
                                                   : look.heading_by_wheels_deg;
    }

    std::vector<SenseField> senses_;
    const Robot& robot_;
    ArrayReader& reader_;
    Look first_;
    std::uint64_t passed_us_ = 0;
    std::uint32_t last_us_ = 0;
    bool begun_ = false;
};

} // namespace

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

} // namespace vast_turn
