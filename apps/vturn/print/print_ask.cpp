#include "print/print_ask.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "print/print.hpp"
#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/robot/manoeuvre.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

constexpr std::size_t differences_listed = 10;

std::string command_words(const Motor& motor, const MotorCommand& command, const char* otherwise) {
    std::string output = motor.output.empty() ? otherwise : motor.output;
    switch (motor.command) {
    case CommandKind::percent: return fmt::format("{} = {:.1f} %", output, command.value);
    case CommandKind::pwm:
        return fmt::format("{} = {:.0f} {}", output, command.value, command.backwards ? "back" : "forward");
    case CommandKind::servo: return fmt::format("{} = {:.1f} deg", output, command.value);
    }
    return output;
}

/// Without a minus before a nought.
std::string speed_words(double mm_s) { return fmt::format("{:.0f} mm/s", std::round(mm_s) + 0.0); }

std::string output_words(const Robot& robot, double left_pct, double right_pct) {
    const Motors& motors = robot.motors;
    return fmt::format("{}, {}", command_words(motors.left, command_for(motors.left, left_pct), "left"),
                       command_words(motors.right, command_for(motors.right, right_pct), "right"));
}

std::string look_words(const Plan& plan, const Look& look) {
    std::string words = fmt::format("[{}]", to_marks({look.line_bits, look.sensors}));
    std::vector<std::string> readings;
    for (int i = 0; i < look.sensors; ++i) {
        readings.push_back(fmt::format("{:.2f}", look.sensor[i]));
    }
    words += fmt::format(" readings {}, offset {:+.2f}, last side {}", fmt::join(readings, " "), look.offset,
                         look.last_side > 0.0 ? "left" : "right");
    if (look.way_mm > 0.0 || look.way_mm < 0.0) {
        words += fmt::format(", way {:.1f} mm", look.way_mm);
    }
    if (plan.reads(runtime::Op::range)) {
        words += look.range_mm < nothing_ahead_mm ? fmt::format(", range {:.0f} mm", look.range_mm) : ", nothing ahead";
    }
    if (look.heading_deg > 0.0 || look.heading_deg < 0.0) {
        words += fmt::format(", heading {:.1f} deg", look.heading_deg);
    }
    if (plan.reads(runtime::Op::button)) {
        words += look.button ? ", button held" : ", button free";
    }
    for (std::size_t k = 0; k < plan.markers().size(); ++k) {
        words += ((look.markers >> k) & 1U) != 0 ? fmt::format(", {} in view", plan.markers()[k]) : "";
    }
    return words;
}

std::string card_words(const CardStep& step) {
    if (step.card_under.empty()) {
        return "nothing";
    }
    return step.card_under.size() > 1 ? "all" : fmt::format("sensor {}", step.card_under[0]);
}

/// The answer to a question in one word.
const char* verdict(const AskedStep& step) {
    switch (step.stage) {
    case runtime::Stage::limit: return step.holds ? "over" : "goes on";
    case runtime::Stage::branch: return step.holds ? "if" : "else";
    default: return step.holds ? "acts" : "not";
    }
}

class StepPrinter {
public:
    StepPrinter(std::ostream& out, const Paint& paint, const Plan& plan) : out_(out), paint_(paint), plan_(plan) {}

    void print(const AskedStep& step) {
        const bool of_block = step.stage == runtime::Stage::begun || step.stage == runtime::Stage::ended;
        if (of_block) {
            const std::string& name = plan_.blocks()[step.block];
            row(step.stage == runtime::Stage::begun ? "begins" : "ends", name);
            block_ = step.stage == runtime::Stage::begun ? name : "";
            return;
        }
        const RuleInfo& info = plan_.rule(step.rule);
        if (info.kind != RuleKind::guard && info.block != block_) {
            block_ = info.block;
            row("in hand", block_);
        }
        if (step.holds) {
            row(verdict(step), describe_rule(plan_, step.rule),
                step.stage == runtime::Stage::rule || step.stage == runtime::Stage::item ||
                    step.stage == runtime::Stage::guard);
        } else {
            row(verdict(step),
                fmt::format("line {}{}: {}", info.line, info.is_twin ? " (mirrored)" : "", step.because));
        }
    }

private:
    void row(const std::string& what, const std::string& words, bool good = false) {
        const std::string padded = fmt::format("{:<9}", what);
        out_ << "  "
             << (good ? paint_.good(what) + std::string(9 - std::min<std::size_t>(9, what.size()), ' ') : padded) << " "
             << words << "\n";
    }

    std::ostream& out_;
    const Paint& paint_;
    const Plan& plan_;
    std::string block_;
};

/// The blocks in hand when there is more to say than the name of one.
std::string in_hand_words(const Plan& plan, const std::vector<InHand>& blocks) {
    std::vector<std::string> words;
    for (const InHand& in_hand : blocks) {
        std::string name = plan.blocks()[in_hand.block];
        if (in_hand.item != no_rule) {
            name += " at " + describe_rule(plan, in_hand.item);
        }
        words.push_back(std::move(name));
    }
    return fmt::format("{}", fmt::join(words, "; in it "));
}

} // namespace

void print_reply(const Streams& streams, const Plan& plan, const Reply& reply, std::size_t number, const Robot* robot) {
    const Paint paint(streams.colour);
    std::ostream& out = streams.out;
    out << paint.strong(fmt::format("look {} at {:g} ms", number, reply.look.clock_ms)) << ": "
        << look_words(plan, reply.look) << "\n";
    if (reply.steps.empty()) {
        out << "  the plan has ended before\n";
    }
    StepPrinter printer(out, paint, plan);
    for (const AskedStep& step : reply.steps) {
        printer.print(step);
    }
    if (reply.unanswered) {
        out << "  " << paint.bad("unanswered: no rule holds, the last motion is kept") << "\n";
    }
    if (reply.held) {
        out << "  held      the clocks of all blocks in hand stand still\n";
    }
    const Answer& answer = reply.answer;
    out << fmt::format("  wheels    left {:.4g} %, right {:.4g} %{}{}\n", answer.left_pct, answer.right_pct,
                       robot != nullptr ? ": " + to_text(manoeuvre_of(*robot, answer.left_pct, answer.right_pct)) : "",
                       answer.halted ? "; halted" : "");
    if (robot != nullptr) {
        out << fmt::format("  outputs   {}\n", output_words(*robot, answer.left_pct, answer.right_pct));
    }
    for (int i = 0; i < answer.events; ++i) {
        const Event& event = answer.event[i];
        if (event.kind != EventKind::unanswered) {
            out << fmt::format("  {:<9} {}\n", event_name(event.kind), describe_event(plan, event));
        }
    }
    if (reply.in_hand.size() > 1 || (reply.in_hand.size() == 1 && reply.in_hand[0].item != no_rule)) {
        out << fmt::format("  then      in hand: {}\n", in_hand_words(plan, reply.in_hand));
    }
    for (const std::string& change : reply.memory) {
        out << fmt::format("  memory    {}\n", change);
    }
}

void print_log_check(const Streams& streams, const Plan& plan, const LogCheck& check,
                     const std::vector<LoggedLook>& log, const Robot* robot) {
    const Paint paint(streams.colour);
    std::ostream& out = streams.out;
    std::uint32_t unanswered = 0;
    for (const LogDecision& decision : check.decisions) {
        unanswered += decision.answer.rule == no_rule && !decision.answer.halted ? 1 : 0;
    }
    out << fmt::format("{} looks from {:.2f} s to {:.2f} s, {} unanswered\n", log.size(),
                       log.front().look.clock_ms / 1000.0, log.back().look.clock_ms / 1000.0, unanswered);
    if (check.compared == 0) {
        out << "no wheel powers were logged, so there is nothing to compare\n";
        return;
    }
    if (!check.first) {
        out << paint.good(fmt::format("the plan decides as logged at all {} looks", check.compared)) << "\n";
        return;
    }
    out << paint.bad(fmt::format("{} of {} looks differ from what was logged", check.differing, check.compared))
        << "\n";
    std::vector<std::vector<std::string>> rows = {{"look", "time s", "sees", "logged", "the plan", "by"}};
    for (std::size_t i = 0; i < log.size() && rows.size() <= differences_listed; ++i) {
        const LogDecision& d = check.decisions[i];
        if (d.differs) {
            rows.push_back({fmt::format("{}", i + 1), fmt::format("{:.3f}", log[i].look.clock_ms / 1000.0),
                            to_marks({log[i].look.line_bits, log[i].look.sensors}),
                            fmt::format("{:g} / {:g}", log[i].left_pct.value_or(0.0), log[i].right_pct.value_or(0.0)),
                            fmt::format("{:.4g} / {:.4g}", d.answer.left_pct, d.answer.right_pct),
                            d.answer.rule == no_rule ? "no rule" : describe_rule(plan, d.answer.rule)});
        }
    }
    print_columns(out, rows, {0, 1});
    out << (check.differing > differences_listed ? fmt::format("  and {} more\n", check.differing - differences_listed)
                                                 : "");
    out << "\nthe first difference in full:\n";
    print_reply(streams, plan, *check.first_reply, *check.first + 1, robot);
    out << fmt::format("  logged    left {:g} %, right {:g} %\n", log[*check.first].left_pct.value_or(0.0),
                       log[*check.first].right_pct.value_or(0.0));
}

void print_card_check(const Streams& streams, const Plan& plan, const Robot& robot,
                      const std::vector<CardStep>& steps) {
    const Paint paint(streams.colour);
    streams.out << paint.strong(
                       fmt::format("{} on the bench with a card of tape, plan \"{}\"", robot.name, plan.name()))
                << "\n";
    std::vector<std::vector<std::string>> rows = {
        {"card under", "counts", "lamps", "left %", "right %", "outputs", "left wheel", "right wheel"}};
    std::vector<std::string> wrong;
    for (const CardStep& step : steps) {
        const std::string card = card_words(step);
        rows.push_back({card, fmt::format("{:g}", fmt::join(step.counts, " ")), to_marks(step.pattern),
                        fmt::format("{:.4g}", step.left_pct), fmt::format("{:.4g}", step.right_pct),
                        output_words(robot, step.left_pct, step.right_pct), speed_words(step.left_mm_s),
                        speed_words(step.right_mm_s)});
        if (!step.remark.empty()) {
            wrong.push_back(fmt::format("card under {}: {}", card, step.remark));
        }
    }
    print_columns(streams.out, rows, {3, 4, 6, 7});
    for (const std::string& words : wrong) {
        streams.out << "  " << paint.bad("WRONG") << ", " << words << "\n";
    }
    streams.out << (wrong.empty() ? paint.good("every lamp and every wheel does as it should")
                                  : paint.bad(fmt::format("{} of {} steps are not as they should be", wrong.size(),
                                                          steps.size())))
                << "\n";
}

} // namespace vturn
