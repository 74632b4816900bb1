#pragma once

/// Python callables as decision logic.

#include <pybind11/pybind11.h>

#include "vast_turn/trial/pilot.hpp"

namespace vast_turn::python {

/// Calls `decide(look, answer)` once a look, from the thread that drives, under the interpreter's lock. What it raises
/// ends the run and comes out of drive().
Decide decide_by(const pybind11::function& decide);

/// A plan, or (name, make): `make()` gives a callable for each run, which remembers nothing of others. Throws a
/// TypeError for anything else.
Pilot pilot_from(const pybind11::handle& given);

} // namespace vast_turn::python
