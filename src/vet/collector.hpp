#pragma once

/// What all the searches of vet share: the plan, where findings go, and small questions about rules.

#include <functional>
#include <string>
#include <vector>

#include "plan/check/call_graph.hpp"
#include "plan/check/checked.hpp"
#include "vast_turn/plan/explain/pattern_table.hpp"
#include "vast_turn/vet/finding.hpp"
#include "vast_turn/vet/vet.hpp"
#include "vet/formula.hpp"
#include "vet/rehearsal.hpp"

namespace vast_turn::vetting {

class Collector {
public:
    Collector(const Plan& plan, const VetAgainst& against, VetReport& report);

    const Plan& plan() const { return plan_; }
    const lang::CheckedPlan& text() const { return plan_.checked(); }
    const Robot* robot() const { return against_.robot; }
    const Course* course() const { return against_.course; }
    const Calibration* calibration() const { return against_.calibration; }
    const std::optional<ChipRoom>& chip() const { return against_.chip; }
    runtime::NumberKind numbers() const { return against_.numbers; }

    /// A finding about a part of the plan's text. The empty span at 0 is the whole plan.
    void add(const char* code, lang::Span span, std::string message, std::string cure, std::string new_line = {});
    void add_whole(const char* code, std::string message, std::string cure);
    /// Makes the finding that was added last matter no more than this.
    void at_most(Grade grade);
    void fact(std::string what, std::string value);
    void undecided(std::string what);

    /// What is left of what this vetting may cost.
    Effort& effort() const { return effort_; }

    /// Whether the plan can ever come to this block.
    bool is_reached(std::size_t block) const { return reached_[block]; }

    /// Where a rule, guard or item stands; the empty span at 0 for no_rule.
    lang::Span span_of(RuleId rule) const;

    /// What trial drives over the course have shown; null without a course and a robot.
    const Rehearsal* rehearsal() const { return rehearsal_; }
    void set_rehearsal(const Rehearsal* rehearsal) { rehearsal_ = rehearsal; }

    /// The line of a span, and the source line with that span replaced.
    int line_of(lang::Span span) const { return text().source.line_of(span.from); }
    std::string line_with(lang::Span span, const std::string& replacement) const;

private:
    const Plan& plan_;
    const VetAgainst& against_;
    VetReport& report_;
    const Rehearsal* rehearsal_ = nullptr;
    std::vector<bool> reached_;
    mutable Effort effort_;
};

/// The motion among acts, or null.
const lang::Act* motion_among(const std::vector<lang::Act>& acts);

/// -1 turns right, 1 left, 0 neither; powers less than 4 percent apart are straight on.
int turn_of(const Wheels& wheels);

// The searches, one file each.
void check_patterns(Collector& out);  ///< unanswered, rules that never act, order, twins, turning away
void check_sensors(Collector& out);   ///< sensors that nothing depends on
void check_errands(Collector& out);   ///< endless and unreachable items, searches that never give up
void check_transfers(Collector& out); ///< habits that hand over in a circle, or that nothing leads out of
void check_names(Collector& out);     ///< blocks, lets, vars, markers that nothing uses
void check_markers(Collector& out);   ///< markers that fire again and again
void check_robot(Collector& out);     ///< what the plan asks of a robot
/// What a course asks of both; the scene is theirs, null without a robot.
void check_course(Collector& out, const Scene* scene);
void check_calibration(Collector& out);
/// What its C costs on a chip; over a straight lane without a scene.
void check_chip(Collector& out, const Scene* scene);

} // namespace vast_turn::vetting
