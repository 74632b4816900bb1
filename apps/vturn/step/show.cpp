#include "step/show.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "print/print.hpp"
#include "print/print_ask.hpp"
#include "vast_turn/plan/explain/asker.hpp"
#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/plan/explain/plan_state.hpp"
#include "vast_turn/sim/motion.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

/// Floor, line or a plate by the first letter of its colour.
char mark_of(const Course& course, Vec2 p) {
    const double columns = course.surface.columns;
    const double rows = course.surface.rows;
    const Vec2 cell = (1.0 / course.surface.cell_mm) * p;
    if (!(cell.x >= 0.0 && cell.y >= 0.0 && cell.x < columns && cell.y < rows)) {
        return '~';
    }
    const Rgb rgb = course.surface.at(static_cast<int>(cell.x), static_cast<int>(cell.y));
    const auto apart = [&rgb](const Rgb& other) {
        const auto square = [](int a, int b) { return (a - b) * (a - b); };
        return square(rgb.r, other.r) + square(rgb.g, other.g) + square(rgb.b, other.b);
    };
    char mark = ' ';
    int least = apart(course.floor);
    const auto take = [&](const Rgb& colour, char as) {
        if (apart(colour) < least) {
            least = apart(colour);
            mark = as;
        }
    };
    take(course.line, '#');
    for (const auto& [name, colour] : course.palette) {
        take(colour, name.empty() ? '?' : name.front());
    }
    return mark;
}

bool is_within(const Thing& thing, Vec2 p) {
    const Vec2 off = seen_from(thing, p);
    return std::abs(off.x) <= 0.5 * thing.size_mm.x && std::abs(off.y) <= 0.5 * thing.size_mm.y;
}

std::string ended_words(const Run& run, const Course& course) {
    std::string route;
    for (const Visit& visit : run.visits) {
        route += (route.empty() ? "" : " -> ") + course.places[visit.place].name;
    }
    return fmt::format("{} at {:.2f} s, {:.0f},{:.0f} mm after {:.0f} mm: {}{}", name_of(run.ending), run.time_s,
                       run.end_at.x, run.end_at.y, run.way_mm, run.ended_because, route.empty() ? "" : "; by " + route);
}

} // namespace

double map_scale(const Scene& scene, int columns) {
    constexpr double least_mm = 300.0;
    const double robot_mm = length(scene.array_middle()) + scene.array_outermost_mm() + scene.robot().track_mm;
    return std::max(least_mm, 2.2 * robot_mm) / columns;
}

std::vector<std::string> map_around(const Scene& scene, const SteppedRun& run, int columns, int rows, double mm) {
    const Course& course = scene.course();
    const Body& body = run.body();
    const Vec2 middle = body.at + 0.5 * (from_robot(body.at, body.ahead, scene.array_middle()) - body.at);
    const Vec2 corner = middle - Vec2{0.5 * columns * mm, static_cast<double>(rows) * mm};
    std::vector<std::string> map(static_cast<std::size_t>(rows), std::string(static_cast<std::size_t>(columns), ' '));
    for (int j = 0; j < rows; ++j) {
        for (int i = 0; i < columns; ++i) {
            const Vec2 p = corner + Vec2{(i + 0.5) * mm, (j + 0.5) * 2.0 * mm};
            char mark = mark_of(course, p);
            for (std::size_t k = 0; k < run.things().size(); ++k) {
                mark = is_within(run.things()[k], p) && run.is_there(k) ? 'X' : mark;
            }
            map[static_cast<std::size_t>(j)][static_cast<std::size_t>(i)] = mark;
        }
    }
    const auto put = [&](Vec2 p, char mark, char on_line) {
        const double i = std::floor((p.x - corner.x) / mm);
        const double j = std::floor((p.y - corner.y) / (2.0 * mm));
        if (i >= 0.0 && j >= 0.0 && i < columns && j < rows) {
            char& cell = map[static_cast<std::size_t>(j)][static_cast<std::size_t>(i)];
            cell = cell == '#' || cell == on_line ? on_line : mark;
        }
    };
    for (const LookRecord& look : run.run().looks) {
        put(look.at, '.', ':');
    }
    const double half = 0.5 * scene.robot().track_mm;
    put(body.at, '+', '+');
    put(from_robot(body.at, body.ahead, {0.0, half}), 'O', 'O');
    put(from_robot(body.at, body.ahead, {0.0, -half}), 'O', 'O');
    const std::vector<LineSensor>& sensors = scene.robot().sensors;
    for (std::size_t k = 0; k < sensors.size(); ++k) {
        const char digit = static_cast<char>('1' + k);
        put(from_robot(body.at, body.ahead, sensors[k].at_mm), digit, digit);
    }
    return map;
}

std::vector<std::string> reading_bars(const SteppedRun& run, int width) {
    std::vector<std::string> lines;
    const Look& look = run.look();
    for (int i = 0; i < look.sensors; ++i) {
        const int full = std::clamp(static_cast<int>(std::lround(look.sensor[i] * width)), 0, width);
        const bool is_line = ((look.line_bits >> i) & 1) != 0;
        std::string bar =
            std::string(static_cast<std::size_t>(full), '=') + std::string(static_cast<std::size_t>(width - full), ' ');
        const double threshold = run.run().calibration.sensors[static_cast<std::size_t>(i)].threshold;
        bar[static_cast<std::size_t>(std::clamp(static_cast<int>(threshold * width), 0, width - 1))] = '|';
        lines.push_back(fmt::format("{} [{}] {:.2f} {} {:g} counts", i + 1, bar, look.sensor[i],
                                    is_line ? "line, " : "floor,", look.raw[i]));
    }
    return lines;
}

std::vector<std::vector<std::string>> memory_rows(const SteppedRun& run) {
    std::vector<std::vector<std::string>> rows;
    if (const Mind* mind = run.mind()) {
        const PlanState state = state_of(*mind, run.look());
        for (const BlockState& block : state.blocks) {
            std::string words = block.block;
            for (const auto& [name, value] : block.arguments) {
                words += fmt::format(", {} {}", name, value);
            }
            words += fmt::format(": {:.4g} ms, {:.4g} mm, {:+.3g} deg", block.ms, block.way_mm, block.turned_deg + 0.0);
            if (!(block.item == no_rule)) {
                words += "; at " + describe_rule(mind->plan(), block.item);
            }
            rows.push_back({"clocks", words + (block.progress.empty() ? "" : ", " + block.progress)});
        }
        for (const auto& [name, value] : state.vars) {
            rows.push_back({"var", fmt::format("{} {}", name, value)});
        }
        for (const PidState& pid : state.pids) {
            rows.push_back({"pid", fmt::format("line {}: {} gave {:.4g} for {:.4g}, integral {:.4g}", pid.line,
                                               pid.text, pid.value, pid.error, pid.sum)});
        }
    }
    bool has = true;
    for (const SteppedRun::Underway& one : run.underway()) {
        rows.push_back({has ? "motors" : "pending", fmt::format("{:.0f}, {:.0f} mm/s{}", one.left_mm_s, one.right_mm_s,
                                                                has ? "" : fmt::format(" at {:.3f} s", one.at_s))});
        has = false;
    }
    return rows;
}

void print_step(const Streams& streams, const Scene& scene, const SteppedRun& run, const std::string& where) {
    constexpr int columns = 72;
    constexpr int rows = 20;
    constexpr int bar = 24;
    const Paint paint(streams.colour);
    const double mm = map_scale(scene, columns);
    streams.out << paint.strong(where) << "\n";
    for (const std::string& row : map_around(scene, run, columns, rows, mm)) {
        streams.out << " |" << row << "|\n";
    }
    streams.out << paint.faint(
                       fmt::format(" {:.0f} x {:.0f} mm; # line, . and : the way so far, O wheels, digits sensors",
                                   columns * mm, 2.0 * rows * mm))
                << "\n";
    for (const std::string& line : reading_bars(run, bar)) {
        streams.out << "  " << line << "\n";
    }
    if (run.is_over()) {
        return;
    }
    if (const Mind* mind = run.mind_before()) {
        const Reply reply = Asker(*mind).ask(run.look());
        print_reply(streams, mind->plan(), reply, run.at() + 1, &scene.robot());
        const Answer& given = run.answer();
        const auto differs = [](double a, double b) { return a < b || b < a; };
        if (differs(given.left_pct, reply.answer.left_pct) || differs(given.right_pct, reply.answer.right_pct)) {
            streams.out << fmt::format("  instead   left {:.4g} %, right {:.4g} %\n", given.left_pct, given.right_pct);
        }
    }
    for (const std::vector<std::string>& row : memory_rows(run)) {
        streams.out << fmt::format("  {:<9} {}\n", row[0], row[1]);
    }
}

void print_beside(const Streams& streams, const Scene& scene, const RunBranch& one, const RunBranch& other) {
    SteppedRun a = one.run;
    SteppedRun b = other.run;
    a.to_end();
    b.to_end();
    const RunsApart apart = runs_apart(a.run(), b.run());
    std::ostream& out = streams.out;
    const auto told = [](const std::string& name, SteppedRun run, std::size_t look) { // goes there: plans may change
        if (!run.to_look(look)) {
            return fmt::format("  {}: it had ended", name);
        }
        const LookRecord record = run.record();
        return fmt::format("  {}: [{}] {}; {:.4g}, {:.4g} %", name, to_marks({record.line_bits, run.look().sensors}),
                           record.rule == no_rule ? "no rule" : describe_rule(run.mind()->plan(), record.rule),
                           record.left_pct, record.right_pct);
    };
    if (apart.look) {
        out << fmt::format("they part at look {}, {:.3f} s:\n{}\n{}\n", *apart.look + 1, apart.t_s,
                           told(one.name, a, *apart.look), told(other.name, b, *apart.look));
    } else {
        out << "they never part\n";
    }
    if (apart.way) {
        out << fmt::format("10 mm apart at {:.3f} s, {:.0f} mm at the most\n", apart.way_t_s, apart.most_mm);
    } else if (apart.look) {
        out << fmt::format("never 10 mm apart, {:.1f} mm at the most\n", apart.most_mm);
    }
    out << fmt::format("{}: {}\n{}: {}\n", one.name, ended_words(a.run(), scene.course()), other.name,
                       ended_words(b.run(), scene.course()));
}

} // namespace vturn
