#pragma once

/// A plan: the decision logic of a robot, read from text, checked and compiled.

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/plan/compile/program_tables.hpp"
#include "vast_turn/runtime/program.hpp"

namespace vast_turn {

namespace lang {
struct CheckedPlan;
struct MemoryMap;
} // namespace lang

/// What a RuleId numbers: a rule of a habit, a guard (asked before all rules) or an item of an errand.
enum class RuleKind : std::uint8_t { rule, guard, item };

/// What a person wants to know of a rule, guard or item of the program.
struct RuleInfo {
    RuleKind kind = RuleKind::rule; ///< which of the three
    std::string block;              ///< the habit or errand in which it acts; empty for a guard of the whole plan
    std::string written_in;         ///< the habit in which it is written: another one when `as` brought it here
    int line = 0;                   ///< of the plan's text, from 1
    int column = 0;                 ///< counted in characters, from 1
    bool is_twin = false;           ///< added by `mirrored`
    std::string condition;          ///< as written, of a twin as it was mirrored; of an item its limit, if any
    std::string acts;               ///< likewise; of an item what it does
};

/// A plan that compiled. Cheap to copy; copies share everything; immutable, so any number of
/// threads may use one.
class Plan {
public:
    /// As written behind `plan`.
    const std::string& name() const;
    const std::string& file() const; ///< as given to compile_plan
    int sensors() const;             ///< how many line sensors it is written for

    /// All rules, guards and items by number. Good as long as a copy of the plan is, as is every reference given here.
    const std::vector<RuleInfo>& rules() const;

    /// One of them; never no_rule.
    const RuleInfo& rule(RuleId id) const {
        return rules()[id.index()];
    }                                                ///< by the number in an answer: rules and guards, then items
    const std::vector<std::string>& blocks() const;  ///< names by block number
    const std::vector<std::string>& markers() const; ///< names by marker number
    const std::vector<std::string>& heard() const;   ///< names that it listens to, by number
    const std::vector<std::string>& places() const;  ///< colour sensors that it asks by name, by number
    const std::vector<std::string>& vars() const;    ///< names by number
    const std::vector<std::string>& texts() const;   ///< texts of notes and names of lights, sounds, devices by number
    /// The compiled program: give its view() to a runtime::Machine, or write it out for a robot.
    const ProgramTables& tables() const;

    /// Bytes of memory that a robot needs to run it, and bytes of its read-only tables.
    std::size_t memory_bytes() const;
    /// The tables alone, as they would lie in flash.
    std::size_t table_bytes() const;

    /// Whether it reads this input; `op` is one of the values of runtime::Op.
    bool reads(runtime::Op op) const;

    /// Whether it takes a turn from this source by name.
    bool reads_turn_by(runtime::Source source) const;

    /// Whether it measures a way or how far a wheel has turned.
    bool reads_way() const;

    /// The checked syntax tree, for parts of the library that explain a plan.
    const lang::CheckedPlan& checked() const;

    /// Where the parts of that tree have their memory on the robot.
    const lang::MemoryMap& memory() const;

private:
    friend class PlanBuilder; ///< makes plans, in src/plan
    Plan() = default;
    struct Body;
    std::shared_ptr<const Body> body_;
};

/// What came of compiling a text.
struct Compiled {
    std::optional<Plan> plan;      ///< present when there was no error
    std::vector<Problem> problems; ///< errors and warnings, in the order of their places
};

/// Reads, checks and compiles a plan. Never throws for anything in the text: all that is wrong is
/// in `problems`, several at once where the text allows to go on. Time and memory grow linearly
/// with the text, except that `as` repeats rules (at most 4096 rules a plan).
///
/// `file` is what problems call the text.
Compiled compile_plan(std::string_view text, std::string_view file);

} // namespace vast_turn
