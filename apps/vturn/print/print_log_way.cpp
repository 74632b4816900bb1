#include "print/print_log_way.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "print/print.hpp"
#include "vast_turn/plan/explain/describe.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

std::string acts(const Plan& plan, const LookRecord& look) {
    return look.rule == no_rule ? std::string("no rule held") : describe_rule(plan, look.rule);
}

std::string sees(const Robot& robot, const LookRecord& look) {
    return to_marks({look.line_bits, static_cast<int>(robot.sensors.size())});
}

void print_parting(std::ostream& out, const Paint& paint, const Plan& plan, const Robot& robot,
                   const LogComparison& log) {
    if (!log.parting) {
        out << "  the map   " << paint.good("its run of an ideal day goes the same way") << "\n";
        return;
    }
    const LogParting& parting = *log.parting;
    const LogMark& mark = log.marks[parting.mark];
    out << "  the map   "
        << paint.bad(fmt::format("its run of an ideal day parts from the log behind {:.0f} mm, at {:.2f} s",
                                 mark.way_mm, log.recorded.looks[mark.look].t_s))
        << "\n";
    if (!parting.look) {
        out << "            no look says why: both saw and did alike there, and went apart all the same; look at "
               "speeds, "
               "grip and the course\n";
        return;
    }
    const LookRecord& own = log.recorded.looks[*parting.look];
    const LookRecord& map = log.ideal.looks[parting.ideal_look];
    if (parting.did_otherwise) {
        out << fmt::format(
            "    log     look {}, {:.2f} s: saw {}, where this plan says {}; the robot did otherwise: left {:.4g} "
            "%, right {:.4g} %\n            to do: name the plan that drove it\n",
            *parting.look + 1, own.t_s, sees(robot, own), acts(plan, own), static_cast<double>(own.left_pct),
            static_cast<double>(own.right_pct));
        return;
    }
    out << fmt::format("    log     look {}, {:.2f} s: saw {}, {}\n", *parting.look + 1, own.t_s, sees(robot, own),
                       acts(plan, own))
        << fmt::format("    map     look {}, {:.2f} s, same place: saw {}, {}\n", parting.ideal_look + 1, map.t_s,
                       sees(robot, map), acts(plan, map));
}

/// The place at which the log was farthest out of the days' time, when there is one.
const LogMark* farthest_out(const LogComparison& log) {
    const LogMark* worst = nullptr;
    double most = 0.0;
    for (const LogMark& mark : log.marks) {
        const double out = mark.days > 0 ? std::max(mark.least_s - mark.log_s, mark.log_s - mark.most_s) : 0.0;
        if (out > most) {
            most = out;
            worst = &mark;
        }
    }
    return worst;
}

void print_days(std::ostream& out, const Paint& paint, const LogComparison& log) {
    if (log.days == 0 || log.marks.empty()) {
        return;
    }
    const std::string words =
        fmt::format("of {} days {} went its whole way; at {} of {} places it was there when they were", log.days,
                    log.same_way, log.in_time, log.timed);
    out << "  the days  " << (log.is_of_the_days() ? paint.good(words) : paint.bad(words)) << "\n";
    const LogMark* worst = log.is_of_the_days() ? nullptr : farthest_out(log);
    if (worst != nullptr) {
        out << fmt::format("            behind {:.0f} mm it had taken {:.2f} s, they {:.2f} to {:.2f}\n", worst->way_mm,
                           worst->log_s, worst->least_s, worst->most_s);
    }
    if (!log.varied) {
        out << "            the robot file does not say how days differ: theirs do by noise alone\n";
    }
    if (!log.is_of_the_days()) {
        out << "            to do: vturn fit finds the robot's numbers in its logs\n";
    }
}

} // namespace

void print_log_way(const Streams& streams, const Plan& plan, const Robot& robot, const LogComparison& log) {
    const Paint paint(streams.colour);
    std::ostream& out = streams.out;
    const LogWay& way = log.way;
    out << "on the course\n"
        << fmt::format("  way       {:.0f} mm {}by {}\n", log.recorded.way_mm,
                       way.start.empty() ? "" : fmt::format("from {}, ", way.start), words_of(way.by))
        << fmt::format(
               "  seen      {:.1f} % of line and floor is so on the map along it, {:.0f} % in its worst second\n",
               100.0 * way.alike, 100.0 * way.alike_worst);
    if (way.lost) {
        const double t_s = log.recorded.looks[*way.lost].t_s;
        out << "  "
            << paint.bad(fmt::format("lost      from look {} at {:.2f} s on what it saw is nowhere near on the map",
                                     *way.lost + 1, t_s))
            << "\n            to do: see whether course, robot, calibration and start are those of the log\n";
    }
    if (log.marks.empty()) {
        out << "  too short a way to be compared\n";
        return;
    }
    print_parting(out, paint, plan, robot, log);
    print_days(out, paint, log);
}

} // namespace vturn
