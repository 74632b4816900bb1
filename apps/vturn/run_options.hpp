#pragma once

/// The options that all commands share which drive a robot.

#include <CLI/CLI.hpp>

#include "vast_turn/sim/run.hpp"

namespace vturn {

inline void add_run_options(CLI::App& command, vast_turn::RunOptions& options) {
    command.add_option("--seed", options.seed, "of the sensors' noise; the same seed gives the same run")
        ->capture_default_str();
    command.add_option("--step-ms", options.step_ms, "step of the simulation")
        ->capture_default_str()
        ->check(CLI::Range(0.001, 100.0));
    command
        .add_option("--lost-s", options.lost_after_s, "tape nowhere under the array for longer than this ends a run")
        ->capture_default_str()
        ->check(CLI::Range(0.001, 36000.0));
}

} // namespace vturn
