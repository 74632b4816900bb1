#pragma once

/// The powers of motions that are written with constants.

#include <optional>

#include "vet/collector.hpp"

namespace vast_turn::vetting {

/// What a motion gives the wheels, when that is constant. `keep` and what looks something up give nothing.
std::optional<Wheels> constant_motion(const lang::Act& motion);

/// Every constant motion of blocks that the plan comes to, with where it stands. Twins are left out.
struct WrittenMotion {
    const lang::Act* act = nullptr;
    Wheels wheels;
    std::size_t block = 0;
    const lang::Rule* rule = nullptr;     ///< or
    const lang::LaidItem* item = nullptr; ///< an errand's
};
std::vector<WrittenMotion> written_motions(const Collector& out);

/// The fastest that both wheels together ever go forward, percent: of constant motions, and the speed of linear
/// steering.
double fastest_pct(const Collector& out);

/// The same as a speed of the robot; where powers are reckoned at each look, the fastest of trial drives. 0 when
/// neither is known.
double fastest_mm_s(const Collector& out);

} // namespace vast_turn::vetting
