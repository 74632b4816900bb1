#pragma once

/// What decides in trips: a plan, or decision code of your own.

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/many/drive_many.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// A plan or code that can drive a robot again and again, each time as if it were the first. Cheap to copy; any number
/// of threads may use one.
class Pilot {
public:
    /// Makes decision logic that remembers nothing of earlier runs. Called before each run, from any thread.
    using Make = std::function<Decide()>;

    /// A plan. Not explicit: where a pilot is asked for, a plan is one.
    Pilot(const Plan& plan); // NOLINT(google-explicit-constructor)

    /// Code of your own under a name, and the names by whose numbers it knows markers, colour sensors and what is
    /// heard.
    Pilot(std::string name, Make make, AskedNames asks = {});

    /// The plan's name, or the one given.
    const std::string& name() const { return name_; }
    /// The plan's file as it was named; empty for code.
    const std::string& file() const { return file_; }
    /// The plan; null for code.
    const Plan* plan() const { return plan_ ? &*plan_ : nullptr; }

    /// One run. Throws InputError as vast_turn::drive() does for a plan or for code.
    Run drive(const Scene& scene, const RunOptions& options) const;

    /// A run for each of the options, on this thread: of a plan side by side, as drive_many() makes and gives them
    /// away; of code one after another. `goes_on` is asked before each of them begins. Throws as that and as drive().
    void drive_many(const Scene& scene, const std::vector<RunOptions>& options, const TakeRun& take,
                    const std::function<bool()>& goes_on = {}) const;

private:
    /// Of the plan, or given.
    std::string name_;
    std::string file_;
    /// Either a plan, or code and what it asks for.
    std::optional<Plan> plan_;
    Make make_;
    AskedNames asks_;
};

} // namespace vast_turn
