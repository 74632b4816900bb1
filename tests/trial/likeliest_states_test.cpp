/// The search that looks only near the path, against one that looks everywhere.
#include "trial/likeliest_states.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <random>

#include <doctest/doctest.h>

#include "course/graph/random_course.hpp"
#include "support/rounds.hpp"

using namespace vast_turn;

namespace {

constexpr double off_mm = 70.0;

/// What a sequence costs by the model that match_route() describes.
double cost_of(const LinePoints& points, const std::vector<PathPoint>& path, const std::vector<std::size_t>& states) {
    const double off_cost = 0.5 * (off_mm / 18.0) * (off_mm / 18.0);
    double sum = 0.0;
    for (std::size_t i = 0; i < path.size(); ++i) {
        const bool off = states[i] == points.size();
        const double away = off ? 0.0 : length(points.at(states[i]) - path[i].at) / 18.0;
        sum += off ? off_cost : 0.5 * away * away;
        if (i > 0 && off != (states[i - 1] == points.size())) {
            sum += 4.0;
        } else if (i > 0 && !off) {
            const auto near = points.near(states[i]);
            const auto step = std::find_if(near.begin(), near.end(),
                                           [&](const LinePoints::Near& n) { return n.point == states[i - 1]; });
            sum += step == near.end() ? 1e9 : std::abs(step->way_mm - length(path[i].at - path[i - 1].at)) / 9.0;
        }
    }
    return sum;
}

/// The least that any sequence costs, by Viterbi's algorithm over all points at every step.
double least_cost(const LinePoints& points, const std::vector<PathPoint>& path) {
    const double off_cost = 0.5 * (off_mm / 18.0) * (off_mm / 18.0);
    std::vector<double> cost(points.size() + 1);
    for (std::size_t i = 0; i < path.size(); ++i) {
        std::vector<double> next(cost.size(), std::numeric_limits<double>::infinity());
        const double way = i > 0 ? length(path[i].at - path[i - 1].at) : 0.0;
        const double best = *std::min_element(cost.begin(), cost.end() - 1);
        for (std::size_t s = 0; s < points.size(); ++s) {
            const double away = length(points.at(s) - path[i].at) / 18.0;
            double before = i == 0 ? 0.0 : cost.back() + 4.0;
            for (const LinePoints::Near& near : points.near(s)) {
                before = i == 0 ? 0.0 : std::min(before, cost[near.point] + std::abs(near.way_mm - way) / 9.0);
            }
            next[s] = before + 0.5 * away * away;
        }
        next.back() = (i == 0 ? 0.0 : std::min(cost.back(), best + 4.0)) + off_cost;
        cost = std::move(next);
    }
    return *std::min_element(cost.begin(), cost.end());
}

} // namespace

TEST_CASE("the likeliest way costs as little as any, also where the path leaves the lines and comes back") {
    const int courses = fixtures::rounds(60, 12, 2);
    for (int seed = 1; seed <= courses; ++seed) {
        CAPTURE(seed);
        const RouteGraph graph = find_route_graph(fixtures::random_course(static_cast<std::uint32_t>(seed)).course);
        const LinePoints points(graph);
        std::mt19937 random(static_cast<unsigned>(seed));
        std::vector<PathPoint> path;
        for (const Stretch& stretch : graph.stretches) { // jumps from line to line are ways off them
            for (std::size_t i = 0; i < stretch.path.size() && path.size() < 400; i += 4) {
                const auto stray = [&] { return static_cast<double>(random() % 61) - 30.0; };
                path.push_back({stretch.path[i] + Vec2{stray(), stray()}, static_cast<double>(path.size())});
            }
        }
        const std::vector<std::size_t> states = likeliest_states(points, path, off_mm);
        REQUIRE(states.size() == path.size());
        CHECK(cost_of(points, path, states) == doctest::Approx(least_cost(points, path)).epsilon(1e-9));
    }
}
