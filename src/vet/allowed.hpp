#pragma once

/// Comments of a plan that allow findings: `// vet: allow CODE because REASON`.

#include "plan/text/source.hpp"
#include "vet/collector.hpp"

namespace vast_turn::vetting {

/// Takes findings that comments allow out of the report's list, and reports comments that allow nothing. A comment
/// allows findings of the line at whose end it stands; alone on a line, those of the next line that is no comment;
/// above the plan's first word, those about the whole plan too. `looked_for` says whether a kind was looked for at all:
/// what needs a robot is neither found nor missed without one.
void take_allowed(Collector& out, VetReport& report, const std::function<bool(const FindingKind&)>& looked_for);

} // namespace vast_turn::vetting
