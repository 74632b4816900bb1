/// What routes says of plans without memory against what full rounds over random courses do.
#include <cstdlib>
#include <iostream>
#include <map>
#include <random>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "base/parallel.hpp"
#include "course/graph/random_course.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/trial/rounds.hpp"

using namespace vast_turn;

namespace {

struct Agreement {
    int rows = 0; ///< visits of arms of which the table is sure
    int rows_right = 0;
    int by_rounds = 0; ///< rows at which rounds did otherwise than robots that were set there
    int ends = 0;      ///< starts whose end the table is sure of
    int ends_right = 0;
    std::string differences{};
};

constexpr double sure = 0.95;

/// A place on a line, a good way from both its nodes.
std::optional<Pose> start_on(const RouteGraph& graph, std::mt19937& random, double array_ahead_mm) {
    for (int tries = 0; tries < 40 && !graph.stretches.empty(); ++tries) {
        const Stretch& line = graph.stretches[random() % graph.stretches.size()];
        const std::size_t n = line.path.size();
        if (line.length_mm < 260.0 || n < 60) {
            continue;
        }
        const std::size_t at = n / 2;
        const bool forward = random() % 2 == 0;
        const Vec2 way = forward ? line.path[at + 5] - line.path[at] : line.path[at] - line.path[at + 5];
        const double heading = to_degrees(std::atan2(-way.y, way.x));
        return Pose{line.path[at] - array_ahead_mm * direction(heading), heading};
    }
    return std::nullopt;
}

std::string end_of(const RouteGraph& graph, const Reach& reach) {
    return reach.circles ? "circles"
                         : fmt::format("{} at {}", static_cast<int>(reach.end),
                                       reach.nodes.empty() ? "no node" : graph.node(reach.nodes.back()).name);
}

Agreement agree(std::uint32_t seed, const Robot& robot, const Plan& plan) {
    Agreement out;
    Course course = fixtures::random_course(seed).course;
    std::mt19937 random(seed);
    const RouteGraph graph = find_route_graph(course);
    course.starts.clear();
    for (int i = 0; i < 5; ++i) {
        if (const auto pose = start_on(graph, random, array_middle(robot).x)) {
            course.starts.push_back({fmt::format("start {}", i), *pose});
        }
    }
    const Scene scene(course, robot);
    ChoiceOptions options;
    options.threads = 1;
    const PlanRoutes routes = find_routes(scene, plan, options);
    for (const Arm& arm : routes.arms) {
        out.by_rounds += arm.in_rounds ? 1 : 0;
        CHECK((!arm.in_rounds || (arm.by_turns.empty() && arm.stayed == 0))); // it has no order, being without memory
    }
    std::map<std::size_t, std::pair<int, int>> rows; // by arm: visits, and those as told
    const auto row_of = [&](NodeId node, ExitId from) {
        return static_cast<std::size_t>(
            std::find_if(routes.arms.begin(), routes.arms.end(),
                         [&](const Arm& arm) { return arm.node == node && arm.from == from; }) -
            routes.arms.begin());
    };
    for (std::size_t s = 0; s < course.starts.size(); ++s) {
        RunOptions run;
        run.start = course.starts[s].name;
        run.seed = 500 + s;
        run.time_limit_s = 60.0;
        const Run done = drive(scene, plan, run);
        const MatchedRoute route = match_run(scene, done);
        if (!route.told) {
            continue;
        }
        for (const Choice& choice : route.choices) {
            const std::size_t row = row_of(choice.node, choice.from);
            if (row < routes.arms.size() && routes.arms[row].share >= sure) {
                const Arm& arm = routes.arms[row];
                ++rows[row].first;
                rows[row].second += arm.usual == ArmEnd::exit && arm.usual_exit == choice.to ? 1 : 0;
            }
        }
        const Reach& reach = routes.reach[s];
        if (reach.share < sure || (!reach.circles && reach.end == ArmEnd::stayed)) {
            continue;
        }
        const bool ended = done.ending != Ending::time_over;
        const ArmEnd end = done.ending == Ending::halted ? ArmEnd::halted : ArmEnd::lost;
        const bool right = reach.circles ? !ended : ended && reach.end == end;
        ++out.ends;
        out.ends_right += right ? 1 : 0;
        if (!right) {
            out.differences += fmt::format("course {}, plan {}, start {}: told {}, but {} after {:.0f} s\n", seed,
                                           plan.name(), s, end_of(graph, reach), name_of(done.ending), done.time_s);
        }
    }
    for (const auto& [row, visits] : rows) {
        ++out.rows;
        const bool right = 2 * visits.second >= visits.first;
        out.rows_right += right ? 1 : 0;
        if (!right) {
            const Arm& arm = routes.arms[row];
            out.differences += fmt::format("course {}, plan {}: {} from the {}: {}, but so in {} of {}\n", seed,
                                           plan.name(), graph.node(arm.node).name, arm_name(graph, arm.node, arm.from),
                                           describe(graph, arm), visits.second, visits.first);
        }
    }
    return out;
}

} // namespace

TEST_CASE("routes: rows of plans without memory agree with full rounds over random courses" *
          doctest::skip(fixtures::sanitized())) {
    const auto courses = static_cast<std::uint32_t>(fixtures::rounds(60, 3, 1));
    struct Pair {
        const char* plan;
        const char* robot;
    };
    const std::vector<Pair> pairs = {{"five-wide", "sprig-5"},        {"plans/five-table", "sprig-5"},
                                     {"plans/five-pid", "sprig-5"},   {"plans/fork-left", "sprig-3"},
                                     {"plans/fork-right", "sprig-3"}, {"plans/three-table", "sprig-3"},
                                     {"left-first", "sprig-2"},       {"plans/four-table", "sprig-4"}};
    std::vector<Agreement> all(courses * pairs.size());
    for_each_index(all.size(), 0, [&](std::size_t i) {
        const Pair& pair = pairs[i % pairs.size()];
        const std::string folder = "data/fern-house/";
        all[i] = agree(static_cast<std::uint32_t>(7000 + i / pairs.size()),
                       load_robot(folder + pair.robot + ".robot.toml"), load_plan(folder + pair.plan + ".plan"));
    });
    Agreement sum;
    for (const Agreement& one : all) {
        sum.rows += one.rows;
        sum.rows_right += one.rows_right;
        sum.by_rounds += one.by_rounds;
        sum.ends += one.ends;
        sum.ends_right += one.ends_right;
        sum.differences += one.differences;
    }
    if (std::getenv("VTURN_TELL") != nullptr) {
        std::cout << sum.differences;
    }
    MESSAGE(sum.rows_right << " of " << sum.rows << " rows and " << sum.ends_right << " of " << sum.ends
                           << " ends as they are told; " << sum.by_rounds << " rows told by rounds");
    CHECK(sum.by_rounds > 0);
    REQUIRE(sum.rows > 0);
    CHECK(sum.rows_right >= 0.95 * sum.rows);
    if (courses >= 60) {
        CHECK(sum.rows_right >= 0.99 * sum.rows);
        CHECK(sum.ends_right >= 0.98 * sum.ends);
    }
}
