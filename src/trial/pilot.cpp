#include "vast_turn/trial/pilot.hpp"

#include <utility>

namespace vast_turn {

Pilot::Pilot(const Plan& plan) : name_(plan.name()), file_(plan.file()), plan_(plan) {}

Pilot::Pilot(std::string name, Make make, AskedNames asks)
    : name_(std::move(name)), make_(std::move(make)), asks_(std::move(asks)) {}

Run Pilot::drive(const Scene& scene, const RunOptions& options) const {
    return plan_ ? vast_turn::drive(scene, *plan_, options) : vast_turn::drive(scene, make_(), asks_, options);
}

} // namespace vast_turn
