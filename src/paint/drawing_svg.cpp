#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <string_view>

#include <fmt/format.h>
#include <librsvg/rsvg.h>
#include <pugixml.hpp>

#include "paint/drawing_cost.hpp"
#include "paint/drawing_kinds.hpp"
#include "paint/drawing_scale.hpp"
#include "paint/loaded_libraries.hpp"

namespace vast_turn {

namespace {

/// Elements that are drawn, or mean something for what is.
constexpr std::array<std::string_view, 42> known_elements = {
    "svg",          "g",       "defs",        "symbol",         "use",         "path",
    "rect",         "circle",  "ellipse",     "line",           "polyline",    "polygon",
    "style",        "title",   "desc",        "metadata",       "a",           "switch",
    "clipPath",     "mask",    "pattern",     "linearGradient", "stop",        "marker",
    "filter",       "image",   "text",        "tspan",          "view",        "radialGradient",
    "meshgradient", "feBlend", "feFlood",     "feMerge",        "feMergeNode", "feOffset",
    "feTile",       "feImage", "feComposite", "solidcolor",     "textPath",    "feColorMatrix"};

std::string_view local_name(const char* name) {
    const std::string_view whole = name;
    const std::size_t colon = whole.find(':');
    return colon == std::string_view::npos ? whole : whole.substr(colon + 1);
}

std::string_view prefix_of(const char* name) {
    const std::string_view whole = name;
    const std::size_t colon = whole.find(':');
    return colon == std::string_view::npos ? std::string_view{} : whole.substr(0, colon);
}

/// Looks for what is not drawn, or not as its author may think.
class Reporter : public pugi::xml_tree_walker {
public:
    Reporter(const std::string& path, const std::string& bytes, std::string_view prefix, std::vector<Problem>& to)
        : path_(path), bytes_(bytes), prefix_(prefix), to_(to) {}

    bool for_each(pugi::xml_node& node) override {
        if (node.type() != pugi::node_element || prefix_of(node.name()) != prefix_ || in_metadata(node)) {
            return true; // data of a drawing program
        }
        const std::string_view name = local_name(node.name());
        if (name == "image") {
            const std::string_view target =
                node.attribute("href") ? node.attribute("href").value() : node.attribute("xlink:href").value();
            if (target.substr(0, 5) != "data:") {
                say(node, fmt::format("the picture \"{}\" lies in another file and is not drawn", target),
                    "embed it in the drawing");
            }
        } else if (name == "text") {
            say(node, "text is drawn with the fonts of this machine, elsewhere it may look different",
                "turn it into paths, or remove it");
        } else if (name == "script" || name == "foreignObject" || name.substr(0, 7) == "animate") {
            say(node, fmt::format("`{}` is not drawn", name), "draw it with shapes");
        } else if (std::find(known_elements.begin(), known_elements.end(), name) == known_elements.end() &&
                   name.substr(0, 2) != "fe") {
            say(node, fmt::format("`{}` is unknown and not drawn", name), "draw it with shapes");
        }
        return true;
    }

    /// How often each was met.
    void count() {
        for (std::size_t i = 0; i < times_.size(); ++i) {
            if (times_[i] > 1) {
                to_[i].message += fmt::format(" ({} times; here the first)", times_[i]);
            }
        }
    }

private:
    static bool in_metadata(pugi::xml_node node) {
        for (; node; node = node.parent()) {
            if (local_name(node.name()) == "metadata") {
                return true;
            }
        }
        return false;
    }

    void say(const pugi::xml_node& node, std::string message, std::string cure) {
        constexpr std::size_t most = 20;
        const auto told = std::find_if(to_.begin(), to_.end(), [&](const Problem& p) { return p.message == message; });
        if (told != to_.end()) {
            ++times_[static_cast<std::size_t>(told - to_.begin())];
            return; // one line a cause
        }
        if (to_.size() >= most) {
            return;
        }
        times_.resize(to_.size(), 1);
        times_.push_back(1);
        const auto at = static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, node.offset_debug()));
        const auto line =
            1 +
            std::count(bytes_.begin(), bytes_.begin() + static_cast<std::ptrdiff_t>(std::min(at, bytes_.size())), '\n');
        to_.push_back(
            {Severity::warning, {path_, static_cast<int>(line), 0, 1, {}}, std::move(message), std::move(cure)});
    }

    const std::string& path_;
    const std::string& bytes_;
    std::string_view prefix_;
    std::vector<Problem>& to_;
    std::vector<int> times_; ///< of each of those
};

struct FreeHandle {
    void operator()(RsvgHandle* handle) const { g_object_unref(handle); }
};

/// Millimetres of a length with a physical unit.
std::optional<double> physical(const RsvgLength& length) {
    switch (length.unit) {
    case RSVG_UNIT_MM: return length.length;
    case RSVG_UNIT_CM: return 10.0 * length.length;
    case RSVG_UNIT_IN: return 25.4 * length.length;
    case RSVG_UNIT_PT: return 25.4 / 72.0 * length.length;
    case RSVG_UNIT_PC: return 25.4 / 6.0 * length.length;
    default: return std::nullopt;
    }
}

[[noreturn]] void fail(const std::string& path, GError* fault, const std::string& cure) {
    std::string message = fault == nullptr ? "unknown fault" : fault->message;
    g_clear_error(&fault);
    std::replace(message.begin(), message.end(), '\n', ' ');
    throw InputError(path, fmt::format("this SVG cannot be drawn: {}", message), cure);
}

class SvgDrawing : public Drawing {
public:
    SvgDrawing(std::string path, const std::string& bytes, const DrawingKeys& keys, Checked checked)
        : path_(std::move(path)) {
        constexpr std::size_t largest = 32U << 20U;
        if (bytes.size() > largest) {
            throw InputError(path_, "an SVG of more than 32 MB is too large", "simplify it, or save it as PNG");
        }
        GError* fault = nullptr;
        handle_.reset(
            svg_library().handle_new_from_data(reinterpret_cast<const guint8*>(bytes.data()), bytes.size(), &fault));
        if (handle_ == nullptr) {
            fail(path_, fault, "save it anew as plain SVG");
        }
        measure(keys);
        pugi::xml_document document;
        if (checked == Checked::no && document.load_buffer(bytes.data(), bytes.size())) {
            constexpr double cells_per_mm2 = 4.0;
            if (std::optional<Problem> problem = too_costly(
                    document, path_, cells_per_mm2 * facts_.on_floor.board_mm.x * facts_.on_floor.board_mm.y)) {
                throw InputError(std::vector<Problem>{*std::move(problem)});
            }
            Reporter reporter(path_, bytes, prefix_of(document.document_element().name()), facts_.warnings);
            document.traverse(reporter);
            reporter.count();
        }
    }

protected:
    void draw(cairo_t* context) const override {
        const RsvgRectangle room{0.0, 0.0, facts_.on_floor.size_mm.x, facts_.on_floor.size_mm.y};
        GError* fault = nullptr;
        if (svg_library().handle_render_document(handle_.get(), context, &room, &fault) == 0) {
            fail(path_, fault, "simplify it: very deep or very many shapes are refused");
        }
    }

private:
    void measure(const DrawingKeys& keys) {
        gboolean has_width = 0;
        gboolean has_height = 0;
        gboolean has_box = 0;
        RsvgLength width{};
        RsvgLength height{};
        RsvgRectangle box{};
        svg_library().handle_get_intrinsic_dimensions(handle_.get(), &has_width, &width, &has_height, &height, &has_box,
                                                      &box);
        const std::optional<double> wide = has_width != 0 ? physical(width) : std::nullopt;
        const std::optional<double> high = has_height != 0 ? physical(height) : std::nullopt;
        const bool pixels =
            has_width != 0 && has_height != 0 && width.unit == RSVG_UNIT_PX && height.unit == RSVG_UNIT_PX;
        OwnSize own;
        own.unit = "a user unit";
        if (wide && high) {
            own.mm = Vec2{*wide, *high};
        } else if (!pixels && has_box == 0) {
            throw InputError(path_, "this SVG has neither a size nor a viewBox", "give it width and height in mm");
        }
        own.units = pixels ? Vec2{width.length, height.length} : has_box != 0 ? Vec2{box.width, box.height} : *own.mm;
        facts_.on_floor = place_on_floor(path_, own, keys, facts_.warnings);
    }

    std::string path_;
    std::unique_ptr<RsvgHandle, FreeHandle> handle_;
};

} // namespace

std::unique_ptr<Drawing> read_svg_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys,
                                          Checked checked) {
    refuse_keys_of_pictures(path, "an SVG", keys);
    return std::make_unique<SvgDrawing>(path, bytes, keys, checked);
}

} // namespace vast_turn
