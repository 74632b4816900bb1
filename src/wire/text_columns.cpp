#include "wire/text_columns.hpp"

#include <fmt/format.h>

#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

namespace {

std::string names_of_bits(const std::vector<std::string>& names, std::uint16_t bits) {
    std::string text;
    for (std::size_t k = 0; k < names.size(); ++k) {
        text += ((bits >> k) & 1U) != 0 ? (text.empty() ? "" : "|") + names[k] : "";
    }
    return text;
}

} // namespace

std::vector<TextColumn> text_columns(const TextNames& called, const Robot& robot, bool readings) {
    std::vector<TextColumn> columns;
    const auto number = [&](const std::string& name, double Look::*value) {
        columns.push_back({name, [value](const Look& look) { return fmt::format("{}", look.*value); }});
    };
    number("time_ms", &Look::clock_ms);
    const int sensors = static_cast<int>(robot.sensors.size());
    for (int i = 0; i < sensors; ++i) {
        columns.push_back({fmt::format("raw_{}", i + 1), [i](const Look& l) { return fmt::format("{}", l.raw[i]); }});
    }
    for (int i = 0; readings && i < sensors; ++i) {
        columns.push_back(
            {fmt::format("reading_{}", i + 1), [i](const Look& l) { return fmt::format("{}", l.sensor[i]); }});
    }
    if (readings) {
        columns.push_back({"pattern", [sensors](const Look& l) { return to_marks({l.line_bits, sensors}); }});
        number("offset", &Look::offset);
        number("last_side", &Look::last_side);
    }
    if (robot.encoders.fitted) {
        number("way_mm", &Look::way_mm);
        number("left_deg", &Look::left_deg);
        number("right_deg", &Look::right_deg);
        number("by_wheels_deg", &Look::heading_by_wheels_deg);
    }
    if (robot.gyro.fitted) {
        number("by_gyro_deg", &Look::heading_by_gyro_deg);
    }
    if (robot.compass.fitted) {
        number("by_compass_deg", &Look::heading_by_compass_deg);
    }
    if (robot.range_sensor) {
        number("range_mm", &Look::range_mm);
    }
    const auto bits = [&](const std::string& name, const std::vector<std::string>& names, auto of) {
        columns.push_back({name, [names, of](const Look& look) { return names_of_bits(names, of(look)); }});
    };
    if (!robot.colour_sensors.empty()) {
        bits("markers", called.markers, [](const Look& look) { return look.markers; });
        for (std::size_t k = 0; k < called.places.size() && k < look_places; ++k) {
            bits("markers_" + called.places[k], called.markers, [k](const Look& look) { return look.markers_at[k]; });
        }
    }
    if (!called.heard.empty()) {
        bits("heard", called.heard, [](const Look& look) { return look.heard; });
    }
    columns.push_back({"button", [](const Look& look) { return std::string(look.button ? "1" : "0"); }});
    return columns;
}

std::string names_of(const std::vector<TextColumn>& columns) {
    std::string line;
    for (const TextColumn& column : columns) {
        line += (line.empty() ? "" : ",") + column.name;
    }
    return line;
}

std::string row_of(const std::vector<TextColumn>& columns, const Look& look) {
    std::string line;
    for (const TextColumn& column : columns) {
        line += (line.empty() ? "" : ",") + column.cell(look);
    }
    return line;
}

} // namespace vast_turn
