#include "vet/lane.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

#include "plan/check/checked.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/sim/run.hpp"
#include "vet/line_walk.hpp"
#include "vet/rehearsal.hpp"

namespace vast_turn::vetting {

namespace {

constexpr double length_mm = 3000.0;
constexpr double middle_mm = 120.0; // of the board's height
constexpr double settled_mm = 1700.0;
constexpr double lane_end_mm = 2850.0;

struct OneDrive {
    LaneDrive::End end = LaneDrive::End::unclear;
    double swing_mm = 0.0;
};

OneDrive judge(const Scene& scene, const Plan& plan, const Run& run, std::map<RuleId, int>& acted) {
    std::vector<double> asides;
    int off = 0;
    bool saw = false;
    bool errand = false;
    bool lost = false;
    bool come_through = false;
    int crossed = 0; // the middle of the line: it does follow
    double before = 0.0;
    for (const LookRecord& look : run.looks) {
        const Vec2 array = array_at(scene, look);
        if (array.x > lane_end_mm) {
            come_through = true; // the line is about to end
            break;
        }
        saw = saw || look.line_bits != 0;
        const double aside = array.y - middle_mm;
        crossed += aside * before < 0.0 ? 1 : 0;
        before = aside;
        const bool in_errand = plan.checked().blocks[look.block].is_errand;
        off = scene.tape().beyond_edge(array) > scene.array_outermost_mm() ? off + 1 : 0;
        lost = lost || (saw && off >= 3);
        if (array.x < settled_mm || lost) {
            continue;
        }
        errand = errand || in_errand;
        asides.push_back(aside);
        if (look.rule != no_rule) {
            ++acted[look.rule];
        }
    }
    constexpr std::size_t least_looks = 20;
    constexpr int least_crossings = 2;
    const bool gave_up =
        !come_through && run.ending == Ending::halted && saw && !run.looks.empty() && run.looks.back().line_bits == 0;
    if (lost || gave_up) {
        return {crossed >= least_crossings ? LaneDrive::End::lost : LaneDrive::End::unclear, 0.0};
    }
    if (asides.size() < least_looks || errand || (!come_through && run.ending == Ending::halted)) {
        return {};
    }
    // Half of what lies between all but the outermost twentieths: the peaks of a swing, and no single one of noise.
    std::sort(asides.begin(), asides.end());
    const std::size_t outermost = asides.size() / 20;
    return {LaneDrive::End::followed, 0.5 * (asides[asides.size() - 1 - outermost] - asides[outermost])};
}

} // namespace

Course straight_lane(const Course* like, double line_mm) {
    Course lane;
    lane.name = "lane";
    lane.width_mm = length_mm;
    lane.height_mm = 2.0 * middle_mm;
    if (like != nullptr) {
        lane.floor = like->floor;
        lane.line = like->line;
        lane.palette = like->palette;
    }
    Tape tape;
    tape.path = {{20.0, middle_mm}, {length_mm - 20.0, middle_mm}};
    tape.width_mm = line_mm;
    lane.tapes = {tape};
    Surface& surface = lane.surface;
    surface.columns = static_cast<int>(length_mm);
    surface.rows = static_cast<int>(2.0 * middle_mm);
    surface.beyond = lane.floor;
    surface.cells.resize(static_cast<std::size_t>(surface.columns) * static_cast<std::size_t>(surface.rows));
    const auto mixed = [&](double part) { // floor with so much of line
        const auto channel = [part](std::uint8_t floor, std::uint8_t line) {
            return static_cast<std::uint32_t>(std::lround(floor + part * (line - floor)));
        };
        return channel(lane.floor.r, lane.line.r) << 16U | channel(lane.floor.g, lane.line.g) << 8U |
               channel(lane.floor.b, lane.line.b);
    };
    std::fill(surface.cells.begin(), surface.cells.end(), mixed(0.0));
    for (int row = 0; row < surface.rows; ++row) {
        const double top = std::abs(row + 0.5 - middle_mm) - 0.5 * line_mm;
        const double part = std::clamp(0.5 - top, 0.0, 1.0); // of the row that the line covers
        std::uint32_t* const cells =
            surface.cells.data() + static_cast<std::size_t>(row) * static_cast<std::size_t>(surface.columns);
        std::fill(cells + 20, cells + surface.columns - 20, mixed(part));
    }
    return lane;
}

namespace {

/// How it is set down: to the right of the line, and turned against it, left positive. The last two are farther off.
struct SetDown {
    double aside_mm;
    double turned_deg;
};
constexpr SetDown set_downs[] = {{4.0, 1.5},  {-3.0, -1.5}, {1.0, 1.5},  {7.0, -1.5},
                                 {-6.0, 1.5}, {8.0, 3.0},   {-8.0, -3.0}};
constexpr std::size_t near_ones = 5;

constexpr double out_of_sight = std::numeric_limits<double>::infinity(); // the swing of a robot that loses the line

double middle_one(std::vector<double> list) {
    std::sort(list.begin(), list.end());
    return list[list.size() / 2];
}

} // namespace

LaneDrive drive_lane(const Course& lane, const Robot& robot, const Plan& plan,
                     const std::optional<Calibration>& calibration, runtime::NumberKind numbers) {
    const Scene scene(lane, robot);
    std::vector<double> near;
    std::vector<double> far;
    std::map<RuleId, int> acted;
    for (std::size_t i = 0; i < std::size(set_downs); ++i) {
        RunOptions options;
        options.start = "lane";
        options.pose = Pose{{160.0, middle_mm + set_downs[i].aside_mm}, set_downs[i].turned_deg};
        options.seed = 1 + i;
        options.step_ms = step_for(robot);
        options.numbers = numbers;
        options.calibration = calibration;
        options.time_limit_s = std::clamp(length_mm / (0.15 * std::max(1.0, robot.top_speed_mm_s)), 5.0, 90.0);
        if (plan.reads(runtime::Op::button)) {
            options.button_s = {{0.0, 0.4}};
        }
        const OneDrive drive = judge(scene, plan, vast_turn::drive(scene, plan, options), acted);
        if (drive.end != LaneDrive::End::unclear) {
            (i < near_ones ? near : far).push_back(drive.end == LaneDrive::End::lost ? out_of_sight : drive.swing_mm);
        }
    }
    LaneDrive out;
    if (near.empty()) {
        return out;
    }
    // What both do that were set down farther off, any robot may do that was pushed.
    const double pushed = far.size() == 2 ? std::min(far[0], far[1]) : 0.0;
    out.swing_mm = middle_one(near);
    out.when_pushed = pushed >= least_swing_mm && out.swing_mm < least_swing_mm;
    out.swing_mm = out.when_pushed ? pushed : out.swing_mm;
    out.end = out.swing_mm < out_of_sight ? LaneDrive::End::followed : LaneDrive::End::lost;
    const auto most =
        std::max_element(acted.begin(), acted.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
    out.rule = most == acted.end() ? no_rule : most->first;
    return out;
}

} // namespace vast_turn::vetting
