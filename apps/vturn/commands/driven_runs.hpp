#pragma once

/// Several runs of one call: what is asked of them, and how they are driven.

#include <string>
#include <vector>

#include "vast_turn/sim/run.hpp"

namespace vturn {

/// One of several runs.
struct DrivenRun {
    std::string name; ///< apart from those of the others
    const vast_turn::Plan* plan = nullptr;
    vast_turn::Run run;
};

/// Each plan as often as asked, with a seed or a day of its own; `first`, when it is given, is the first of them, which
/// has been driven.
std::vector<DrivenRun> driven_runs(const vast_turn::Scene& scene, const std::vector<vast_turn::Plan>& plans,
                                   const vast_turn::RunOptions& options, int runs,
                                   const vast_turn::Run* first = nullptr);

/// "offset,left,max(sensor(1), 0.5)": commas within brackets are the quantity's own. Throws InputError for one that is
/// empty.
std::vector<std::string> split_quantities(const std::vector<std::string>& texts);

/// "bell@4.2". Throws InputError for anything else.
vast_turn::Heard heard_of(const std::string& text);

} // namespace vturn
