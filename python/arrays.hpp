#pragma once

/// What of the library Python sees as numpy arrays: views of its memory, never copies.

#include <pybind11/numpy.h>
#include <pybind11/pybind11.h>

#include <vector>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/course/floor/surface.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn::python {

/// Records of looks as a one-dimensional structured array; its fields are those of LookRecord, `at` as x_mm and y_mm.
/// Read-only; `owner` lives as long as the array.
pybind11::array view_of(const std::vector<LookRecord>& looks, const pybind11::handle& owner);

/// Points as an array of two columns, x and y in mm. Likewise.
pybind11::array view_of(const std::vector<Vec2>& points, const pybind11::handle& owner);

/// The cells of a surface as an array of rows and columns of 0x00RRGGBB. Likewise.
pybind11::array view_of(const Surface& surface, const pybind11::handle& owner);

} // namespace vast_turn::python
