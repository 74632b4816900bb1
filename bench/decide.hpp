#pragma once

/// One look of the five-sensor PID plan, by the runtime and by the same logic written by hand in C++.

#include <vector>

#include "vast_turn/plan/mind.hpp"

namespace bench {

/// What data/fern-house/plans/five-pid.plan says, as a team would write it in C++.
class HandWritten {
public:
    void operator()(const vast_turn::Look& in, vast_turn::Answer& out);

private:
    double left_ = 0.0;
    double right_ = 0.0;
    double integral_ = 0.0;
    double error_ = 0.0;
    double called_ms_ = 0.0;
    unsigned look_ = 0;
    unsigned called_ = 0;
    unsigned all_ = 0;  // looks in a row with line under every sensor
    unsigned none_ = 0; // and under none
    bool halted_ = false;
};

/// The looks of one run of that plan down the aisle.
std::vector<vast_turn::Look> aisle_looks(const vast_turn::Plan& plan);

/// Whether both answer every look alike.
bool same_answers(const vast_turn::Plan& plan, const std::vector<vast_turn::Look>& looks);

} // namespace bench
