#pragma once

/// What all writers of JSON share; the one place where it becomes text.

#include <string>

#include <nlohmann/json.hpp>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// Keys stay in the order in which they are written down.
using Json = nlohmann::ordered_json;

/// Rounded to what the number is good for, so that the text stays readable.
double rounded(double x, double places);
/// To a thousandth.
double thousandths(double x);
/// [x, y] in mm, to a thousandth.
Json point_json(Vec2 p);

/// The whole text with its line break. What is no UTF-8 is replaced.
std::string written(const Json& json, int indent = 2);

} // namespace vast_turn
