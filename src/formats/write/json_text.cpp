#include "formats/write/json_text.hpp"

#include <cmath>

namespace vast_turn {

double rounded(double x, double places) { return std::round(x * places) / places; }

double thousandths(double x) { return rounded(x, 1000.0); }

Json point_json(Vec2 p) { return Json::array({thousandths(p.x), thousandths(p.y)}); }

std::string written(const Json& json, int indent) {
    return json.dump(indent, ' ', false, Json::error_handler_t::replace) + "\n";
}

} // namespace vast_turn
