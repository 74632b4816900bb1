#pragma once

/// What speaks for a cure besides that the trip passes with it, and the order that follows.

#include <cstddef>
#include <set>
#include <tuple>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/trial/cures.hpp"

namespace vast_turn {

/// What is known of a change with which a trip passes.
struct CureEvidence {
    double size = 0.0;         ///< as in PlanChange
    bool unlikely = false;     ///< likewise
    int odder = 0;             ///< by how much the plan is, see oddness()
    bool irregular = false;    ///< whether it is more irregular, see irregularity()
    bool early = false;        ///< it does otherwise long before what decided, where all went well
    bool misreads = false;     ///< its run takes for junctions what is none, or one for two
    std::size_t uncounted = 0; ///< junctions that its run passes without counting them, where the plan counts
    bool idle = false;         ///< rules or items more than without it have no part: nothing is written for nothing
};

/// A failed run, to be compared with that of a changed plan. Keeps references.
class RunBefore {
public:
    RunBefore(const Scene& scene, const Plan& plan, const TripResult& failed, const RunOptions& options);
    /// Fills in what the two runs tell; nothing of a failed run without looks.
    void compare(const Plan& changed, CureEvidence& evidence) const;

private:
    const Scene& scene_;
    const TripResult& failed_;
    const RunOptions& options_;
    std::size_t idle_ = 0; ///< rules and items that had no part
};

/// Lines of a plan that had a part in what decided.
struct DecidingLines {
    DecidingLines(const Plan& plan, const TripResult& failed);

    std::set<int> decided;         ///< of the rule that did, of those that called it and of those that held too
    std::set<int> might_have_done; ///< of rules that might have decided it otherwise
};

/// Smaller comes first.
using CureRank = std::tuple<bool, std::size_t, int, bool, std::ptrdiff_t, bool, std::size_t, int, bool, bool, int, bool,
                            CureKind, bool, double, int>;
CureRank rank_of(const Cure& cure, const CureEvidence& evidence, const DecidingLines& lines);

} // namespace vast_turn
