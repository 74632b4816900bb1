#include "vast_turn/trial/junction_choices.hpp"

#include <algorithm>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/trial/rounds.hpp"

using namespace vast_turn;
using fixtures::call_vturn;
using fixtures::Called;

namespace {

struct Wing {
    Course course;
    Robot robot;
    Plan plan;
    Scene scene;
    RouteGraph graph;

    Wing(const std::string& course_name, const std::string& robot_name, const std::string& plan_name)
        : course(load_course("data/fern-house/" + course_name + ".course.toml")),
          robot(load_robot("data/fern-house/" + robot_name + ".robot.toml")),
          plan(load_plan("data/fern-house/" + plan_name + ".plan")), scene(course, robot),
          graph(find_route_graph(course)) {}

    const Arm& arm(const std::vector<Arm>& arms, const std::string& node, const std::string& side) const {
        const auto at = std::find_if(arms.begin(), arms.end(), [&](const Arm& a) {
            return graph.node(a.node).name == node && arm_name(graph, a.node, a.from) == side;
        });
        REQUIRE(at != arms.end());
        return *at;
    }
};

/// The junctions that a full run passes.
std::vector<NodeId> passed_nodes(const MatchedRoute& route) {
    std::vector<NodeId> nodes;
    for (const Choice& choice : route.choices) {
        nodes.push_back(choice.node);
    }
    return nodes;
}

} // namespace

TEST_CASE("routes: at the fork one plan goes left, the other right, and where that leads") {
    struct Way {
        const char* plan;
        Turn turn;
        const char* end;
    };
    for (const Way& way : {Way{"left-first", Turn::left, "mist room"}, Way{"right-first", Turn::right, "dock"}}) {
        CAPTURE(way.plan);
        const Wing wing("fern-house", "sprig-2", way.plan);
        const std::vector<Arm> arms = find_choices(wing.scene, wing.plan);
        const Arm& fork = wing.arm(arms, "fork", "south");
        REQUIRE(fork.usual == ArmEnd::exit);
        CHECK(turn_between(wing.graph.node(fork.node), fork.from, fork.usual_exit) == way.turn);
        CHECK(fork.share == 1.0);
        CHECK(fork.robots == 8);
        const std::vector<Reach> reach = find_reach(wing.course, wing.graph, arms);
        REQUIRE(reach.size() == 1);
        REQUIRE(reach[0].nodes.size() == 2);
        CHECK(wing.graph.node(reach[0].nodes[1]).name == way.end);
        CHECK(reach[0].end == ArmEnd::halted);
        CHECK_FALSE(reach[0].circles);
    }
}

TEST_CASE("routes: what is foretold from the table is what a full run does; it circles for ever where it does" *
          doctest::skip(fixtures::sanitized())) {
    for (const auto& round : {std::pair{"glass-wing", false}, std::pair{"night-round", true}}) {
        const bool circles = round.second;
        CAPTURE(round.first);
        const Wing wing(round.first, "sprig-5", "five-wide");
        const std::vector<Arm> arms = find_choices(wing.scene, wing.plan);
        const std::vector<Reach> reach = find_reach(wing.course, wing.graph, arms);
        REQUIRE(reach.size() == wing.course.starts.size());
        RunOptions options;
        options.time_limit_s = 40.0;
        options.with_things = false;
        const Run run = drive(wing.scene, Mind(wing.plan), options);
        const MatchedRoute route = match_run(wing.scene, run);
        CHECK(route.told);
        const std::vector<NodeId> nodes = passed_nodes(route);
        CHECK(reach[0].circles == circles);
        REQUIRE(nodes.size() > 1);
        std::vector<NodeId> junctions;
        std::copy_if(reach[0].nodes.begin(), reach[0].nodes.end(), std::back_inserter(junctions),
                     [&](NodeId n) { return wing.graph.node(n).exits.size() > 2; });
        const std::size_t both = std::min(nodes.size(), junctions.size());
        CHECK(std::equal(nodes.begin(), nodes.begin() + static_cast<std::ptrdiff_t>(both), junctions.begin()));
        CHECK(both + 1 >= junctions.size());
    }
}

TEST_CASE("routes: the same for any number of threads, another with another seed's noise only" *
          doctest::skip(fixtures::sanitized())) {
    const Wing wing("glass-wing", "sprig-5", "five-wide");
    ChoiceOptions options;
    options.repeats = 3;
    options.threads = 1;
    const std::vector<Arm> one = find_choices(wing.scene, wing.plan, options);
    options.threads = 2;
    const std::vector<Arm> two = find_choices(wing.scene, wing.plan, options);
    REQUIRE(one.size() == two.size());
    for (std::size_t i = 0; i < one.size(); ++i) {
        CHECK(one[i].taken == two[i].taken);
        CHECK(one[i].halted == two[i].halted);
        CHECK(one[i].lost == two[i].lost);
        CHECK(one[i].robots == 3);
    }
}

TEST_CASE("vturn routes prints the table and where plans differ, as JSON and as a picture; bad calls are refused") {
    const fixtures::Folder folder;
    const std::string course = "data/fern-house/fern-house.course.toml";
    const std::string robot = "data/fern-house/sprig-2.robot.toml";
    const std::string left = "data/fern-house/left-first.plan";
    const std::string right = "data/fern-house/right-first.plan";
    const Called called = call_vturn({"routes", course, robot, left, right, "-o", folder.file("r.png")});
    CHECK(called.status == 0);
    CHECK(called.out.find("  fork       south             left 8/8      right 8/8     <- they differ\n") !=
          std::string::npos);
    CHECK(called.out.find("potting bench -> fork -> mist room, where it halts") != std::string::npos);
    CHECK(folder.names() == std::vector<std::string>{"r.png"});
    const Called json = call_vturn({"routes", course, robot, left, "--json", "--repeat", "2", "--jobs", "1"});
    const nlohmann::json parsed = nlohmann::json::parse(json.out);
    CHECK(parsed.at("plans")[0].at("reach")[0].at("end") == "halted");
    CHECK(parsed.at("plans")[0].at("reach")[0].at("towards").is_null());
    CHECK(parsed.at("plans")[0].at("choices").size() == 6);
    CHECK(call_vturn({"routes", course, robot, "data/fern-house/five-wide.plan"}).status == 2);
    CHECK(call_vturn({"routes", course, robot, left, "--repeat", "0"}).status == 2);
    CHECK(call_vturn({"routes", course, robot, left, "-o", "x.gif"}).status == 2);
}

TEST_CASE("a robot that stays says why, and a slow one has the time that its way takes") {
    const Course course = fixtures::board({"M 60 300 H 940", "M 500 60 V 540"});
    const Robot robot = fixtures::ideal_robot(3);
    const Scene scene(course, robot);
    const auto arms_of = [&](const std::string& rules) {
        return find_choices(scene, fixtures::compiled(fixtures::plan_text(3, rules)), {.repeats = 2});
    };
    const auto usual_at = [&](const std::vector<Arm>& arms, ArmEnd end) {
        return std::count_if(arms.begin(), arms.end(), [&](const Arm& arm) {
            return scene.graph().node(arm.node).exits.size() == 4 && arm.usual == end;
        });
    };
    const std::vector<Arm> waiting = arms_of("[###] -> still\n[##.] mirrored -> bend(9, 40)\nelse -> ahead(40)");
    CHECK(usual_at(waiting, ArmEnd::stayed) == 4);
    for (const Arm& arm : waiting) {
        CHECK((arm.usual != ArmEnd::stayed || arm.stayed_because.find("stands still at ") == 0));
    }
    const std::vector<Arm> slow = arms_of("[##.] mirrored -> bend(1, 5)\nelse -> ahead(5)"); // 21 mm/s
    CHECK(usual_at(slow, ArmEnd::exit) == 4);
}

TEST_CASE("routes: a plan that alternates is driven in rounds, and its row says by turns") {
    if (fixtures::sanitized()) {
        return; // other tests of routes look at the same memory
    }
    const Course course =
        parse_course("name = \"two ovals\"\nsize_mm = [1300, 900]\npalette = { amber = \"#E69A17\" }\n[[tape]]\n"
                     "path = \"M 400,700 H 900 A 250,250 0 0 0 900,200 H 400 A 250,250 0 0 0 400,700 Z\"\n[[tape]]\n"
                     "path = \"M 900,700 A 130,130 0 0 0 900,440 H 400 A 130,130 0 0 0 400,700\"\n[[marker]]\n"
                     "colour = \"amber\"\nat_mm = [640, 700]\nsize_mm = [37, 46]\n[[start]]\nname = \"door\"\n"
                     "at_mm = [440, 700]\nheading_deg = 0\n",
                     "ovals");
    const Robot robot = load_robot("data/fern-house/sprig-3.robot.toml");
    const Scene scene(course, robot);
    const std::string head = "plan \"p\"\nsensors 3\nmarkers amber\n";
    const std::string follow = "    [#..] mirrored -> bend(24, 38)\n    [##.] mirrored -> bend(9, 43)\n"
                               "    else -> ahead(43)\n}\n";
    const Plan alternates =
        fixtures::compiled(head +
                           "var way = left\nhabit follow {\n    fresh amber -> set way = -way\n"
                           "    way == left and [#??] -> bend(24, 38)\n    way == right and [??#] -> bend(-24, 38)\n" +
                           follow);
    const Plan always = fixtures::compiled(head + "habit follow {\n    [#??] -> bend(24, 38)\n" + follow);
    CHECK(remembers(alternates));
    CHECK_FALSE(remembers(always));
    const PlanRoutes routes = find_routes(scene, alternates);
    CHECK(routes.in_rounds);
    const auto arm_at = [&](const PlanRoutes& all, const std::string& node, const std::string& side) {
        const auto at = std::find_if(all.arms.begin(), all.arms.end(), [&](const Arm& arm) {
            return scene.graph().node(arm.node).name == node && arm_name(scene.graph(), arm.node, arm.from) == side;
        });
        REQUIRE(at != all.arms.end());
        return *at;
    };
    const Arm fork = arm_at(routes, "fork 2", "west");
    REQUIRE(fork.by_turns.size() == 2);
    CHECK(fork.by_turns[0] != fork.by_turns[1]);
    CHECK(fork.in_rounds);
    CHECK(fork.share == doctest::Approx(1.0));
    CHECK(describe(scene.graph(), fork).find("by turns: exit 2, exit 1 ") == 0);
    REQUIRE(routes.reach.size() == 1);
    CHECK(routes.reach[0].circles);
    const PlanRoutes plain = find_routes(scene, always);
    CHECK_FALSE(plain.in_rounds);
    CHECK(arm_at(plain, "fork 2", "west").by_turns.empty());
    ChoiceOptions one_thread;
    one_thread.threads = 1;
    CHECK(find_routes(scene, alternates, one_thread).arms.front().taken == routes.arms.front().taken);
}

TEST_CASE("routes: a round that halts between junctions is not said to come to the next" *
          doctest::skip(fixtures::sanitized())) {
    const std::string other_folder = "tests/trial/yards/";
    const Robot robot = load_robot("data/fern-house/sprig-3.robot.toml");
    Course yard = load_course(other_folder + "yard.course.toml");
    const auto way_from_the_road = [&](const Course& course) {
        const Scene scene(course, robot);
        const PlanRoutes routes = find_routes(scene, load_plan(other_folder + "deliver.plan"));
        const Reach reach = routes.reach.front();
        std::string way;
        for (const NodeId node : reach.nodes) {
            way += scene.graph().node(node).name + " ";
        }
        CHECK(reach.end == ArmEnd::halted);
        REQUIRE(reach.towards);
        CHECK(scene.graph().node(reach.towards).name == "pump");
        CHECK(reach.to_go_mm > 800.0);
        return way + "| " + reach.in_place;
    };
    CHECK(way_from_the_road(yard) == "pump shed gate tank | bay");
    std::erase_if(yard.places, [](const CoursePlace& place) { return place.name == "bay"; });
    CHECK(way_from_the_road(yard) == "pump shed gate tank | ");
    // One that turns round between junctions: neither trough nor fork 5, to which it was on its way, are told.
    const Course back = load_course(other_folder + "back-yard.course.toml");
    const Scene scene(back, robot);
    const PlanRoutes home = find_routes(scene, load_plan(other_folder + "home.plan"));
    for (const NodeId node : home.reach.front().nodes) {
        CHECK(scene.graph().node(node).name != "trough");
        CHECK(scene.graph().node(node).name != "fork 5");
    }
    CHECK(fixtures::call_vturn({"routes", other_folder + "yard.course.toml", "data/fern-house/sprig-3.robot.toml",
                                other_folder + "deliver.plan"})
              .out.find("-> tank, and halts at bay on the way to pump") != std::string::npos);
}
