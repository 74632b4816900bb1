#pragma once

/// A look of a stepped run, and two branches beside each other, for people to read.

#include <string>
#include <vector>

#include "cli.hpp"
#include "vast_turn/sim/stepped_run.hpp"
#include "vast_turn/step/branches.hpp"

namespace vturn {

/// The course around the robot as rows of characters: # line, letters plates by their colour's name, . the way so far
/// and : the same over line, X what is in the way, ~ beyond the board, O the wheels, digits the line sensors. Each
/// character is `mm` wide and twice as high.
std::vector<std::string> map_around(const vast_turn::Scene& scene, const vast_turn::SteppedRun& run, int columns,
                                    int rows, double mm);

/// How wide a character of that must be for the robot and what is near it.
double map_scale(const vast_turn::Scene& scene, int columns);

/// Readings as bars, a line a sensor.
std::vector<std::string> reading_bars(const vast_turn::SteppedRun& run, int width);

/// What the plan remembers, and what is on its way to the motors: names and what there is to say.
std::vector<std::vector<std::string>> memory_rows(const vast_turn::SteppedRun& run);

/// All of a look. `where` stands above it.
void print_step(const Streams& streams, const vast_turn::Scene& scene, const vast_turn::SteppedRun& run,
                const std::string& where);

/// Two branches driven on to their ends, and where they part.
void print_beside(const Streams& streams, const vast_turn::Scene& scene, const vast_turn::RunBranch& one,
                  const vast_turn::RunBranch& other);

} // namespace vturn
