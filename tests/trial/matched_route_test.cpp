#include "vast_turn/trial/matched_route.hpp"

#include <algorithm>
#include <cmath>
#include <random>

#include <doctest/doctest.h>

#include "course/graph/random_course.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

const int walks = fixtures::rounds(1000, 140, 20);

/// A walk over a graph with known choices, and the path of a robot that takes it with all its bad habits.
class Walker {
public:
    Walker(const RouteGraph& graph, std::uint32_t seed) : graph_(graph), random_(seed) {}

    std::vector<Choice> choices;

    std::vector<PathPoint> walk() {
        const auto longest =
            std::max_element(graph_.stretches.begin(), graph_.stretches.end(),
                             [](const Stretch& a, const Stretch& b) { return a.length_mm < b.length_mm; });
        StretchId stretch(random_() % graph_.stretches.size());
        if (graph_.stretch(stretch).length_mm < 120.0) { // who begins in a stub is at its fork
            stretch = StretchId(longest - graph_.stretches.begin());
        }
        bool forward = random_() % 2 == 0;
        const int legs = 3 + static_cast<int>(random_() % 6);
        for (int i = 0; i < legs; ++i) {
            const Stretch& line = graph_.stretch(stretch);
            const bool last = i + 1 == legs;
            add(line, forward, i == 0 ? 0.3 : 0.0, last ? 0.7 : 1.0);
            if (last) {
                break;
            }
            const NodeId node = forward ? line.to : line.from;
            const std::vector<Exit>& exits = graph_.node(node).exits;
            const auto came = std::find_if(exits.begin(), exits.end(),
                                           [&](const Exit& e) { return e.stretch == stretch && e.forward != forward; });
            const ExitId from(came - exits.begin());
            ExitId to = from;
            while (exits.size() > 1 && to == from) {
                to = ExitId(random_() % exits.size());
            }
            if (exits.size() > 2 && random_() % 4 == 0) {
                glance(exits, from, to);
            }
            if (exits.size() > 2) { // turning back at an end is no choice
                choices.push_back({node, from, to, Turn::straight, 0.0});
            }
            stretch = exits[to.index()].stretch;
            forward = exits[to.index()].forward;
        }
        return driven();
    }

private:
    double real(double low, double high) { return low + (high - low) * static_cast<double>(random_()) / 4294967296.0; }

    void add(const Stretch& line, bool forward, double from, double to) {
        std::vector<Vec2> path = line.path;
        if (!forward) {
            std::reverse(path.begin(), path.end());
        }
        const auto n = static_cast<double>(path.size());
        const auto begin = static_cast<std::size_t>(from * n);
        const auto end = static_cast<std::size_t>(to * n);
        way_.insert(way_.end(), path.begin() + static_cast<std::ptrdiff_t>(begin),
                    path.begin() + static_cast<std::ptrdiff_t>(end));
        if (random_() % 5 == 0 && way_.size() > 40) { // a search: swings to both sides
            const Vec2 at = way_.back();
            const Vec2 aside = at - way_[way_.size() - 10];
            for (int k = 0; k <= 24; ++k) {
                const double swing = 1.1 * std::sin(k * pi / 6.0);
                way_.push_back(at + swing * Vec2{-aside.y, aside.x});
            }
        }
        if (random_() % 6 == 0 && end > begin + 80) { // there and back a piece of this line
            const std::size_t size = way_.size();
            for (std::size_t k = 1; k < 30; ++k) {
                way_.push_back(way_[size - 1 - k]);
            }
            for (std::size_t k = 30; k-- > 0;) {
                way_.push_back(way_[size - 1 - k]);
            }
        }
    }

    /// A look into a wrong exit, and out again.
    void glance(const std::vector<Exit>& exits, ExitId from, ExitId to) {
        for (std::size_t other = 0; other < exits.size(); ++other) {
            const Exit& exit = exits[other];
            std::vector<Vec2> path = graph_.stretch(exit.stretch).path;
            if (other == from.index() || other == to.index() || path.size() < 60) {
                continue;
            }
            if (!exit.forward) {
                std::reverse(path.begin(), path.end());
            }
            way_.insert(way_.end(), path.begin(), path.begin() + 12);
            for (int k = 12; k-- > 0;) {
                way_.push_back(path[static_cast<std::size_t>(k)]);
            }
            return;
        }
    }

    /// The way with corners cut, wobble and noise; points about 5 mm apart.
    std::vector<PathPoint> driven() {
        const double wobble = real(0.0, 11.0);
        const double wave = real(80.0, 300.0);
        const std::size_t cut = 1 + random_() % 12;
        std::normal_distribution<double> noise(0.0, 1.5);
        std::vector<PathPoint> path;
        double along = 0.0;
        for (std::size_t i = 0; i + 1 < way_.size(); ++i) {
            along += length(way_[i + 1] - way_[i]);
            Vec2 mean;
            double count = 0.0;
            for (std::size_t k = i - std::min(i, cut); k <= std::min(way_.size() - 1, i + cut); ++k) {
                mean = mean + way_[k];
                count += 1.0;
            }
            const Vec2 step = way_[i + 1] - way_[i];
            const double size = std::max(1e-6, length(step));
            const Vec2 aside = (wobble * std::sin(along / wave * 2.0 * pi) / size) * Vec2{-step.y, step.x};
            const Vec2 at = (1.0 / count) * mean + aside + Vec2{noise(random_), noise(random_)};
            if (path.empty() || length(at - path.back().at) > 5.0) {
                path.push_back({at, 0.01 * static_cast<double>(i)});
            }
        }
        return path;
    }

    const RouteGraph& graph_;
    std::mt19937 random_;
    std::vector<Vec2> way_;
};

bool same_choices(const std::vector<Choice>& a, const std::vector<Choice>& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const Choice& x, const Choice& y) {
        return x.node == y.node && x.from == y.from && x.to == y.to;
    });
}

std::string listed(const RouteGraph& graph, const std::vector<Choice>& choices) {
    std::string text;
    for (const Choice& c : choices) {
        text +=
            graph.node(c.node).name + " " + std::to_string(c.from.index()) + ">" + std::to_string(c.to.index()) + ", ";
    }
    return text;
}

} // namespace

TEST_CASE("routes of runs with wobble, search, there and back, glances and cut corners are told as they were") {
    int wrong = 0;
    int untold = 0;
    int right = 0;
    RouteGraph graph;
    for (int i = 0; right + wrong + untold < walks; ++i) {
        if (i % 10 == 0) {
            graph = find_route_graph(fixtures::random_course(static_cast<std::uint32_t>(5000 + i / 10)).course);
        }
        if (graph.stretches.empty()) {
            continue;
        }
        Walker walker(graph, static_cast<std::uint32_t>(i));
        const std::vector<PathPoint> path = walker.walk();
        const MatchedRoute route = match_route(graph, path);
        if (!route.told) {
            ++untold;
        } else if (same_choices(route.choices, walker.choices)) {
            ++right;
        } else {
            ++wrong;
            MESSAGE("walk " << i << ": found " << listed(graph, route.choices) << "; was "
                            << listed(graph, walker.choices));
        }
    }
    MESSAGE(walks << " walks: " << right << " right, " << wrong << " wrong, " << untold << " not told");
    CHECK(wrong == 0);
    CHECK(right > walks * 9 / 10);
}

TEST_CASE("who leaves the line to go round something and comes back ahead has stayed on it") {
    const RouteGraph graph = find_route_graph(fixtures::board({"M 60,300 H 940", "M 500,40 V 560"}));
    /// Along the line with a detour of `aside` mm from `from` to `to`.
    const auto round = [&](double from, double to, double aside) {
        std::vector<PathPoint> path;
        double t = 0.0;
        for (double x = 80.0; x < from; x += 8.0) {
            path.push_back({{x, 300.0}, t += 0.1});
        }
        for (double y = 300.0; y > 300.0 - aside; y -= 8.0) {
            path.push_back({{from, y}, t += 0.1});
        }
        for (double x = from; x < to; x += 8.0) {
            path.push_back({{x, 300.0 - aside}, t += 0.1});
        }
        for (double y = 300.0 - aside; y < 300.0; y += 8.0) {
            path.push_back({{to, y}, t += 0.1});
        }
        for (double x = to; x < 800.0; x += 8.0) {
            path.push_back({{x, 300.0}, t += 0.1});
        }
        return match_route(graph, path);
    };
    for (const double aside : {100.0, 160.0}) {
        CAPTURE(aside);
        const MatchedRoute route = round(160.0, 420.0, aside); // from one half of the stretch to the other
        CHECK(route.told);
        CHECK(describe(graph, route) == "crossing 1 straight");
    }
}
