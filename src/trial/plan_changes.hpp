#pragma once

/// Changes of a plan's text that a person might try: slips undone.

#include <memory>
#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/trial/cures.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

struct PlanChange {
    std::string what; ///< "line 10 moved above line 9"
    std::string text; ///< the whole plan, changed; it may not compile
    CureKind kind = CureKind::side;
    int line = 0;      ///< that is changed
    double size = 0.0; ///< of changes of one kind the smaller are tried first: lines moved over, logarithm of a factor
    std::size_t knob = 0;  ///< of a number: which, from 1
    double factor = 1.0;   ///< and how many times it becomes
    bool unlikely = false; ///< few hands slip so: a rule too much, `fresh` forgotten, one let taken for another
};

/// Reads a plan once and makes changes of its text.
class PlanChanger {
public:
    explicit PlanChanger(const Plan& plan);
    /// With lines added that the plan may lack where this run went wrong.
    PlanChanger(const Plan& plan, const Scene& scene, const TripResult& failed, const RunOptions& options);
    ~PlanChanger();
    PlanChanger(const PlanChanger&) = delete;
    PlanChanger& operator=(const PlanChanger&) = delete;

    /// Every change of structure, and each number times several factors.
    std::vector<PlanChange> all() const;

    /// A number, which a change of all() has named, times another factor; `rounded`: as people write numbers.
    PlanChange number(std::size_t knob, double factor, bool rounded = false) const;

private:
    struct Body;
    std::unique_ptr<Body> body_;
};

} // namespace vast_turn
