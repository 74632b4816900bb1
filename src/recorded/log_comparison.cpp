#include "vast_turn/recorded/log_comparison.hpp"

#include <algorithm>
#include <cmath>

#include "vast_turn/plan/explain/log_check.hpp"

namespace vast_turn {

namespace {

constexpr double marks_apart_mm = 150.0;
/// A run passes a place when it comes so near: days of one way lie within that of each other, other ways do not.
constexpr double passes_mm = 60.0;
constexpr double most_powers_pct = 100.0;

/// The log as a run.
Run run_of(const Scene& scene, const std::vector<LoggedLook>& log, const LogCheck& check, const LogWay& way,
           const Calibration& calibration) {
    Run run;
    run.start = way.start;
    run.calibration = calibration;
    const double began_ms = log.front().look.clock_ms;
    std::optional<std::size_t> at_place;
    for (std::size_t i = 0; i < log.size(); ++i) {
        const Look& look = log[i].look;
        const Answer& answer = check.decisions[i].answer;
        LookRecord record;
        record.t_s = (look.clock_ms - began_ms) / 1000.0;
        record.at = way.poses[i].at;
        record.heading_deg = static_cast<float>(way.poses[i].heading_deg);
        run.way_mm += i > 0 ? length(record.at - run.looks.back().at) : 0.0;
        record.way_mm = static_cast<float>(run.way_mm);
        const auto power = [&](std::optional<double> logged, double decided) {
            return static_cast<float>(std::clamp(logged.value_or(decided), -most_powers_pct, most_powers_pct));
        };
        record.left_pct = power(log[i].left_pct, answer.left_pct);
        record.right_pct = power(log[i].right_pct, answer.right_pct);
        for (std::size_t k = 0; k < scene.robot().sensors.size(); ++k) {
            record.raw[k] = static_cast<std::uint16_t>(std::clamp(look.raw[k], 0.0, 65535.0));
        }
        record.line_bits = look.line_bits;
        record.block = answer.block;
        record.rule = answer.rule;
        record.markers = look.markers;
        record.range_mm = static_cast<float>(look.range_mm);
        for (int e = 0; e < answer.events; ++e) {
            if (answer.event[e].kind != EventKind::unanswered) {
                run.events.push_back({record.t_s, record.at, answer.event[e]});
            }
        }
        run.unanswered += answer.rule == no_rule && !answer.halted ? 1 : 0;
        std::optional<std::size_t> place;
        for (std::size_t p = 0; p < scene.course().places.size(); ++p) {
            const CoursePlace& one = scene.course().places[p];
            place = length(record.at - one.at) <= one.radius_mm ? std::optional(p) : place;
        }
        if (place && place != at_place) {
            run.visits.push_back({*place, record.t_s});
        }
        at_place = place;
        run.looks.push_back(record);
        run.told.push_back(look);
    }
    run.looks_done = static_cast<std::uint32_t>(log.size());
    run.time_s = run.looks.back().t_s;
    run.end_at = run.looks.back().at;
    run.turned_deg = way.poses.back().heading_deg - way.poses.front().heading_deg;
    run.ending = check.decisions.back().answer.halted ? Ending::halted : Ending::time_over;
    run.ended_because = "the log ends here";
    return run;
}

std::vector<LogMark> marks_of(const Run& recorded, std::optional<std::size_t> lost) {
    std::vector<LogMark> marks;
    const std::size_t end = lost.value_or(recorded.looks.size());
    double next = 0.6 * marks_apart_mm; // the first when it is under way
    for (std::size_t i = 0; i < end; ++i) {
        const LookRecord& look = recorded.looks[i];
        if (static_cast<double>(look.way_mm) >= next) {
            LogMark mark;
            mark.look = i;
            mark.at = look.at;
            mark.way_mm = static_cast<double>(look.way_mm);
            mark.log_s = marks.empty() ? 0.0 : look.t_s - recorded.looks[marks.front().look].t_s;
            marks.push_back(mark);
            next = static_cast<double>(look.way_mm) + marks_apart_mm;
        }
    }
    return marks;
}

/// The looks at which a run passes the marks one after another, as far as it does.
std::vector<std::size_t> passes(const Run& run, const std::vector<LogMark>& marks) {
    std::vector<std::size_t> looks;
    std::size_t from = 0;
    for (std::size_t m = 0; m < marks.size(); ++m) {
        // Not farther ahead than the way between the marks allows with a detour.
        const double ahead = m == 0 ? 1e9 : 3.0 * (marks[m].way_mm - marks[m - 1].way_mm);
        std::size_t best = run.looks.size();
        double nearest_mm = passes_mm;
        for (std::size_t i = from; i < run.looks.size(); ++i) {
            const double off = length(run.looks[i].at - marks[m].at);
            if (off < nearest_mm) {
                nearest_mm = off;
                best = i;
            } else if (best < run.looks.size() && off > passes_mm) {
                break; // it has passed
            }
            if (static_cast<double>(run.looks[i].way_mm - run.looks[from].way_mm) > ahead) {
                break;
            }
        }
        if (best == run.looks.size()) {
            return looks;
        }
        looks.push_back(best);
        from = best;
    }
    return looks;
}

/// Behind the last place that both passed: the first look in which the log saw otherwise than the ideal run nearest to
/// it, and another rule acted.
LogParting parting_of(const Run& recorded, const LogCheck& check, const Run& ideal, const std::vector<LogMark>& marks,
                      const std::vector<std::size_t>& ideal_looks) {
    LogParting parting;
    parting.mark = ideal_looks.empty() ? 0 : ideal_looks.size() - 1;
    // A little before that place: what sends them apart may have been seen there already.
    const std::size_t back = parting.mark > 0 ? parting.mark - 1 : 0;
    std::size_t other = ideal_looks.empty() ? 0 : ideal_looks[back];
    const std::size_t from = ideal_looks.empty() ? 0 : marks[back].look;
    for (std::size_t i = from; i < recorded.looks.size() && other < ideal.looks.size(); ++i) {
        const LookRecord& look = recorded.looks[i];
        while (other + 1 < ideal.looks.size() &&
               length(ideal.looks[other + 1].at - look.at) <= length(ideal.looks[other].at - look.at)) {
            ++other;
        }
        const LookRecord& same_place = ideal.looks[other];
        if (check.decisions[i].differs) {
            parting.look = i;
            parting.did_otherwise = true;
            parting.ideal_look = other;
            return parting;
        }
        const bool far = length(same_place.at - look.at) > passes_mm;
        const bool differs = look.rule != same_place.rule && look.line_bits != same_place.line_bits;
        const bool stays = i + 2 < recorded.looks.size() && recorded.looks[i + 1].rule == look.rule &&
                           recorded.looks[i + 2].rule == look.rule;
        // Neighbours of the ideal look, a robot's way to both sides, may act alike: then it only came earlier or later.
        bool alike_near = false;
        for (std::size_t k = other > 6 ? other - 6 : 0; k <= other + 6 && k < ideal.looks.size(); ++k) {
            alike_near = alike_near || ideal.looks[k].rule == look.rule;
        }
        if (far || (differs && stays && !alike_near)) {
            parting.ideal_look = other;
            parting.look = far ? std::nullopt : std::optional(i);
            return parting;
        }
    }
    parting.ideal_look = other;
    return parting;
}

void add_day(const Run& run, LogComparison& out) {
    const std::vector<std::size_t> looks = passes(run, out.marks);
    out.same_way += looks.size() == out.marks.size() ? 1 : 0;
    for (std::size_t m = 0; m < looks.size(); ++m) {
        LogMark& mark = out.marks[m];
        const double s = run.looks[looks[m]].t_s - run.looks[looks.front()].t_s;
        mark.least_s = mark.days == 0 ? s : std::min(mark.least_s, s);
        mark.most_s = mark.days == 0 ? s : std::max(mark.most_s, s);
        ++mark.days;
    }
}

} // namespace

LogComparison compare_log(const Scene& scene, const Plan& plan, const std::vector<LoggedLook>& log,
                          const LogWayOptions& way, RunOptions options, int days) {
    LogComparison out;
    out.way = log_way(scene, log, way);
    const LogCheck check = check_log(plan, log, 0.5, options.numbers);
    out.recorded = run_of(scene, log, check, out.way, options.calibration.value_or(scene.own_calibration()));
    out.marks = marks_of(out.recorded, out.way.lost);
    options.start = way.pose ? way.start : out.way.start;
    options.pose = way.pose;
    options.time_limit_s = std::max(options.time_limit_s, 1.5 * out.recorded.time_s + 5.0);
    options.keep_told = true;
    options.day = 0;
    out.ideal = drive(scene, plan, options);
    const std::vector<std::size_t> ideal_looks = passes(out.ideal, out.marks);
    for (std::size_t m = 0; m < ideal_looks.size(); ++m) {
        out.marks[m].ideal_s = out.ideal.looks[ideal_looks[m]].t_s - out.ideal.looks[ideal_looks.front()].t_s;
    }
    if (ideal_looks.size() < out.marks.size()) {
        out.parting = parting_of(out.recorded, check, out.ideal, out.marks, ideal_looks);
    }
    options.keep_told = false;
    out.varied = !scene.robot().variation.empty();
    for (int day = 1; day <= days; ++day) {
        options.day = static_cast<std::uint64_t>(day);
        add_day(drive(scene, plan, options), out);
    }
    out.days = days;
    for (const LogMark& mark : out.marks) {
        const double room = 0.01 * mark.most_s + scene.robot().look_ms / 1000.0; // a look is the finest that is known
        out.timed += mark.days > 0 ? 1 : 0;
        out.in_time += mark.days > 0 && mark.log_s >= mark.least_s - room && mark.log_s <= mark.most_s + room ? 1 : 0;
    }
    return out;
}

} // namespace vast_turn
