#pragma once

/// What vet found, for people.

#include <string>

#include "cli.hpp"
#include "vast_turn/formats/write/vet_json.hpp"

namespace vturn {

/// Findings of one plan, worst first; then what was allowed, what could not be decided and the numbers.
void print_vetted(const Streams& streams, const vast_turn::VettedPlan& vetted);

/// The section of docs/findings.md about a code. Throws InputError for an unknown one.
std::string explained(const std::string& code);

} // namespace vturn
