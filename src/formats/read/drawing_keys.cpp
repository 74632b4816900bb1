#include "formats/read/drawing_keys.hpp"

#include <algorithm>
#include <string>
#include <vector>

#include <fmt/format.h>

namespace vast_turn {

namespace {

std::optional<MeasuredDistance> measured_distance(TomlTable& root) {
    if (!root.has("measured")) {
        return std::nullopt;
    }
    if (root.has("mm_per_px")) {
        root.fault("measured", "`measured` and `mm_per_px` exclude each other", "keep one of them");
    }
    TomlTable table = root.table("measured");
    MeasuredDistance out;
    out.from = table.pair("from", coordinate);
    out.to = table.pair("to", coordinate);
    out.mm = table.number("mm", {1.0, 100000.0});
    table.done();
    constexpr double least = 1.0; // of its units
    if (length(out.to - out.from) < least) {
        table.fault("to", "the two points are the same", "take two points that lie far apart");
        return std::nullopt;
    }
    return out;
}

/// `board = { from = [..], to = [..] }` in the drawing's units, or "page".
std::optional<Area> board_on_drawing(TomlTable& root, bool& is_page) {
    if (!root.has("board")) {
        return std::nullopt;
    }
    if (root.is_text("board")) {
        is_page = root.one_of("board", {"page"}) == "page";
        return std::nullopt;
    }
    TomlTable table = root.table("board");
    const Area area{table.pair("from", coordinate), table.pair("to", coordinate)};
    table.done();
    if (!(area.to.x - area.from.x >= 1.0 && area.to.y - area.from.y >= 1.0)) {
        table.fault("to", "this board has no size", "from is its top left on the drawing, to its bottom right");
        return std::nullopt;
    }
    return area;
}

std::optional<PageBox> page_box_of(TomlTable& root) {
    const std::vector<std::string> names(page_box_names.begin(), page_box_names.end());
    const std::string said = root.one_of("page_box", names);
    const auto found = std::find(names.begin(), names.end(), said);
    return found == names.end() ? std::nullopt : std::optional(static_cast<PageBox>(found - names.begin()));
}

/// `corners = [{ px = [..], mm = [..] }, ...]`, four of them.
std::vector<CornerOfPicture> corners_of(TomlTable& root) {
    std::vector<CornerOfPicture> corners;
    for (TomlTable& table : root.tables("corners")) {
        corners.push_back({table.pair("px", coordinate), table.pair("mm", coordinate)});
        table.done();
    }
    constexpr std::size_t needed = 4;
    if (root.has("corners") && corners.size() != needed) {
        root.fault("corners", fmt::format("a photograph is turned by four corners, here are {}", corners.size()),
                   "write corners = [{ px = [212, 388], mm = [0, 0] }, ...]: points of the picture, and where they lie "
                   "on the board");
        return {};
    }
    for (const char* key : {"mm_per_px", "measured", "board"}) {
        if (!corners.empty() && root.has(key)) {
            root.fault(key, fmt::format("`corners` say the scale already: `{}` and they exclude each other", key),
                       "keep one of them");
        }
    }
    return corners;
}

/// Regions and colours of which the file says what they are.
void hints_under(TomlTable& root, const char* key, bool has_drawing, std::vector<Area>& areas,
                 std::vector<Rgb>& colours) {
    for (TomlTable& table : root.tables(key)) {
        table.mention("colour");
        table.mention("from_mm");
        table.mention("to_mm");
        if (table.has("colour")) {
            colours.push_back(table.colour("colour"));
        } else {
            const Area area{table.pair("from_mm", coordinate), table.pair("to_mm", coordinate)};
            if (area.to.x > area.from.x && area.to.y > area.from.y) {
                areas.push_back(area);
            } else {
                table.fault("to_mm", "this region is empty", "from_mm is its top left, to_mm its bottom right");
            }
        }
        table.done();
        if (!has_drawing) {
            table.fault(key, "only what a drawing shows can be left out or taken in", "remove it");
        }
    }
}

} // namespace

DrawingKeys read_drawing_keys(TomlTable& root, bool has_drawing) {
    DrawingKeys keys;
    keys.mm_per_px = root.optional_number("mm_per_px", {0.001, 1000.0});
    keys.measured = measured_distance(root);
    keys.board = board_on_drawing(root, keys.is_page);
    if (has_drawing && root.has("size_mm")) {
        keys.board_mm = root.pair("size_mm", board_size);
    }
    keys.corners = corners_of(root);
    keys.lens_bow = root.optional_number("lens_bow", {-0.5, 0.5});
    if (root.has("lens_bow") && !root.has("corners")) {
        root.fault("lens_bow", "the bow of a lens is evened out together with a slant", "give corners too");
    }
    if (root.has("page")) {
        keys.page = root.whole("page", {1.0, 100000.0});
    }
    if (root.has("page_box")) {
        keys.page_box = page_box_of(root);
    }
    if (root.has("even_light")) {
        keys.even_light = root.flag("even_light", false);
    }
    for (const char* key :
         {"mm_per_px", "measured", "board", "page", "page_box", "corners", "lens_bow", "even_light"}) {
        if (!has_drawing && root.has(key)) {
            root.fault(key, "there is no drawing that this could be about", "write drawing = \"name.png\"");
        }
    }
    return keys;
}

LineHints read_line_hints(TomlTable& root, bool has_drawing) {
    LineHints hints;
    hints_under(root, "leave_out", has_drawing, hints.leave_out, hints.leave_out_colours);
    hints_under(root, "take_in", has_drawing, hints.take_in, hints.take_in_colours);
    return hints;
}

std::vector<InTheWay> read_in_the_way(TomlTable& root, bool has_drawing) {
    std::vector<InTheWay> list;
    for (TomlTable& table : root.tables("in_the_way")) {
        InTheWay one;
        one.colour = table.colour("colour");
        one.name = table.text("name", "drawn thing");
        if (table.has("looks")) {
            one.as_floor = table.is_text("looks") && table.text("looks") == "floor";
            one.looks = one.as_floor ? std::nullopt : std::optional<Rgb>(table.colour("looks"));
        }
        table.done();
        if (!has_drawing) {
            table.fault("colour", "there is no drawing that could show this",
                        "write drawing = \"name.svg\", or a [[thing]]");
        }
        list.push_back(std::move(one));
    }
    return list;
}

} // namespace vast_turn
