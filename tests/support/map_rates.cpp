#include "support/map_rates.hpp"

#include <algorithm>
#include <cmath>
#include <functional>

#include <fmt/format.h>

using namespace vast_turn;

namespace fixtures {

namespace {

constexpr double nowhere = std::numeric_limits<double>::infinity();

} // namespace

void MapRates::add(const MapRates& other) {
    for (Rate MapRates::*part : {&MapRates::nodes, &MapRates::found, &MapRates::lengths, &MapRates::gaps,
                                 &MapRates::plates, &MapRates::bends}) {
        (this->*part).all += (other.*part).all;
        (this->*part).right += (other.*part).right;
    }
}

std::string MapRates::text() const {
    std::string out;
    for (const auto& [name, rate] : {std::pair{"ends and junctions there", nodes},
                                     {"none false", found},
                                     {"lengths", lengths},
                                     {"gaps", gaps},
                                     {"plates", plates},
                                     {"bends", bends}}) {
        out += fmt::format("{}{} {} of {} ({:.1f} %)", out.empty() ? "" : ", ", name, rate.right, rate.all,
                           100.0 * rate.right / std::max(1, rate.all));
    }
    return out;
}

namespace {

struct Comparer {
    const MixedCourse& truth;
    const Course& course;
    const RouteGraph& graph;
    std::vector<std::string>* told;
    double slack_mm;
    MapRates rates{};
    std::vector<int> known_as{}; ///< of each found node

    void say(std::string words) const {
        if (told != nullptr) {
            told->push_back(std::move(words));
        }
    }

    void count(MapRates::Rate& rate, bool right, const std::function<std::string()>& words) const {
        ++rate.all;
        rate.right += right ? 1 : 0;
        if (!right) {
            say(words());
        }
    }

    void nodes() {
        known_as.assign(graph.nodes.size(), -1);
        for (std::size_t i = 0; i < truth.nodes.size(); ++i) {
            const TrueNode& node = truth.nodes[i];
            std::size_t best = graph.nodes.size();
            double nearest = nowhere;
            for (std::size_t j = 0; j < graph.nodes.size(); ++j) {
                const double apart = length(graph.nodes[j].at - node.at);
                if (known_as[j] < 0 && graph.nodes[j].kind != NodeKind::seam && apart < nearest) {
                    nearest = apart;
                    best = j;
                }
            }
            const bool right = nearest <= slack_mm && static_cast<int>(graph.nodes[best].exits.size()) == node.degree;
            count(rates.nodes, right, [&] {
                return fmt::format("missed: {} ways at {:.0f},{:.0f}; nearest {:.1f} mm off, {} ways", node.degree,
                                   node.at.x, node.at.y, nearest,
                                   best < graph.nodes.size() ? graph.nodes[best].exits.size() : 0);
            });
            if (best < graph.nodes.size() && nearest <= 60.0) {
                known_as[best] = static_cast<int>(i); // near enough to tell lines by it
            }
        }
        for (std::size_t j = 0; j < graph.nodes.size(); ++j) {
            const Node& node = graph.nodes[j];
            if (node.kind != NodeKind::seam) {
                count(rates.found, known_as[j] >= 0, [&] {
                    return fmt::format("false: {} at {:.0f},{:.0f}", name_of(node.kind), node.at.x, node.at.y);
                });
            }
        }
    }

    const Stretch* stretch_of(const TrueLine& line, std::vector<bool>& taken) const {
        const Stretch* best = nullptr;
        std::size_t best_number = 0;
        for (std::size_t s = 0; s < graph.stretches.size(); ++s) {
            const Stretch& stretch = graph.stretches[s];
            const int from = known_as[stretch.from.index()];
            const int to = known_as[stretch.to.index()];
            const bool same = (from == line.from && to == line.to) || (from == line.to && to == line.from);
            if (!taken[s] && same &&
                (best == nullptr ||
                 std::abs(stretch.length_mm - line.length_mm) < std::abs(best->length_mm - line.length_mm))) {
                best = &stretch;
                best_number = s;
            }
        }
        if (best != nullptr) {
            taken[best_number] = true;
        }
        return best;
    }

    void lines() {
        std::vector<bool> taken(graph.stretches.size(), false);
        for (const TrueLine& line : truth.lines) {
            const Stretch* stretch = stretch_of(line, taken);
            const auto named = [&] {
                return line.from < 0 ? std::string("a ring")
                                     : fmt::format("the line from {:.0f},{:.0f}",
                                                   truth.nodes[static_cast<std::size_t>(line.from)].at.x,
                                                   truth.nodes[static_cast<std::size_t>(line.from)].at.y);
            };
            const double found = stretch == nullptr ? 0.0 : stretch->length_mm;
            count(rates.lengths, std::abs(found - line.length_mm) <= 0.02 * line.length_mm, [&] {
                return fmt::format("length: {} is {:.1f} mm long, told {:.1f}", named(), line.length_mm, found);
            });
            for (const TrueGap& gap : line.gaps) {
                count(rates.gaps, stretch != nullptr && has_gap(*stretch, gap), [&] {
                    return fmt::format("gap: {:.1f} mm at {:.0f},{:.0f}; nearest {}", gap.length_mm, gap.middle.x,
                                       gap.middle.y, stretch != nullptr ? nearest_gap(*stretch, gap) : "none");
                });
            }
            if (stretch != nullptr && line.tightest_mm <= 700.0) {
                count(rates.bends, std::abs(stretch->tightest_mm - line.tightest_mm) <= 0.1 * line.tightest_mm, [&] {
                    return fmt::format("bend: {} bends at {:.0f} mm, told {:.0f} at {:.0f},{:.0f}", named(),
                                       line.tightest_mm, stretch->tightest_mm, stretch->tightest_at.x,
                                       stretch->tightest_at.y);
                });
            }
        }
    }

    /// The bridge that lies nearest to a gap, in words.
    static std::string nearest_gap(const Stretch& stretch, const TrueGap& gap) {
        std::string words = "none";
        double best = std::numeric_limits<double>::infinity();
        for (const Bridge& bridge : stretch.bridges) {
            const Vec2 middle = at_length(stretch.path, bridge.from_mm + 0.5 * bridge.length_mm);
            const double off = length(middle - gap.middle);
            if (off < best) {
                best = off;
                const Vec2 next = at_length(stretch.path, bridge.from_mm + 0.5 * bridge.length_mm + 4.0);
                const double ahead = dot(gap.middle - middle, next - middle) / std::max(1e-9, length(next - middle));
                words = fmt::format("{:.1f} mm, {:.1f} off, of it {:.1f} along the line", bridge.length_mm, off, ahead);
            }
        }
        return words;
    }

    bool has_gap(const Stretch& stretch, const TrueGap& gap) const {
        const double near = slack_mm - 2.0;
        return std::any_of(stretch.bridges.begin(), stretch.bridges.end(), [&](const Bridge& bridge) {
            const Vec2 middle = at_length(stretch.path, bridge.from_mm + 0.5 * bridge.length_mm);
            return std::abs(bridge.length_mm - gap.length_mm) <= near && length(middle - gap.middle) <= near;
        });
    }

    void plates() {
        for (const Vec2 plate : truth.plates) {
            double nearest = nowhere;
            for (const Marker& marker : course.markers) {
                nearest = std::min(nearest, length(marker.at - plate));
            }
            count(rates.plates, nearest <= slack_mm - 2.0, [&] {
                return fmt::format("plate at {:.0f},{:.0f}: nearest told {:.1f} mm off", plate.x, plate.y, nearest);
            });
        }
        for (std::size_t i = truth.plates.size(); i < course.markers.size(); ++i) {
            count(rates.plates, false, [] { return std::string("a plate too many"); });
        }
    }
};

} // namespace

MapRates compare(const MixedCourse& truth, const Course& course, const RouteGraph& graph,
                 std::vector<std::string>* told, double slack_mm) {
    Comparer comparer{truth, course, graph, told, slack_mm};
    comparer.nodes();
    comparer.lines();
    comparer.plates();
    return comparer.rates;
}

} // namespace fixtures
