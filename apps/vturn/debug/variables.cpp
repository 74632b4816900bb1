#include "debug/variables.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/plan/explain/plan_state.hpp"
#include "vast_turn/plan/explain/probe.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

std::string truth(bool holds) { return holds ? "true" : "false"; }

std::vector<ShownValue> input_values(const SteppedRun& run) {
    const Look& look = run.look();
    const Plan& plan = run.mind()->plan();
    std::vector<ShownValue> list = {
        {"clock", fmt::format("{:.6g}ms", look.clock_ms), false},
        {"pattern", fmt::format("[{}]", to_marks({look.line_bits, look.sensors})), false},
        {"offset", fmt::format("{:.4g}", look.offset), false},
        {"last_side", look.last_side > 0.0 ? "left" : "right", false},
        {"way", fmt::format("{:.6g}mm", look.way_mm), false},
        {"heading", fmt::format("{:.5g}deg", look.heading_deg), false},
        {"range", look.range_mm < nothing_ahead_mm ? fmt::format("{:.5g}mm", look.range_mm) : "nothing ahead", true},
        {"button", truth(look.button), true}};
    for (std::size_t k = 0; k < plan.markers().size(); ++k) {
        list.push_back({plan.markers()[k], truth(((look.markers >> k) & 1U) != 0), true});
    }
    for (std::size_t k = 0; k < plan.heard().size(); ++k) {
        list.push_back({fmt::format("heard({})", plan.heard()[k]), truth(((look.heard >> k) & 1U) != 0), true});
    }
    return list;
}

std::vector<ShownValue> block_values(const PlanState& state, std::size_t number) {
    std::vector<ShownValue> list;
    if (number < state.blocks.size()) {
        const BlockState& block = state.blocks[number];
        for (const auto& [name, value] : block.arguments) {
            list.push_back({name, value, false});
        }
        list.push_back({"elapsed", fmt::format("{:.6g}ms", block.ms), false});
        list.push_back({"travelled", fmt::format("{:.5g}mm", block.way_mm), false});
        list.push_back({"turned", fmt::format("{:.4g}deg", block.turned_deg + 0.0), false});
        if (!block.progress.empty()) {
            list.push_back({"over", block.progress, false});
        }
    }
    return list;
}

std::vector<ShownValue> robot_values(const SteppedRun& run) {
    const LookRecord here = run.record();
    const Body& body = run.body();
    return {{"at", fmt::format("{:.2f},{:.2f} mm", here.at.x, here.at.y), false},
            {"heading", fmt::format("{:.2f} deg", here.heading_deg), false},
            {"left wheel", fmt::format("{:.1f} mm/s", body.left_mm_s), false},
            {"right wheel", fmt::format("{:.1f} mm/s", body.right_mm_s), false},
            {"left power", fmt::format("{:.4g} %", here.left_pct), false},
            {"right power", fmt::format("{:.4g} %", here.right_pct), false}};
}

double number_of(const std::string& text, const std::string& unit, const std::string& cure) {
    double value = 0.0;
    const char* const end = text.data() + text.size();
    const auto [stopped, error] = std::from_chars(text.data(), end, value);
    const std::string_view rest(stopped, static_cast<std::size_t>(end - stopped));
    if (error != std::errc{} || !std::isfinite(value) || (!rest.empty() && rest != unit)) {
        throw InputError("", fmt::format("`{}` is no value for it", text), cure);
    }
    return value;
}

bool truth_of(const std::string& text) {
    if (text != "true" && text != "false") {
        throw InputError("", fmt::format("`{}` is no value for it", text), "write true or false");
    }
    return text == "true";
}

void set_bit(std::uint16_t& bits, std::size_t bit, bool holds) {
    bits = static_cast<std::uint16_t>(holds ? bits | 1U << bit : bits & ~(1U << bit));
}

Instead input_change(const Plan& plan, const std::string& name, const std::string& text) {
    if (name == "range") {
        const double mm = number_of(text, "mm", "write a way: 120mm");
        return instead::OtherLook{[mm](Look& look) { look.range_mm = mm; }};
    }
    const bool holds = truth_of(text);
    if (name == "button") {
        return instead::OtherLook{[holds](Look& look) { look.button = holds; }};
    }
    for (std::size_t k = 0; k < plan.markers().size(); ++k) {
        if (plan.markers()[k] == name) {
            return instead::OtherLook{[k, holds](Look& look) {
                set_bit(look.markers, k, holds);
                for (std::uint16_t& at : look.markers_at) {
                    set_bit(at, k, holds);
                }
            }};
        }
    }
    for (std::size_t k = 0; k < plan.heard().size(); ++k) {
        if (fmt::format("heard({})", plan.heard()[k]) == name) {
            return instead::OtherLook{[k, holds](Look& look) { set_bit(look.heard, k, holds); }};
        }
    }
    throw InputError("", fmt::format("{} cannot be set", name), "set readings, range, button, markers or vars");
}

} // namespace

std::vector<ShownBlock> shown_blocks(const SteppedRun& run) {
    const Mind& mind = *run.mind();
    const runtime::Machine& machine = mind.machine();
    const Plan& plan = mind.plan();
    std::vector<ShownBlock> list;
    for (int i = machine.depth() - 1; i >= 0; --i) {
        const runtime::Frame& frame = machine.frame(i);
        const runtime::Block& block = machine.program().blocks[frame.block];
        RuleId acts = frame.acting;
        if (block.is_errand && frame.item < block.items) {
            acts = RuleId(machine.program().rule_count + block.first_item + frame.item);
        }
        if (i == machine.depth() - 1 && !(run.answer().rule == no_rule) && run.answer().block == frame.block) {
            acts = run.answer().rule;
        }
        list.push_back({plan.blocks()[frame.block], i, acts == no_rule ? 1 : plan.rule(acts).line});
    }
    if (list.empty()) { // the plan has ended; an editor wants to show something
        const RuleId last = run.answer().rule;
        list.push_back({plan.name(), 0, last == no_rule ? 1 : plan.rule(last).line});
    }
    return list;
}

std::vector<ShownValue> shown_values(const SteppedRun& run, int group) {
    std::vector<ShownValue> list;
    const PlanState state = state_of(*run.mind(), run.look());
    switch (group) {
    case readings:
        for (int i = 0; i < run.look().sensors; ++i) {
            list.push_back({fmt::format("sensor({})", i + 1), fmt::format("{:.3f}", run.look().sensor[i]), true});
        }
        return list;
    case inputs: return input_values(run);
    case vars:
        for (const auto& [name, value] : state.vars) {
            list.push_back({name, value, true});
        }
        return list;
    case pids:
        for (const PidState& pid : state.pids) {
            list.push_back({fmt::format("line {}: {}", pid.line, pid.text),
                            fmt::format("{:.4g} for {:.4g}, integral {:.4g}", pid.value, pid.error, pid.sum), false});
        }
        return list;
    case robot_state: return robot_values(run);
    default: return group >= blocks_from ? block_values(state, static_cast<std::size_t>(group - blocks_from)) : list;
    }
}

Instead change_of(const SteppedRun& run, int group, const std::string& name, const std::string& text) {
    const Plan& plan = run.mind()->plan();
    if (group == readings) {
        for (int i = 0; i < run.look().sensors; ++i) {
            if (fmt::format("sensor({})", i + 1) == name) {
                const double value = number_of(text, "", "write a reading from 0 (floor) to 1 (line)");
                if (!(value >= 0.0 && value <= 1.0)) {
                    throw InputError("", "a reading is 0 (floor) to 1 (line)", "write a number between");
                }
                return instead::OtherReading{static_cast<std::size_t>(i), value};
            }
        }
    }
    if (group == inputs) {
        return input_change(plan, name, text);
    }
    const auto at = std::find(plan.vars().begin(), plan.vars().end(), name);
    if (group != vars || at == plan.vars().end()) {
        throw InputError("", fmt::format("{} cannot be set", name), "set readings, range, button, markers or vars");
    }
    const auto number = static_cast<std::size_t>(at - plan.vars().begin());
    ProbeResult made = make_value_for(plan, number, text, "");
    if (!made.probe) {
        throw InputError(made.problems);
    }
    return instead::OtherVar{number, made.probe->value(*run.mind_before(), run.look())};
}

} // namespace vturn
