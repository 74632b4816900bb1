#include "vast_turn/formats/write/course_toml.hpp"

#include <filesystem>
#include <iterator>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "formats/write/toml_text.hpp"

namespace vast_turn {

namespace {

std::string words(Rgb c) { return fmt::format("\"#{:02X}{:02X}{:02X}\"", c.r, c.g, c.b); }

/// As short as it can be said to a ten-thousandth.
std::string number(double value) {
    std::string text = fmt::format("{:.4f}", value);
    text.erase(text.find_last_not_of('0') + 1);
    if (text.back() == '.') {
        text.pop_back();
    }
    return text == "-0" ? "0" : text;
}

std::string pair(Vec2 p) { return fmt::format("[{}, {}]", number(p.x), number(p.y)); }

class CourseWriter {
public:
    explicit CourseWriter(const Course& course) : course_(course) {}

    std::string run() {
        head();
        tapes();
        palette();
        markers();
        for (const CoursePlace& place : course_.places) {
            put("\n[[place]]\nname = {}\nat_mm = {}\nradius_mm = {}\n", toml_quoted(place.name), pair(place.at),
                number(place.radius_mm));
        }
        things();
        for (const Wall& wall : course_.walls) {
            put("\n[[wall]]\nfrom_mm = {}\nto_mm = {}\n", pair(wall.from), pair(wall.to));
        }
        for (const StartPose& start : course_.starts) {
            put("\n[[start]]\nname = {}\nat_mm = {}\nheading_deg = {}\n", toml_quoted(start.name), pair(start.pose.at),
                number(start.pose.heading_deg));
        }
        lights();
        irons();
        variants();
        return out_;
    }

private:
    template <class... Values> void put(fmt::format_string<Values...> form, Values&&... values) {
        fmt::format_to(std::back_inserter(out_), form, std::forward<Values>(values)...);
    }

    void head() {
        put("name = {}\nsize_mm = {}\n", toml_quoted(course_.name), pair({course_.width_mm, course_.height_mm}));
        if (!course_.drawing.empty()) {
            put("drawing = {}\n", toml_quoted(std::filesystem::path(course_.drawing).filename().string()));
        }
        if (!course_.taken.floor) {
            put("floor = {}\n", words(course_.floor));
        }
        std::vector<std::string> line;
        if (!course_.taken.line) {
            line.push_back(fmt::format("colour = {}", words(course_.line)));
        }
        if (!course_.line_widths_mm.empty()) {
            std::vector<std::string> widths;
            for (const double width : course_.line_widths_mm) {
                widths.push_back(number(width));
            }
            line.push_back(fmt::format("width_mm = [{}]", fmt::join(widths, ", ")));
        }
        if (!line.empty()) {
            put("line = {{ {} }}\n", fmt::join(line, ", "));
        }
        if (course_.surface.columns > 0) {
            put("cell_mm = {}\n", number(course_.surface.cell_mm));
        }
    }

    void tapes() {
        for (const Tape& tape : course_.tapes) {
            if (tape.drawn) {
                continue;
            }
            put("\n[[tape]]\nwidth_mm = {}\npath = \"M", number(tape.width_mm));
            for (std::size_t i = 0; i < tape.path.size(); ++i) {
                put("{} {},{}", i == 0 ? "" : " L", number(tape.path[i].x), number(tape.path[i].y));
            }
            put("{}\"\n", tape.closed ? " Z" : "");
            if (!tape.gaps.empty()) {
                std::vector<std::string> gaps;
                for (const Gap& gap : tape.gaps) {
                    gaps.push_back(pair({gap.from_mm, gap.length_mm}));
                }
                put("gaps_mm = [{}]\n", fmt::join(gaps, ", "));
            }
        }
    }

    void palette() {
        if (course_.palette.empty() || course_.taken.palette) {
            return;
        }
        put("\n[palette]\n");
        for (const auto& [name, colour] : course_.palette) {
            put("{} = {}\n", toml_quoted(name), words(colour));
        }
    }

    void markers() {
        for (const Marker& marker : course_.markers) {
            if (marker.drawn) {
                continue;
            }
            put("\n[[marker]]\ncolour = {}\nat_mm = {}\nsize_mm = {}\nheading_deg = {}\n", toml_quoted(marker.colour),
                pair(marker.at), pair({marker.length_mm, marker.across_mm}), number(marker.heading_deg));
            if (!marker.name.empty()) {
                put("name = {}\n", toml_quoted(marker.name));
            }
        }
    }

    void things() {
        for (const Thing& thing : course_.things) {
            put("\n[[thing]]\nname = {}\nat_mm = {}\nsize_mm = {}\n", toml_quoted(thing.name), pair(thing.at),
                pair(thing.size_mm));
            const auto given = [&](const char* key, std::optional<double> value) {
                if (value) {
                    put("{} = {}\n", key, number(*value));
                }
            };
            given("heading_deg", thing.heading_deg != 0.0 ? std::optional{thing.heading_deg} : std::nullopt);
            given("from_s", thing.from_s > 0.0 ? std::optional{thing.from_s} : std::nullopt);
            given("until_s", thing.until_s);
            given("appears_mm", thing.appears_mm);
            given("goes_mm", thing.goes_mm);
            given("stays_s", thing.stays_s);
        }
    }

    void lights() {
        using Kind = OutsideLight::Kind;
        for (const OutsideLight& light : course_.lights) {
            put("\n[[light]]\nkind = {}\nstrength = {}\n", toml_quoted(name_of(light.kind)), number(light.strength));
            if (light.kind != Kind::even) {
                put("at_mm = {}\n", pair(light.at));
            }
            if (light.kind == Kind::window || light.kind == Kind::shadow) {
                put("to_mm = {}\n", pair(light.to));
            }
            if (light.kind == Kind::lamp) {
                put("height_mm = {}\n", number(light.height_mm));
            }
            if (light.soft_mm > 0.0) {
                put("soft_mm = {}\n", number(light.soft_mm));
            }
            if (light.flicker > 0.0) {
                put("flicker_hz = {}\nflicker = {}\n", number(light.flicker_hz), number(light.flicker));
            }
        }
    }

    void irons() {
        for (const Iron& iron : course_.irons) {
            put("\n[[iron]]\nat_mm = {}\nstrength = {}\n", pair(iron.at), number(iron.strength));
        }
    }

    void variants() {
        for (const Variant& variant : course_.variants) {
            put("\n[[variant]]\nname = {}\n", toml_quoted(variant.name));
            std::vector<std::string> list;
            for (const std::string& name : variant.without) {
                list.push_back(toml_quoted(name));
            }
            if (!list.empty()) {
                put("without = [{}]\n", fmt::join(list, ", "));
            }
            list.clear();
            for (const auto& [plate, colour] : variant.plates) {
                list.push_back(fmt::format("{} = {}", toml_quoted(plate), toml_quoted(colour)));
            }
            if (!list.empty()) {
                put("plates = {{ {} }}\n", fmt::join(list, ", "));
            }
        }
    }

    const Course& course_;
    std::string out_;
};

} // namespace

std::string course_toml(const Course& course) { return CourseWriter(course).run(); }

} // namespace vast_turn
