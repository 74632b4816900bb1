#include "formats/read/outside_reader.hpp"

#include "formats/read/drawing_keys.hpp"

namespace vast_turn {

namespace {

OutsideLight read_light(TomlTable& table) {
    using Kind = OutsideLight::Kind;
    OutsideLight light;
    for (const char* key : {"at_mm", "to_mm", "height_mm", "soft_mm", "flicker_hz", "flicker"}) {
        table.mention(key);
    }
    const std::string kind = table.one_of("kind", {"even", "window", "lamp", "shadow"});
    for (const Kind one : {Kind::even, Kind::window, Kind::lamp, Kind::shadow}) {
        light.kind = kind == name_of(one) ? one : light.kind;
    }
    const bool is_shadow = light.kind == Kind::shadow;
    light.strength = table.number("strength", is_shadow ? Range{0.0, 1.0} : Range{0.0, 100.0});
    if (light.kind != Kind::even) {
        light.at = table.pair("at_mm", coordinate);
    }
    if (light.kind == Kind::window || is_shadow) {
        light.to = table.pair("to_mm", coordinate);
    }
    if (light.kind == Kind::lamp) {
        light.height_mm = table.number("height_mm", {1.0, 100000.0});
    }
    if (is_shadow) {
        light.soft_mm = table.number("soft_mm", {0.0, 10000.0}, light.soft_mm);
    } else {
        light.flicker_hz = table.number("flicker_hz", {0.0, 10000.0}, light.flicker_hz);
        light.flicker = table.number("flicker", {0.0, 1.0}, light.flicker);
    }
    table.done();
    return light;
}

} // namespace

std::vector<OutsideLight> read_lights(TomlTable& root) {
    std::vector<OutsideLight> lights;
    for (TomlTable& table : root.tables("light")) {
        lights.push_back(read_light(table));
    }
    return lights;
}

std::vector<Iron> read_irons(TomlTable& root) {
    std::vector<Iron> irons;
    for (TomlTable& table : root.tables("iron")) {
        irons.push_back({table.pair("at_mm", coordinate), table.number("strength", {-20.0, 20.0})});
        table.done();
    }
    return irons;
}

} // namespace vast_turn
