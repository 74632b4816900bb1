#include "formats/write/json_text.hpp"

#include <algorithm>
#include <cmath>
#include <string_view>

#include <fmt/format.h>

#include "vast_turn/base/utf8.hpp"
#include "vast_turn/base/visible.hpp"

namespace vast_turn {

double rounded(double x, double places) { return std::round(x * places) / places; }

double thousandths(double x) { return rounded(x, 1000.0); }

Json point_json(Vec2 p) { return Json::array({thousandths(p.x), thousandths(p.y)}); }

namespace {

/// Characters that a terminal obeys or hides, as escapes of JSON: they mean the same and can be seen. They occur within
/// strings alone.
std::string with_escapes(std::string_view json) {
    std::string out;
    out.reserve(json.size());
    while (!json.empty()) {
        const std::size_t bytes = std::max<std::size_t>(1, first_character(json).bytes);
        const std::string_view one = json.substr(0, bytes);
        const bool plain = bytes == 1 && one.front() != '\x7F';
        if (plain || visible(one) == one) {
            out += one;
        } else {
            const std::uint32_t code = first_character(one).code;
            out += code < 0x10000 ? fmt::format("\\u{:04x}", code)
                                  : fmt::format("\\u{:04x}\\u{:04x}", 0xD7C0 + (code >> 10U), 0xDC00 + (code & 0x3FFU));
        }
        json.remove_prefix(bytes);
    }
    return out;
}

} // namespace

std::string written(const Json& json, int indent) {
    return with_escapes(json.dump(indent, ' ', false, Json::error_handler_t::replace)) + "\n";
}

} // namespace vast_turn
