#include <algorithm>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "vet/collector.hpp"

namespace vast_turn::vetting {

namespace {

using lang::Op;

using lang::Expr;

/// Whether a part of an expression reads this sensor (from 0), but for patterns in the conditions of rules.
bool reads(const Expr& e, int sensor, bool patterns_too) {
    return lang::any_part(e, [&](const Expr& part) {
        if (const auto* pattern = part.as<lang::PatternMarks>()) {
            return patterns_too && ((pattern->mask >> sensor) & 1) != 0;
        }
        return is_input(part, Op::offset) || is_input(part, Op::last_side) ||
               (patterns_too && is_input(part, Op::seen)) || lang::reads_sensor(part, sensor);
    });
}

/// Whether anything but the choice of a rule hangs on a sensor.
bool read_elsewhere(const lang::CheckedPlan& plan, int sensor) {
    const auto acts = [&](const std::vector<lang::Act>& list) {
        return std::any_of(list.begin(), list.end(), [&](const lang::Act& act) {
            return std::any_of(act.args.begin(), act.args.end(), [&](const Expr& e) { return reads(e, sensor, true); });
        });
    };
    const auto guards = [&](const std::vector<lang::Rule>& list) {
        return std::any_of(list.begin(), list.end(), [&](const lang::Rule& guard) {
            return reads(guard.condition, sensor, true) || acts(guard.acts);
        });
    };
    if (guards(plan.guards)) {
        return true;
    }
    return std::any_of(plan.blocks.begin(), plan.blocks.end(), [&](const lang::LaidBlock& block) {
        const bool in_rules = std::any_of(block.rules.begin(), block.rules.end(), [&](const lang::Rule& rule) {
            return (!rule.is_else && reads(rule.condition, sensor, false)) || acts(rule.acts);
        });
        const bool in_items = std::any_of(block.items.begin(), block.items.end(), [&](const lang::LaidItem& item) {
            return reads(item.limit.value, sensor, true) || reads(item.condition, sensor, true) || acts({item.act});
        });
        return in_rules || in_items || guards(block.guards);
    });
}

bool same_entries(const TableRow& a, const TableRow& b) {
    return a.may_be_unanswered == b.may_be_unanswered &&
           std::equal(a.entries.begin(), a.entries.end(), b.entries.begin(), b.entries.end(),
                      [](const TableEntry& x, const TableEntry& y) { return x.when == y.when && x.does == y.does; });
}

/// Whether some habit chooses otherwise when only this sensor sees something else.
bool chooses_by(const std::vector<HabitTable>& tables, int sensor) {
    return std::any_of(tables.begin(), tables.end(), [&](const HabitTable& table) {
        std::vector<const TableRow*> by_bits(table.rows.size());
        for (const TableRow& row : table.rows) {
            by_bits[row.pattern.bits] = &row;
        }
        for (const TableRow& row : table.rows) {
            if (!same_entries(row, *by_bits[row.pattern.bits ^ (1U << static_cast<unsigned>(sensor))])) {
                return true;
            }
        }
        return false;
    });
}

} // namespace

void check_sensors(Collector& out) {
    const std::vector<HabitTable> tables = pattern_tables(out.plan());
    std::vector<int> unused;
    for (int sensor = 0; sensor < out.plan().sensors(); ++sensor) {
        if (!read_elsewhere(out.text(), sensor) && !chooses_by(tables, sensor)) {
            unused.push_back(sensor + 1);
        }
    }
    if (unused.empty()) {
        return;
    }
    const int sensors = out.plan().sensors();
    const auto is_left = [&](int sensor) { return 2 * sensor - 1 < sensors; };
    const bool all_left = std::all_of(unused.begin(), unused.end(), is_left);
    const bool none_left = std::none_of(unused.begin(), unused.end(), is_left);
    const bool whole_side = static_cast<int>(unused.size()) == sensors / 2 && sensors > 1 && (all_left || none_left);
    const std::string which =
        whole_side           ? fmt::format("nothing depends on the sensors on the {}", all_left ? "left" : "right")
        : unused.size() == 1 ? fmt::format("nothing depends on sensor {}", unused[0])
                             : fmt::format("nothing depends on sensors {}", fmt::join(unused, ", "));
    out.add_whole("sensor-unused", which + ": whatever it sees, the plan does the same",
                  whole_side ? "write the rules for that side with mirrored"
                             : "use it in a pattern, or write the plan for fewer sensors");
}

} // namespace vast_turn::vetting
