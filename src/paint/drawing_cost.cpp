#include "paint/drawing_cost.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <string_view>
#include <vector>

#include <fmt/format.h>
#include <gdk-pixbuf/gdk-pixbuf.h>

#include "paint/drawing_kinds.hpp"
#include "paint/loaded_libraries.hpp"
#include "vast_turn/course/board/svg_path.hpp"

namespace vast_turn {

namespace {

constexpr double most_us = 6e6;
constexpr double shape_us = 8.0;
constexpr double crossing_us = 0.5;
constexpr double cell_us = 1e-3; // drawn aside once
constexpr double never = 1e18;   // more than anything that is drawn

std::string_view plain_name(const pugi::xml_node& node) {
    const std::string_view whole = node.name();
    const std::size_t colon = whole.find(':');
    return colon == std::string_view::npos ? whole : whole.substr(colon + 1);
}

std::string_view link_of(const pugi::xml_node& node) {
    return node.attribute("href") ? node.attribute("href").value() : node.attribute("xlink:href").value();
}

/// Whether words of a style have what is drawn aside and laid over the rest.
bool is_laid_over(std::string_view style) {
    for (const char* word : {"filter", "mask", "clip-path", "mix-blend-mode", "opacity"}) {
        for (std::size_t at = style.find(word); at != std::string_view::npos; at = style.find(word, at + 1)) {
            const bool whole =
                at == 0 || (style[at - 1] != '-' && std::isalpha(static_cast<unsigned char>(style[at - 1])) == 0);
            if (whole) { // not stroke-opacity
                return true;
            }
        }
    }
    return false;
}

/// Microseconds for a polyline: its points, and the crossings of a line of that length in that room.
double cost_of_line(const std::vector<Vec2>& points) {
    double way = 0.0;
    Vec2 low = points.empty() ? Vec2{} : points.front();
    Vec2 high = low;
    for (std::size_t i = 1; i < points.size(); ++i) {
        way += length(points[i] - points[i - 1]);
        low = {std::min(low.x, points[i].x), std::min(low.y, points[i].y)};
        high = {std::max(high.x, points[i].x), std::max(high.y, points[i].y)};
    }
    const double wide = high.x - low.x;
    const double tall = high.y - low.y;
    const double room = std::max(wide * tall, 1e-3 * std::max(wide * wide, tall * tall));
    const auto n = static_cast<double>(points.size());
    const double crossings = room > 0.0 ? std::min(way * way / room, n * n) : 0.0;
    return n + crossing_us * crossings;
}

double cost_of_path(std::string_view data) {
    PathResult path = parse_svg_path(data, 1.0);
    for (int tries = 0; path.fault && tries < 3; ++tries) { // what stands before a fault is drawn
        data = data.substr(0, path.fault->at);
        path = parse_svg_path(data, 1.0);
    }
    if (path.fault) { // as much as a text of this length can ask for
        constexpr double letters_a_point = 4.0;
        const double n = static_cast<double>(data.size()) / letters_a_point;
        return n + crossing_us * n * n;
    }
    std::vector<Vec2> all;
    for (const SubPath& sub : path.paths) {
        all.insert(all.end(), sub.points.begin(), sub.points.end());
    }
    return cost_of_line(all);
}

double cost_of_points(const char* text) {
    std::vector<Vec2> points;
    std::vector<double> numbers;
    for (const char* at = text; *at != '\0';) {
        char* end = nullptr;
        const double value = std::strtod(at, &end);
        if (end == at) {
            ++at;
        } else {
            numbers.push_back(value);
            at = end;
        }
    }
    for (std::size_t i = 1; i < numbers.size(); i += 2) {
        points.push_back({numbers[i - 1], numbers[i]});
    }
    return cost_of_line(points);
}

/// Width and height of an embedded picture, 0 when it cannot be told.
struct PictureSize {
    int width = 0;
    int height = 0;
};

PictureSize embedded_size(std::string_view link) {
    PictureSize size;
    const std::size_t comma = link.find(',');
    if (link.substr(0, 5) != "data:" || comma == std::string_view::npos) {
        return size;
    }
    const std::string body(link.substr(comma + 1));
    gsize bytes = 0;
    guchar* raw = g_base64_decode(body.c_str(), &bytes);
    GdkPixbufLoader* loader = svg_library().loader_new();
    const auto told = +[](GdkPixbufLoader* self, int width, int height, void* to) {
        *static_cast<PictureSize*>(to) = {width, height};
        svg_library().loader_set_size(self, 0, 0); // so that it goes no further
    };
    g_signal_connect(loader, "size-prepared", G_CALLBACK(told), &size);
    constexpr gsize portion = 4096;
    for (gsize at = 0; at < bytes && size.width == 0; at += portion) {
        if (svg_library().loader_write(loader, raw + at, std::min(portion, bytes - at), nullptr) == 0) {
            break;
        }
    }
    svg_library().loader_close(loader, nullptr);
    g_object_unref(loader);
    g_free(raw);
    return size;
}

class Estimate {
public:
    Estimate(const pugi::xml_document& document, double cells) : cells_(cells) { gather(document.document_element()); }

    double of(const pugi::xml_node& node) {
        const auto known = costs_.find(node.internal_object());
        if (known != costs_.end()) {
            return known->second;
        }
        constexpr int deepest = 600; // of elements in one another and of references
        if (depth_ >= deepest) {
            return never;
        }
        ++depth_;
        costs_[node.internal_object()] = 0.0; // a circle of references is cut off by whoever draws
        double us = own(node);
        for (const pugi::xml_node& child : node.children()) {
            if (child.type() == pugi::node_element) {
                us = std::min(never, us + of(child));
            }
        }
        if (plain_name(node) == "use") {
            const auto target = by_id_.find(std::string(link_of(node)));
            us = target == by_id_.end() ? us : std::min(never, us + of(target->second));
        }
        costs_[node.internal_object()] = us;
        --depth_;
        return us;
    }

private:
    /// What has a name, and what style sheets say.
    void gather(const pugi::xml_node& root) {
        std::vector<pugi::xml_node> todo{root};
        while (!todo.empty()) {
            const pugi::xml_node node = todo.back();
            todo.pop_back();
            if (node.attribute("id")) {
                by_id_.emplace("#" + std::string(node.attribute("id").value()), node);
            }
            if (plain_name(node) == "style") {
                for (const pugi::xml_node& text : node.children()) {
                    sheet(text.value());
                }
            }
            for (const pugi::xml_node& child : node.children()) {
                if (child.type() == pugi::node_element) {
                    todo.push_back(child);
                }
            }
        }
    }

    void sheet(std::string_view css) {
        while (!css.empty()) {
            const std::size_t brace = css.find('{');
            const std::size_t end = std::min(css.size(), css.find('}', std::min(brace, css.size())));
            if (brace == std::string_view::npos) {
                return;
            }
            if (is_laid_over(css.substr(brace, end - brace))) {
                heavy_ += std::string(css.substr(0, brace)) + " ";
            }
            css.remove_prefix(std::min(css.size(), end + 1));
        }
    }

    bool heavy_by_sheet(const pugi::xml_node& node) const {
        if (heavy_.empty()) {
            return false;
        }
        const std::string classes = node.attribute("class").value();
        for (std::size_t at = 0; at < classes.size();) {
            const std::size_t end = std::min(classes.size(), classes.find(' ', at));
            if (end > at && heavy_.find("." + classes.substr(at, end - at)) != std::string::npos) {
                return true;
            }
            at = end + 1;
        }
        return heavy_.find('.') == std::string::npos; // by element or by id: it may be any
    }

    double own(const pugi::xml_node& node) const {
        const std::string_view name = plain_name(node);
        double us = shape_us;
        if (name == "path") {
            us += cost_of_path(node.attribute("d").value());
        } else if (name == "polyline" || name == "polygon") {
            us += cost_of_points(node.attribute("points").value());
        } else if (name == "image") {
            const PictureSize size = embedded_size(link_of(node));
            const double pixels = static_cast<double>(size.width) * size.height;
            us += pixels > most_pixels ? never : 10.0 * cell_us * pixels;
        }
        bool laid_over = is_laid_over(node.attribute("style").value()) || heavy_by_sheet(node);
        for (const char* key : {"filter", "mask", "clip-path", "opacity"}) {
            laid_over = laid_over || node.attribute(key);
        }
        us += laid_over ? cell_us * cells_ * layers_of(node) : 0.0;
        return us;
    }

    /// How often the cells are gone over: once, or for each step of a filter; the noise of feTurbulence is many.
    double layers_of(const pugi::xml_node& node) const {
        double layers = 1.0;
        const std::string all = std::string(node.attribute("filter").value()) + node.attribute("style").value();
        const bool filtered = all.find("url(") != std::string::npos || !heavy_.empty();
        for (const auto& [id, filter] : by_id_) {
            if (!filtered || plain_name(filter) != "filter") {
                continue;
            }
            for (const pugi::xml_node& step : filter.children()) {
                const double rounds = std::max(1.0, step.attribute("numOctaves").as_double(1.0));
                layers += plain_name(step) == "feTurbulence" ? 40.0 * rounds : 5.0;
            }
        }
        return layers;
    }

    double cells_;
    int depth_ = 0;
    std::map<std::string, pugi::xml_node> by_id_;
    std::map<void*, double> costs_;
    std::string heavy_; ///< selectors of what is laid over
};

} // namespace

std::optional<Problem> too_costly(const pugi::xml_document& document, const std::string& path, double cells) {
    const double us = Estimate(document, cells).of(document.document_element());
    if (us <= most_us) {
        return std::nullopt;
    }
    Problem problem;
    problem.place.file = path;
    problem.message = us >= never ? std::string("this SVG holds more than can be drawn")
                                  : fmt::format("this SVG would take about {:.0f} s to draw", us * 1e-6);
    problem.cure = "simplify it: fewer shapes, paths that cross themselves less, smaller pictures, no filters";
    return problem;
}

} // namespace vast_turn
