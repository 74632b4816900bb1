#include "vast_turn/trial/trip_result.hpp"

#include <doctest/doctest.h>
#include <fmt/format.h>
#include <fmt/ranges.h>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/trips_file.hpp"

using namespace vast_turn;

namespace {

struct TripHouse : fixtures::FernHouse {
    TripResult take(const std::string& name, const Trip& trip, std::uint64_t seed = 1) const {
        RunOptions options;
        options.seed = seed;
        return take_trip(scene, other(name), trip, options);
    }
    const Trip& ferns() const { return trips[0]; }
    const Trip& pots() const { return trips[1]; }
};

std::string because(const TripResult& result) { return fmt::format("{}", fmt::join(result.failures, "; ")); }

} // namespace

TEST_CASE("left first reaches the mist room, right first the dock, whatever the noise" *
          doctest::skip(fixtures::sanitized())) {
    const TripHouse f;
    for (std::uint64_t seed = 1; seed <= 8; ++seed) {
        CAPTURE(seed);
        CHECK(f.take("left-first", f.ferns(), seed).passed);
        CHECK(f.take("right-first", f.pots(), seed).passed);
        CHECK_FALSE(f.take("left-first", f.pots(), seed).passed);
        CHECK_FALSE(f.take("right-first", f.ferns(), seed).passed);
    }
}

TEST_CASE("a wrong turn is put down to the rule that acted at the fork, and names the one that held too") {
    const TripHouse f;
    const TripResult result = f.take("left-first", f.pots());
    CHECK(because(result) == "visited sharp bend, fork, mist room; expected sharp bend, fork, dock");
    REQUIRE(result.parting.has_value());
    const Parting& parting = *result.parting;
    CHECK(parting.after == "fork");
    CHECK(parting.expected == "dock");
    CHECK(parting.instead == "mist room");
    CHECK(to_marks(parting.pattern) == "##");
    CHECK(parting.rule == RuleId(1));
    CHECK(parting.held_too == std::vector{RuleId(2)});
    CHECK(parting.better == RuleId(2));
    REQUIRE_FALSE(parting.decisions.empty());
    CHECK(parting.decisions.front().look == parting.look);
    CHECK(length(parting.at - f.course.find_place("fork")->at) < 80.0);
    const auto lines = explain(f.plan, parting);
    REQUIRE(lines.size() == 6);
    CHECK(lines[1] == "at \"fork\", coming from the south: took left, expected right");
    CHECK(lines[3] == "by line 9: [#?] -> wheels(inside, cruise)");
    CHECK(lines[4] == "from there it goes as expected with line 10 acting in its place");
    CHECK(lines[5] == "held too, but stands below: line 10: [?#] -> wheels(cruise, inside)");
}

TEST_CASE("flying off at the bend is put down to the last rule that acted on a line that was seen") {
    const TripHouse f;
    const TripResult result = f.take("gentle", f.ferns());
    REQUIRE(result.parting.has_value());
    CHECK(result.run.ending == Ending::off_course);
    CHECK(result.parting->after == "sharp bend");
    CHECK(result.parting->instead == "off course");
    CHECK(to_marks(result.parting->pattern) == "#.");
    CHECK(length(result.parting->at - f.course.find_place("sharp bend")->at) < 60.0);
}

TEST_CASE("a trip fails when it takes too long, ends otherwise or visits a place between") {
    const TripHouse f;
    Trip hurried = f.ferns();
    hurried.within_s = 3.0;
    CHECK(because(f.take("left-first", hurried)) == "visited sharp bend; expected sharp bend, fork, mist room; ended "
                                                    "with time over (the time of 3 s was over); expected halt");
    Trip off = f.ferns();
    off.ends = Ending::off_course;
    CHECK(because(f.take("left-first", off)) == "ended with halt (its decision logic said halt); expected off course");
    Trip direct = f.ferns();
    direct.visits = {"sharp bend", "mist room"};
    const TripResult between = f.take("left-first", direct);
    CHECK(because(between) == "visited sharp bend, fork, mist room; expected sharp bend, mist room");
    CHECK(between.parting->instead == "fork");
    Trip shorter = f.ferns();
    shorter.visits = {"sharp bend", "fork"};
    const TripResult longer = f.take("left-first", shorter);
    REQUIRE(longer.parting.has_value());
    CHECK(longer.parting->expected == "halt");
    CHECK(longer.parting->instead == "mist room");
}

TEST_CASE("a trip may expect the robot to drive off or to be lost") {
    const TripHouse f;
    Trip trip = f.ferns();
    trip.visits = {"sharp bend"};
    trip.ends = Ending::off_course;
    CHECK(f.take("gentle", trip).passed);
}

TEST_CASE("a trip that names an unknown place or start is refused") {
    const TripHouse f;
    Trip trip = f.ferns();
    trip.visits = {"mist rom"};
    CHECK_THROWS_AS(f.take("gentle", trip), InputError);
    trip = f.ferns();
    trip.from = "nowhere";
    CHECK_THROWS_AS(f.take("gentle", trip), InputError);
}

TEST_CASE("with any end nothing behind what is expected matters") {
    const TripHouse f;
    Trip some = f.ferns();
    some.visits.pop_back(); // the last place is not asked for
    CHECK(because(f.take("left-first", some)).find("visited ") == 0);
    some.then_any = true;
    CHECK(f.take("left-first", some).passed);
    some.within_s = 3.0; // too short to get there
    const TripResult hurried = f.take("left-first", some);
    CHECK(because(hurried) == "visited sharp bend; expected sharp bend, fork");
    Trip choices = f.ferns();
    choices.visits.clear();
    choices.choices = {"fork left"};
    choices.ends = Ending::lost;
    choices.then_any = true;
    CHECK(f.take("left-first", choices).passed);
    choices.choices = {"fork right"};
    CHECK_FALSE(f.take("left-first", choices).passed);
    const auto read = [&](const std::string& ends) {
        return parse_trips("[[trip]]\nname = \"t\"\nfrom = \"" + f.ferns().from + "\"\nvisits = [\"fork\"]\nends = \"" +
                               ends + "\"\n",
                           "trips", f.course);
    };
    CHECK(read("any").front().then_any);
    CHECK_FALSE(read("lost").front().then_any);
    CHECK(fixtures::message_of([&] { read("anny"); }).find("or any; or with a place") != std::string::npos);
    CHECK(fixtures::message_of([&] {
              parse_trips("[[trip]]\nname = \"t\"\nfrom = \"" + f.ferns().from + "\"\nends = \"any\"\n", "trips",
                          f.course);
          }).find("expects nothing says nothing") != std::string::npos);
}

TEST_CASE("a failed trip tells a marker that was seen only at the edge of another plate") {
    const std::string head = "name = \"bed\"\nsize_mm = [900, 500]\n[[tape]]\npath = \"M 80,250 H 820\"\n";
    const std::string rest =
        "[[start]]\nname = \"door\"\nat_mm = [120, 250]\nheading_deg = 0\n[[place]]\nname = \"clay "
        "bed\"\nat_mm = [690, 250]\n[[marker]]\ncolour = \"amber\"\nat_mm = [430, 250]\n"
        "[[marker]]\ncolour = \"clay\"\nat_mm = [690, 250]\n[[trip]]\nname = \"t\"\nfrom = \"door\"\n"
        "visits = [\"clay bed\"]\nwithin_s = 8\n";
    Robot robot = load_robot("data/fern-house/sprig-3.robot.toml");
    robot.colour_sensors = {{.name = "nose", .at_mm = {71.0, 0.0}}};
    const Plan plan = fixtures::compiled("plan \"p\"\nsensors 3\nmarkers amber, clay\nhabit follow {\n"
                                         "    fresh clay -> halt\n    else -> ahead(43)\n}\n");
    const auto misread = [&](const char* clay) {
        const CourseFile file = parse_course_file(
            fmt::format("{}[palette]\namber = \"#E69A17\"\nclay = \"{}\"\n{}", head, clay, rest), "bed");
        const Scene scene(file.course, robot);
        const TripResult result = take_trip(scene, Pilot(plan), file.trips[0], RunOptions{});
        return result.parting ? result.parting->misread : std::vector<std::string>{};
    };
    const std::vector<std::string> words = misread("#85591A"); // half amber, half tape
    REQUIRE(words.size() == 1);
    CHECK(words[0].find(" s: the edge of amber at 430,250 mm was taken for clay, for ") != std::string::npos);
    for (const std::string& told : misread("#0AF00A")) {
        CHECK(told.find("the edge of the line") != std::string::npos); // no plate is taken for it
    }
    CHECK(misread("#1E6FC0").size() == 1); // grey: half floor, half tape, at the rim of the plate
}

TEST_CASE("a failed trip tells a marker that was seen only at the edge of the line") {
    const std::string text = "name = \"bed\"\nsize_mm = [900, 500]\n[[tape]]\npath = \"M 80,250 H 820\"\n"
                             "[palette]\nslate = \"#808C8C\"\n[[marker]]\ncolour = \"slate\"\nat_mm = [690, 250]\n"
                             "[[marker]]\ncolour = \"slate\"\nat_mm = [260, 291]\n" // beside the line
                             "[[start]]\nname = \"door\"\nat_mm = [120, 258.5]\nheading_deg = 0\n"
                             "[[place]]\nname = \"slate bed\"\nat_mm = [690, 250]\n"
                             "[[trip]]\nname = \"t\"\nfrom = \"door\"\nvisits = [\"slate bed\"]\nwithin_s = 8\n";
    Robot robot = load_robot("data/fern-house/sprig-3.robot.toml");
    robot.colour_sensors = {{.name = "nose", .at_mm = {71.0, 0.0}}};
    const Plan plan = fixtures::compiled("plan \"p\"\nsensors 3\nmarkers slate\nhabit follow {\n"
                                         "    fresh slate -> halt\n    else -> ahead(43)\n}\n");
    const CourseFile file = parse_course_file(text, "bed");
    const Scene scene(file.course, robot);
    const TripResult result = take_trip(scene, Pilot(plan), file.trips[0], RunOptions{});
    REQUIRE(result.parting);
    REQUIRE_FALSE(result.parting->misread.empty());
    CHECK(result.parting->misread.front().find(" s: the edge of the line, the robot at ") != std::string::npos);
    CHECK(result.parting->misread.front().find("was taken for slate") != std::string::npos);
}

TEST_CASE("a run that went nowhere until its time was over says since when") {
    const TripHouse f;
    const auto ends = [&](const std::string& rules) {
        const Plan plan = fixtures::compiled(fixtures::plan_text(2, rules));
        Trip trip = f.ferns();
        trip.within_s = 6.0;
        return because(take_trip(f.scene, plan, trip));
    };
    CHECK(ends("else -> keep\n").find("it stood still from 0.00 s on") != std::string::npos);
    CHECK(ends("clock > 1s -> rotate(left, 30)\nelse -> ahead(40)\n").find("it turned on the spot from 1.") !=
          std::string::npos);
    CHECK(ends("clock > 1s -> still\nelse -> ahead(40)\n").find("it stood still from 1.") != std::string::npos);
    CHECK(ends("else -> ahead(12)\n").find(" on)") == std::string::npos); // it crawls
}
