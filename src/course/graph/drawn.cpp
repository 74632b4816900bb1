#include "vast_turn/course/graph/drawn.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "course/graph/equal_box.hpp"
#include "course/graph/line_colour.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

namespace {

/// Cells of like colour.
struct Bin {
    double count = 0.0;
    std::array<double, 3> sum{};

    Rgb mean() const {
        const auto channel = [&](std::size_t i) { return static_cast<std::uint8_t>(std::lround(sum[i] / count)); };
        return {channel(0), channel(1), channel(2)};
    }
};

/// Which colour of the palette a cell shows; -1 when another one is nearer or none is near.
class PaletteIndex {
public:
    explicit PaletteIndex(const Course& course) : course_(course) {
        for (const auto& entry : course.palette) {
            colours_.push_back(entry.second);
        }
    }

    int operator()(Rgb colour) const {
        constexpr double near = 48.0;
        double best = near * near;
        int found = -1;
        for (std::size_t i = 0; i < colours_.size(); ++i) {
            const double apart = squared_apart(colour, colours_[i]);
            if (apart < best) {
                best = apart;
                found = static_cast<int>(i);
            }
        }
        const bool ours =
            found >= 0 && best < squared_apart(colour, course_.floor) && best < squared_apart(colour, course_.line);
        return ours ? found : -1;
    }

private:
    const Course& course_;
    std::vector<Rgb> colours_;
};

/// The cells whose middles lie in an area.
struct CellBox {
    std::size_t left = 0;
    std::size_t top = 0;
    std::size_t wide = 0;
    std::size_t high = 0;

    /// Does something with the index of each of them, row by row.
    template <class Work> void each(const Surface& surface, const Work& work) const {
        for (std::size_t row = top; row < top + high; ++row) {
            const std::size_t first = row * static_cast<std::size_t>(surface.columns) + left;
            for (std::size_t at = first; at < first + wide; ++at) {
                work(at);
            }
        }
    }
};

CellBox cells_in(const Surface& surface, const Area& area) {
    const auto first = [&](double mm) { return std::max(0.0, std::ceil(mm / surface.cell_mm - 0.5 - 1e-9)); };
    const double right = std::min<double>(surface.columns, std::floor(area.to.x / surface.cell_mm + 0.5 + 1e-9));
    const double bottom = std::min<double>(surface.rows, std::floor(area.to.y / surface.cell_mm + 0.5 + 1e-9));
    const auto part = [](double from, double to) { return static_cast<std::size_t>(std::max(0.0, to - from)); };
    return {static_cast<std::size_t>(first(area.from.x)), static_cast<std::size_t>(first(area.from.y)),
            part(first(area.from.x), right), part(first(area.from.y), bottom)};
}

/// The smallest plate that is one. Of a small plate in pixels of more than a millimetre the rim shows a mixture with
/// what lies round it, so that less of it has its colour; but a few pixels of a colour may be chance.
double least_mm2(double pixel_mm) {
    constexpr double usual_mm2 = 60.0;
    constexpr double chance_pixels = 7.0;
    return std::min(usual_mm2, std::max(usual_mm2 / std::max(1.0, pixel_mm), chance_pixels * pixel_mm * pixel_mm));
}

Marker marker_of(const Moments& m, double cell_mm) {
    const EqualBox box = equal_box(m, cell_mm);
    Marker marker;
    marker.at = box.at;
    marker.length_mm = box.length_mm;
    marker.across_mm = box.across_mm;
    marker.heading_deg = box.heading_deg;
    marker.drawn = true;
    return marker;
}

/// Which of some colours unlike the floor's is that of the lines; the first when none has strokes. A bench may be
/// larger than all lines together, but it is no stroke; joints of tiles may be longer, but are paler.
Rgb line_among(const std::vector<Rgb>& candidates, const Surface& surface, const Area& within, Rgb floor) {
    Rgb taken = candidates.front();
    if (candidates.size() == 1) {
        return taken; // strokes take long to find
    }
    double most_strokes = 0.0; // of the colour that is taken, as what follows
    double most_ink = 0.0;
    for (const Rgb colour : candidates) {
        const double strokes = strokes_mm2(surface, within, colour);
        const double ink = strokes * std::sqrt(squared_apart(colour, floor));
        constexpr double shade = 140.0; // another of the same line: which is its own, the strokes tell
        const bool alike = squared_apart(colour, taken) < shade * shade && most_ink > 0.0;
        if (alike ? strokes > most_strokes : ink > most_ink) {
            most_strokes = strokes;
            most_ink = ink;
            taken = colour;
        }
    }
    return taken;
}

} // namespace

Area area_of(const Course& course) {
    return course.board ? course.board->mm : Area{{0.0, 0.0}, {course.width_mm, course.height_mm}};
}

FoundColours find_colours(const Surface& surface, const std::map<std::string, Rgb>& palette, const Area& within) {
    constexpr unsigned shift = 4; // 16 steps a channel
    std::vector<Bin> bins(4096);
    cells_in(surface, within).each(surface, [&](std::size_t at) {
        const std::uint32_t cell = surface.cells[at];
        const std::array<unsigned, 3> c{(cell >> 16U) & 255U, (cell >> 8U) & 255U, cell & 255U};
        Bin& bin = bins[((c[0] >> shift) << 8U) | ((c[1] >> shift) << 4U) | (c[2] >> shift)];
        bin.count += 1.0;
        for (std::size_t channel = 0; channel < 3; ++channel) {
            bin.sum[channel] += c[channel];
        }
    });
    std::sort(bins.begin(), bins.end(), [](const Bin& a, const Bin& b) { return a.count > b.count; });
    FoundColours found;
    if (bins.front().count <= 0.0) {
        return found;
    }
    found.floor = found.line = bins.front().mean();
    constexpr std::size_t most_candidates = 5;
    std::vector<Rgb> candidates;
    for (const Bin& bin : bins) {
        if (bin.count <= 0.0) {
            break;
        }
        constexpr double clearly = 110.0;
        constexpr double like = 60.0;
        const Rgb colour = bin.mean();
        const bool of_palette = std::any_of(palette.begin(), palette.end(), [&](const auto& entry) {
            return squared_apart(colour, entry.second) < like * like;
        });
        constexpr double same = 80.0; // shades at the rim of a line, on the way to the floor's colour
        constexpr double beyond = 30.0;
        const double from_floor = std::sqrt(squared_apart(colour, found.floor));
        const bool is_known = std::any_of(candidates.begin(), candidates.end(), [&](Rgb other) {
            return squared_apart(colour, other) < same * same &&
                   from_floor < std::sqrt(squared_apart(other, found.floor)) + beyond;
        });
        if (!of_palette && !is_known && squared_apart(colour, found.floor) > clearly * clearly) {
            candidates.push_back(colour);
            if (candidates.size() == most_candidates) {
                break;
            }
        }
    }
    if (!candidates.empty()) {
        found.line = line_among(candidates, surface, within, found.floor);
    }
    return found;
}

void find_markers(Course& course, double pixel_mm) {
    const Surface& surface = course.surface;
    const PaletteIndex index(course);
    const auto columns = static_cast<std::size_t>(surface.columns);
    std::vector<std::int8_t> patch(surface.cells.size(), -1);
    std::uint32_t last_colour = 0xFFFFFFFFU;
    std::int8_t last = -1;
    cells_in(surface, area_of(course)).each(surface, [&](std::size_t at) {
        const std::uint32_t cell = surface.cells[at];
        if (cell != last_colour) {
            const auto channel = [cell](unsigned places) { return static_cast<std::uint8_t>((cell >> places) & 255U); };
            last_colour = cell;
            last = static_cast<std::int8_t>(index({channel(16U), channel(8U), channel(0U)}));
        }
        patch[at] = last;
    });
    std::vector<std::string> names;
    for (const auto& entry : course.palette) {
        names.push_back(entry.first);
    }
    const double least = least_mm2(pixel_mm);
    std::vector<std::size_t> open;
    for (std::size_t first = 0; first < patch.size(); ++first) {
        const std::int8_t colour = patch[first];
        if (colour < 0) {
            continue;
        }
        Moments moments;
        open.assign(1, first);
        patch[first] = -1;
        while (!open.empty()) {
            const std::size_t at = open.back();
            open.pop_back();
            const std::size_t row = at / columns;
            moments.add(static_cast<double>(at - row * columns), static_cast<double>(row));
            const auto reach = [&](bool inside, std::size_t there) {
                if (inside && patch[there] == colour) {
                    patch[there] = -1;
                    open.push_back(there);
                }
            };
            reach(at % columns > 0, at - 1);
            reach(at % columns + 1 < columns, at + 1);
            reach(at >= columns, at - columns);
            reach(at + columns < patch.size(), at + columns);
        }
        if (moments.n * surface.cell_mm * surface.cell_mm >= least) {
            Marker marker = marker_of(moments, surface.cell_mm);
            marker.colour = names[static_cast<std::size_t>(colour)];
            marker.rgb = course.palette[marker.colour];
            course.markers.push_back(marker);
        }
    }
}

void find_tapes(Course& course) {
    for (const Stretch& stretch : find_route_graph(course).stretches) {
        Tape tape;
        tape.path = stretch.path;
        tape.width_mm = stretch.width_mm;
        tape.drawn = true;
        for (const Bridge& bridge : stretch.bridges) {
            tape.gaps.push_back({bridge.from_mm, bridge.length_mm});
        }
        course.tapes.push_back(std::move(tape));
    }
}

} // namespace vast_turn
