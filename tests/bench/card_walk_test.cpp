/// The check with a card, walked with counts as a hand and noise make them.
#include "vast_turn/bench/card_walk.hpp"

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/bench_hand.hpp"

using namespace vast_turn;

namespace {

struct OnBench {
    Course course = load_course("data/fern-house/fern-house.course.toml");
    Robot robot;
    Scene scene;

    explicit OnBench(int sensors)
        : robot(load_robot(fmt::format("data/fern-house/sprig-{}.robot.toml", sensors))), scene(course, robot) {}

    /// Walks through it as somebody does who is `late` steps late with the card.
    std::vector<WireFinding> walk(const std::vector<std::string>& faults, int late = 0) const {
        BenchHand hand(scene, 5, parse_faults(faults, static_cast<int>(robot.sensors.size())));
        CardWalk all(robot);
        for (int step = 0; !all.is_done(); ++step) {
            CHECK(all.card() == step);
            HeldOver held{HeldOver::What::card};
            const int card = step - late;
            held.cards = card > 0 ? 1U << static_cast<unsigned>(card - 1) : 0U;
            all.hold();
            while (all.is_holding()) {
                double counts[max_sensors] = {};
                hand.look(held, counts);
                all.take(counts);
            }
        }
        return all.findings();
    }
};

std::string words_of(const std::vector<WireFinding>& findings) {
    std::string words;
    for (const WireFinding& finding : findings) {
        words += name_of(finding.kind);
        for (const int sensor : finding.sensors) {
            words += fmt::format(" {}", sensor);
        }
        words += "; ";
        CHECK_FALSE(finding.says.empty());
        CHECK_FALSE(finding.to_do.empty());
    }
    return words;
}

} // namespace

TEST_CASE("card walk: on a sound robot of any number of sensors nothing is found") {
    for (const int sensors : {1, 2, 3, 4, 5}) {
        CAPTURE(sensors);
        CHECK(words_of(OnBench(sensors).walk({})).empty());
    }
}

TEST_CASE("card walk: every swapped pair is named") {
    for (const int sensors : {2, 3, 4, 5}) {
        const OnBench bench(sensors);
        for (int a = 1; a <= sensors; ++a) {
            for (int b = a + 1; b <= sensors; ++b) {
                CAPTURE(a);
                CAPTURE(b);
                CHECK(words_of(bench.walk({fmt::format("swapped:{},{}", a, b)})) ==
                      fmt::format("swapped {} {}; ", a, b));
            }
        }
    }
}

TEST_CASE("card walk: sensors that say nothing, or little, and wires in a ring") {
    const OnBench bench(5);
    CHECK(words_of(bench.walk({"sensor3=dead"})) == "silent 3; ");
    CHECK(words_of(bench.walk({"sensor1=stuck:0.4"})) == "silent 1; ");
    CHECK(words_of(bench.walk({"sensor4=dim:0.3"})) == "weak 4; ");
    CHECK(words_of(bench.walk({"sensor5=dead", "swapped:1,2"})) == "swapped 1 2; silent 5; ");
    CHECK(words_of(bench.walk({"swapped:1,2", "swapped:2,3"})) == "moved 1 2 3; ");
}

TEST_CASE("card walk: a card that lies there too early is noticed") {
    const OnBench bench(5);
    const std::vector<WireFinding> findings = bench.walk({}, -1);
    REQUIRE_FALSE(findings.empty());
    CHECK(findings[0].kind == WireFinding::Kind::present);
    CHECK(findings[0].sensors == std::vector<int>{1});
}

TEST_CASE("card walk: a step can be done once more, and one channel that counts the other way is told") {
    Robot robot = load_robot("data/fern-house/sprig-3.robot.toml");
    CardWalk walk(robot, 2);
    const auto give = [&](std::vector<double> counts) {
        counts.resize(max_sensors);
        walk.hold();
        walk.take(counts.data());
        CHECK(walk.is_holding());
        walk.take(counts.data());
        CHECK_FALSE(walk.is_holding());
    };
    give({800, 810, 120});
    give({800, 810, 120}); // the card was not there
    walk.back();
    give({110, 810, 120});
    walk.hold();
    walk.back(); // not now
    CHECK(walk.card() == 2);
    give({800, 112, 120});
    give({800, 810, 790});
    CHECK(words_of(walk.findings()) == "inverted 3; ");
}
