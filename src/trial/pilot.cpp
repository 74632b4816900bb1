#include "vast_turn/trial/pilot.hpp"

#include <utility>

namespace vast_turn {

Pilot::Pilot(const Plan& plan) : name_(plan.name()), file_(plan.file()), plan_(plan) {}

Pilot::Pilot(std::string name, Make make, AskedNames asks)
    : name_(std::move(name)), make_(std::move(make)), asks_(std::move(asks)) {}

Run Pilot::drive(const Scene& scene, const RunOptions& options) const {
    return plan_ ? vast_turn::drive(scene, *plan_, options) : vast_turn::drive(scene, make_(), asks_, options);
}

void Pilot::drive_many(const Scene& scene, const std::vector<RunOptions>& options, const TakeRun& take,
                       const std::function<bool()>& goes_on) const {
    if (plan_) {
        ManyOptions many;
        many.goes_on = goes_on;
        return vast_turn::drive_many(scene, *plan_, options, take, many);
    }
    for (std::size_t n = 0; n < options.size() && (!goes_on || goes_on()); ++n) {
        Run run = drive(scene, options[n]);
        take(n, run);
    }
}

} // namespace vast_turn
