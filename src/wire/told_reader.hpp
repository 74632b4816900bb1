#pragma once

/// Looks that an exported program tells in frames, one after another.

#include <algorithm>
#include <string>
#include <vector>

#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/plan/explain/log_check.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/runtime/reckoning.hpp"
#include "vast_turn/sense/array_reader.hpp"
#include "wire/frame_content.hpp"

namespace vast_turn {

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
        first_us_ = begun_ ? first_us_ : clock_us;
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

    /// What its clock told at the first look, from which looks count.
    double first_ms() const { return first_us_ / 1000.0; }

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
    std::uint32_t first_us_ = 0;
    bool begun_ = false;
};

} // namespace vast_turn
