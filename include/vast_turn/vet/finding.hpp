#pragma once

/// What vet finds in a plan.

#include <cstdint>
#include <string>
#include <vector>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

/// How much a finding matters.
enum class Grade : std::uint8_t {
    fault, ///< it will go wrong
    risk,  ///< it goes wrong in some case
    hint,  ///< worth knowing, or untidy
};

/// "fault", "risk", "hint".
const char* name_of(Grade grade);

/// A kind of finding. Its code never changes.
struct FindingKind {
    const char* code;  ///< "unanswered"
    Grade grade;       ///< of most of its findings, and the worst
    const char* title; ///< what is looked for
    const char* why;   ///< why it matters on the floor, one sentence
    const char* cure;  ///< what to do, one sentence, where the finding itself does not say it better
};

/// All kinds, in the order of docs/findings.md.
const std::vector<FindingKind>& finding_kinds();

/// The kind of this code, or null.
const FindingKind* find_kind(const std::string& code);

/// One thing found.
struct Finding {
    const FindingKind* kind = nullptr; ///< one of finding_kinds(), which live as long as the program
    Place place;                       ///< in the plan; its line is 0 when it is about the whole plan
    std::string message;               ///< one sentence, no full stop
    std::string cure;                  ///< what to do here
    std::string new_line;              ///< the changed source line, when one line cures it
    /// The kind's, or less when it is less sure here: a fault from which the plan recovers is a risk.
    Grade grade = Grade::risk;
};

/// A finding that a comment of the plan allows.
struct AllowedFinding {
    Finding finding;
    /// As the comment says.
    std::string because;
    int line = 0; ///< of the comment
};

/// A number worth knowing.
struct VetFact {
    /// What it is about, and how much with its unit, as text.
    std::string what;
    std::string value;
};

/// What looking over a plan gave.
struct VetReport {
    std::vector<Finding> findings; ///< by line, then by kind
    std::vector<AllowedFinding> allowed;
    /// Numbers that hold for the plan as it stands.
    std::vector<VetFact> facts;
    /// Questions that arithmetic or their size kept from being decided: nothing is claimed about them.
    std::vector<std::string> undecided;

    /// Findings of this grade.
    int count(Grade grade) const;
};

} // namespace vast_turn
