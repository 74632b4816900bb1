#include "decide.hpp"

#include <algorithm>
#include <cmath>

#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

namespace bench {

using namespace vast_turn;

void HandWritten::operator()(const Look& in, Answer& out) {
    out.events = 0;
    out.events_lost = 0;
    out.halted = halted_;
    out.left_pct = out.right_pct = 0.0;
    if (halted_) {
        return;
    }
    ++look_;
    all_ = in.line_bits == 0b11111 ? all_ + 1 : 0;
    none_ = in.line_bits == 0 ? none_ + 1 : 0;
    if (all_ >= 6) {
        out.rule = RuleId(0);
        out.add(EventKind::note, 0);
        out.halted = halted_ = true;
        return;
    }
    if (none_ >= 4) {
        out.rule = RuleId(1);
        left_ = in.last_side > 0.0 ? -35.0 : 35.0;
        right_ = -left_;
    } else {
        out.rule = RuleId(2);
        const double error = in.offset;
        const double seconds = (in.clock_ms - called_ms_) / 1000.0;
        const bool goes_on = called_ != 0 && called_ + 1 == look_ && seconds > 0.0;
        double steer = 41.0 * error;
        if (goes_on) {
            integral_ += error * seconds;
        }
        if (called_ != 0) {
            const double part = std::clamp(6.0 * integral_, -100.0, 100.0);
            integral_ = part / 6.0;
            steer += part;
        }
        if (goes_on) {
            steer += 2.2 * ((error - error_) / seconds);
        }
        error_ = error;
        called_ms_ = in.clock_ms;
        called_ = look_;
        left_ = std::clamp(56.0 - steer, -100.0, 100.0);
        right_ = std::clamp(56.0 + steer, -100.0, 100.0);
    }
    out.left_pct = left_;
    out.right_pct = right_;
}

std::vector<Look> aisle_looks(const Plan& plan) {
    const Course course = load_course("data/fern-house/aisle.course.toml");
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    const Scene scene(course, robot);
    std::vector<Look> looks;
    Mind mind(plan);
    drive(scene, [&](const Look& in, Answer& out) {
        looks.push_back(in);
        mind(in, out);
    });
    return looks;
}

bool same_answers(const Plan& plan, const std::vector<Look>& looks) {
    Mind mind(plan);
    HandWritten by_hand;
    Answer a;
    Answer b;
    return std::all_of(looks.begin(), looks.end(), [&](const Look& in) {
        mind(in, a);
        by_hand(in, b);
        return std::abs(a.left_pct - b.left_pct) < 1e-9 && std::abs(a.right_pct - b.right_pct) < 1e-9 &&
               a.halted == b.halted;
    });
}

} // namespace bench
