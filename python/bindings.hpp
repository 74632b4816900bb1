#pragma once

/// What each source of the module adds to it, in this order.

#include <pybind11/pybind11.h>

namespace vast_turn::python {

void add_problems(pybind11::module_& module); ///< Problem, InputError
void add_course(pybind11::module_& module);   ///< Course, its places and its lines
void add_robot(pybind11::module_& module);    ///< Robot, Days, Calibration
void add_plan(pybind11::module_& module);     ///< Plan, Look, Answer, Mind, vet
void add_run(pybind11::module_& module);      ///< Scene, drive, Run
void add_trips(pybind11::module_& module);    ///< take_trips and what comes of them

} // namespace vast_turn::python
