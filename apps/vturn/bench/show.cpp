#include "bench/show.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <sstream>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "print/print_ask.hpp"
#include "vast_turn/plan/explain/describe.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

std::string bar_of(double share, double mark, int width) {
    const int full = std::clamp(static_cast<int>(std::lround(share * width)), 0, width);
    std::string bar =
        std::string(static_cast<std::size_t>(full), '=') + std::string(static_cast<std::size_t>(width - full), ' ');
    if (mark >= 0.0) {
        bar[static_cast<std::size_t>(std::clamp(static_cast<int>(mark * width), 0, width - 1))] = '|';
    }
    return bar;
}

std::string names_of_bits(const std::vector<std::string>& names, unsigned bits) {
    std::string text;
    for (std::size_t k = 0; k < names.size(); ++k) {
        text += ((bits >> k) & 1U) != 0 ? (text.empty() ? "" : ", ") + names[k] : "";
    }
    return text.empty() ? "none" : text;
}

std::string marks_of(const BenchSession& session) {
    const Look& look = session.last()->look;
    return session.can_read() ? to_marks({look.line_bits, static_cast<int>(session.robot().sensors.size())}) : "";
}

} // namespace

std::vector<std::string> sensor_rows(const BenchSession& session, int width) {
    std::vector<std::string> rows;
    if (!session.last()) {
        return rows;
    }
    const Look& look = session.last()->look;
    const Robot& robot = session.robot();
    std::size_t widest = 0;
    for (const LineSensor& sensor : robot.sensors) {
        widest = std::max(widest, sensor.channel.size());
    }
    for (std::size_t k = 0; k < robot.sensors.size(); ++k) {
        const LineSensor& sensor = robot.sensors[k];
        const bool reads = session.can_read();
        const double share = reads ? look.sensor[k] : look.raw[k] / sensor.adc_max;
        const double mark = session.calibration() ? session.calibration()->sensors[k].threshold : -1.0;
        const bool is_line = reads && ((look.line_bits >> k) & 1) != 0;
        rows.push_back(fmt::format("{} {:<{}} {:>6g} {} [{}] {}", k + 1, sensor.channel, widest, look.raw[k],
                                   reads ? fmt::format("{:.2f}", look.sensor[k]) : "    ", bar_of(share, mark, width),
                                   reads ? (is_line ? "line" : "floor") : "counts"));
    }
    return rows;
}

std::vector<std::vector<std::string>> sense_rows(const BenchSession& session) {
    std::vector<std::vector<std::string>> rows;
    if (!session.last()) {
        return rows;
    }
    const LoggedLook& last = *session.last();
    const Look& look = last.look;
    const Robot& robot = session.robot();
    if (session.can_read()) {
        rows.push_back({"pattern", fmt::format("{}   offset {:+.2f}", marks_of(session), look.offset + 0.0)});
    }
    if (session.plan() && !robot.colour_sensors.empty()) {
        rows.push_back({"colours", names_of_bits(session.plan()->markers(), look.markers)});
    }
    if (robot.range_sensor) {
        rows.push_back(
            {"range", look.range_mm >= nothing_ahead_mm ? "nothing" : fmt::format("{:.0f} mm", look.range_mm)});
    }
    if (robot.encoders.fitted) {
        rows.push_back({"wheels", fmt::format("{:.0f} and {:.0f} deg", look.left_deg, look.right_deg)});
    }
    if (robot.gyro.fitted || robot.compass.fitted) {
        rows.push_back({"turned", fmt::format("{:.1f} deg", look.heading_deg + 0.0)});
    }
    if (last.left_pct && last.right_pct) {
        rows.push_back({"it says", fmt::format("left {:.4g} %, right {:.4g} %", *last.left_pct, *last.right_pct)});
    }
    return rows;
}

std::string plan_words(const BenchSession& session) {
    if (!session.reply()) {
        return "";
    }
    std::ostringstream out;
    std::istringstream nothing;
    print_reply({nothing, out, out}, *session.plan(), *session.reply(), 1, &session.robot());
    const std::string all = out.str();
    const std::size_t second = all.find('\n'); // its first line tells the look, which is shown already
    std::string words = second == std::string::npos ? "" : all.substr(second + 1);
    if (session.compared() > 0) {
        words += session.differing() == 0
                     ? fmt::format("  alike     the robot did so in all {} looks\n", session.compared())
                     : fmt::format("  differs   the robot did otherwise in {} of {} looks\n", session.differing(),
                                   session.compared());
    }
    return words;
}

std::string line_words(const RobotLink& link, const std::string& port, bool live) {
    if (!link.is_open()) {
        return fmt::format("{}: no line: {}", port, link.why_closed());
    }
    const LineCount& count = link.count();
    const std::string pace = live ? fmt::format(", {:.0f} a second", link.looks_a_second()) : "";
    return fmt::format("{}: {} looks{}; {} garbled, {} missing{}{}", port, count.looks, pace, count.garbled,
                       count.missing,
                       link.cuts() > 0 ? fmt::format("; cable out {}",
                                                     link.cuts() == 1 ? "once" : fmt::format("{} times", link.cuts()))
                                       : "",
                       count.looks > 0 && !count.checked ? "; no check sums: a garbled look may look whole" : "");
}

std::string look_words(const BenchSession& session) {
    if (!session.last()) {
        return "";
    }
    const LoggedLook& last = *session.last();
    std::string counts;
    for (std::size_t k = 0; k < session.robot().sensors.size(); ++k) {
        counts +=
            session.can_read() ? fmt::format(" {:.2f}", last.look.sensor[k]) : fmt::format(" {:4g}", last.look.raw[k]);
    }
    std::string words = fmt::format("{:9.2f} s {}", last.look.clock_ms / 1000.0, counts);
    if (session.can_read()) {
        words += fmt::format("  {}  {:+.2f}", marks_of(session), last.look.offset + 0.0);
    }
    if (session.plan() && last.look.markers != 0) {
        words += "  " + names_of_bits(session.plan()->markers(), last.look.markers);
    }
    if (session.reply()) {
        const Answer& answer = session.reply()->answer;
        words += fmt::format("  {:.4g} {:.4g} %  {}", answer.left_pct + 0.0, answer.right_pct + 0.0,
                             answer.halted            ? "halted"
                             : answer.rule == no_rule ? "no rule"
                                                      : describe_rule(*session.plan(), answer.rule));
    }
    return words;
}

std::vector<std::string> learned_rows(const BenchSession& session) {
    std::vector<std::string> over;
    std::map<std::string, int> counts;
    for (const BenchLook& look : session.readings().looks) {
        ++counts[look.under];
    }
    for (const auto& [under, count] : counts) {
        over.push_back(fmt::format("{} {}", under, count));
    }
    std::vector<std::string> rows;
    if (over.empty() && session.under().empty()) {
        return rows;
    }
    rows.push_back(
        fmt::format("learned: {}{}", over.empty() ? "nothing yet" : fmt::format("{}", fmt::join(over, ", ")),
                    session.under().empty() ? "" : fmt::format("; learning {} now: hold it so", session.under())));
    const std::optional<CalibrationReport> report = session.report();
    if (!report) {
        return rows;
    }
    for (std::size_t k = 0; k < report->sensors.size(); ++k) {
        const SensorReport& sensor = report->sensors[k];
        rows.push_back(fmt::format(
            "  {} {:<8} floor {:6.1f}  line {:6.1f}  {}", k + 1, sensor.channel, sensor.floor.mean, sensor.line.mean,
            sensor.usable ? fmt::format("threshold {:6.1f}  noise {:.1f}", sensor.threshold_counts, sensor.noise)
                          : "not usable"));
    }
    for (const Verdict& verdict : report->verdicts) {
        rows.push_back(fmt::format("  {} {}", verdict.serious ? "!" : "-", verdict.says));
    }
    return rows;
}

std::string card_rows(const BenchActions& actions, const BenchSession& session) {
    std::string text = "card: " + actions.card_words() + "\n";
    const std::vector<std::vector<double>> answers = session.card_walk().answers();
    for (std::size_t step = 0; step < answers.size(); ++step) {
        text += step == 0 ? "  no card:" : fmt::format("  under {}:", step);
        for (std::size_t k = 0; k < answers[step].size(); ++k) {
            text += fmt::format("  {} {:3.0f} %", session.readings().channels[k], 100.0 * std::abs(answers[step][k]));
        }
        text += "\n";
    }
    return text;
}

std::vector<std::string> setting_rows(const BenchActions& actions, std::size_t chosen, int width) {
    std::vector<std::string> rows;
    const BenchSettings* settings = actions.settings();
    if (settings == nullptr) {
        return rows;
    }
    std::size_t widest = 0;
    for (const AdjustableLet& let : settings->plan.lets) {
        widest = std::max(widest, let.name.size());
    }
    for (std::size_t i = 0; i < settings->plan.lets.size(); ++i) {
        const AdjustableLet& let = settings->plan.lets[i];
        const double value = settings->values[i];
        const double share = (value - let.least) / (let.most - let.least);
        const bool differs = std::abs(value - let.now.value) > 1e-9 * (let.most - let.least);
        rows.push_back(fmt::format("{} {:<{}} {:>9.5g} {:<4} [{}] {:g}..{:g}{}", i == chosen ? ">" : " ", let.name,
                                   widest, value, let.now.unit, bar_of(share, -1.0, width), let.least, let.most,
                                   differs ? fmt::format("   the plan has {:.5g}", let.now.value) : ""));
    }
    std::vector<std::string> reckoned;
    for (const ReckonedLet& let : settings->plan.reckoned) {
        reckoned.push_back(fmt::format("{} {:.5g}{}", let.name, let.value, let.unit));
    }
    if (!reckoned.empty()) {
        rows.push_back(fmt::format("  reckoned from them: {}", fmt::join(reckoned, ", ")));
    }
    return rows;
}

} // namespace vturn
