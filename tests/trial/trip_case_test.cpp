#include "vast_turn/formats/read/trips_file.hpp"
#include "vast_turn/trial/trip_case.hpp"

#include <algorithm>
#include <atomic>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/formats/write/trips_json.hpp"
#include "vast_turn/formats/write/trips_junit.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/trial/comparison.hpp"
#include "vast_turn/trial/cures.hpp"
#include "vast_turn/trial/matched_route.hpp"
#include "vast_turn/trial/trip_report.hpp"

using namespace vast_turn;
using fixtures::call_vturn;
using fixtures::Called;

namespace {

const std::string wing_course = "data/fern-house/glass-wing.course.toml";
const std::string wing_robot = "data/fern-house/sprig-5.robot.toml";
const std::string rounds = "data/fern-house/rounds.plan";
const std::string first_try = "data/fern-house/rounds-first-try.plan";

std::vector<std::string> names_of(const std::vector<TripCase>& cases) {
    std::vector<std::string> names;
    for (const TripCase& one : cases) {
        names.push_back(one.trip.name);
    }
    return names;
}

/// A small course with a plate and a can, in text.
std::string small_course(const std::string& more) {
    return "name = \"small\"\nsize_mm = [900, 500]\n[palette]\namber = \"#E69A17\"\nteal = \"#148C82\"\n"
           "[[tape]]\npath = \"M 60,250 H 840\"\n"
           "[[marker]]\nname = \"gate plate\"\ncolour = \"amber\"\nat_mm = [430, 250]\n"
           "[[thing]]\nname = \"can\"\nat_mm = [700, 250]\nsize_mm = [50, 50]\n"
           "[[place]]\nname = \"far\"\nat_mm = [800, 250]\n"
           "[[start]]\nname = \"west\"\nat_mm = [90, 250]\nheading_deg = 0\n"
           "[[start]]\nname = \"east\"\nat_mm = [800, 250]\nheading_deg = 180\n" +
           more;
}

} // namespace

TEST_CASE("a variant takes plates and things away or gives a plate another colour; the surface shows it") {
    const std::string text = small_course("[[variant]]\nname = \"bare\"\nwithout = [\"gate plate\", \"can\"]\n"
                                          "[[variant]]\nname = \"teal day\"\nplates = { \"gate plate\" = \"teal\" }\n");
    const auto under_plate = [](const Course& course) {
        return course.surface.at(static_cast<int>(430.0 / course.surface.cell_mm),
                                 static_cast<int>(266.0 / course.surface.cell_mm));
    };
    const Course drawn = parse_course(text, "c");
    CHECK(drawn.variant == as_drawn);
    CHECK(drawn.things.size() == 1);
    CHECK(under_plate(drawn) == drawn.palette.at("amber"));
    const Course bare = parse_course(text, "c", "bare");
    CHECK(bare.variant == "bare");
    CHECK(bare.things.empty());
    CHECK(bare.markers.empty());
    CHECK(under_plate(bare) == bare.floor);
    const Course teal = parse_course(text, "c", "teal day");
    CHECK(teal.markers.at(0).colour == "teal");
    CHECK(under_plate(teal) == teal.palette.at("teal"));
    CHECK(describe(teal.variants.at(0)) == "without gate plate, can");
    CHECK(describe(teal.variants.at(1)) == "gate plate is teal");
    CHECK(fixtures::message_of([&] { parse_course(text, "c", "baer"); }).find("did you mean `bare`") !=
          std::string::npos);
}

TEST_CASE("a variant that names what the file does not have is refused at its line") {
    const auto fault = [](const std::string& keys) {
        return fixtures::message_of([&] { parse_course(small_course("[[variant]]\nname = \"v\"\n" + keys), "c"); });
    };
    CHECK(fault("without = [\"gate plat\"]\n").find("c:29:11: error: \"gate plat\" is no named marker") == 0);
    CHECK(fault("without = [\"gate plat\"]\n").find("did you mean `gate plate`") != std::string::npos);
    CHECK(fault("plates = { can = \"teal\" }\n").find("\"can\" is no named marker") != std::string::npos);
    CHECK(fault("plates = { \"gate plate\" = \"tael\" }\n").find("did you mean `teal`") != std::string::npos);
    CHECK(fixtures::message_of([&] {
              parse_course(small_course("[[variant]]\nname = \"as drawn\"\n"), "c");
          }).find("two variants called") != std::string::npos);
}

TEST_CASE("a trip is driven from each of its starts over each of its variants") {
    const std::string text =
        small_course("[[variant]]\nname = \"bare\"\nwithout = [\"gate plate\"]\n"
                     "[[trip]]\nname = \"both ways\"\nfrom = [\"west\", \"east\"]\nvisits = []\n"
                     "[[trip]]\nname = \"one\"\nfrom = \"west\"\nvariants = [\"bare\"]\nvisits = [\"far\"]\n"
                     "repeats = 3\n");
    const auto file = parse_course_file(text, "c");
    const Course& drawn = file.course;
    const std::vector<Trip>& trips = file.trips;
    const Course bare = parse_course(text, "c", "bare");
    CHECK(trips.at(0).also_from == std::vector<std::string>{"east"});
    CHECK(trips.at(1).repeats == 3);
    const Robot robot = fixtures::ideal_robot(2);
    const Scene a(drawn, robot);
    const Scene b(bare, robot);
    const std::vector<TripCase> cases = cases_of({&a, &b}, trips);
    CHECK(names_of(cases) == std::vector<std::string>{"both ways, from west, as drawn", "both ways, from west, bare",
                                                      "both ways, from east, as drawn", "both ways, from east, bare",
                                                      "one"});
    CHECK(cases[1].scene == &b);
    CHECK(cases[2].scene == &a);
    CHECK(cases[2].trip.from == "east");
    CHECK(cases[4].scene == &b);
    CHECK(names_of(cases_of(b, trips)) ==
          std::vector<std::string>{"both ways, from west", "both ways, from east", "one"});
    CHECK(variants_of(drawn, {trips[1]}) == std::vector<std::string>{"bare"});
    CHECK(fixtures::message_of([&] { cases_of({&a}, trips); }).find("not at hand") != std::string::npos);
}

TEST_CASE("how days differ may stand with the trips: in place of the robot's, behind what the call says") {
    const std::string trip = "[[trip]]\nname = \"t\"\nfrom = \"west\"\nvisits = [\"far\"]\nwithin_s = 9\n";
    const std::string days = "[variation]\nleft_motor = { about = 0.9, deviation = 0.02 }\n";
    const Course course = parse_course(small_course(""), "c");
    const TripSheet sheet = parse_trip_sheet(trip + days, "t", course);
    REQUIRE(sheet.variation);
    REQUIRE(sheet.variation->size() == 1);
    CHECK(sheet.variation->front().what == Quantity::left_motor);
    CHECK_FALSE(parse_trip_sheet(trip, "t", course).variation);
    CHECK(fixtures::message_of([&] {
              parse_trip_sheet(trip + "[variation]\nleft_moter = { about = 1, deviation = 0.02 }\n", "t", course);
          }).find("did you mean `left_motor`") != std::string::npos);
    const fixtures::Folder folder;
    write_file(folder.file("c.course.toml"), small_course(""));
    write_file(folder.file("t.trips.toml"), trip + "[variation]\nright_motor = { about = 0.8, deviation = 0.02 }\n");
    Robot robot = fixtures::ideal_robot(3);
    robot.variation = {{Quantity::light, {}}};
    const auto varied = [&](const std::string& trips, bool robot_says) {
        const CourseReading reading(folder.file("c.course.toml"));
        return reading.trip_ground(robot, trips, as_drawn, robot_says).scene().robot().variation.front().what;
    };
    CHECK(varied(folder.file("t.trips.toml"), false) == Quantity::right_motor);
    CHECK(varied(folder.file("t.trips.toml"), true) == Quantity::light);
    // Any day of those can be driven again alone: --variation takes the same file.
    CHECK(load_days(folder.file("t.trips.toml")).front().what == Quantity::right_motor);
    CHECK(parse_days(trip + days, "t").front().what == Quantity::left_motor);
    CHECK(fixtures::message_of([&] { parse_course(small_course("") + days, "c"); }).find("`variation` is no key") !=
          std::string::npos);
}

TEST_CASE("a file of trips of its own stands in place of the course's, and its faults have a place") {
    const Course course = parse_course(small_course(""), "c");
    const std::string good = "[[trip]]\nname = \"to the far end\"\nfrom = \"west\"\nvisits = [\"far\"]\nwithin_s = 9\n";
    const std::vector<Trip> trips = parse_trips(good, "team.trips.toml", course);
    REQUIRE(trips.size() == 1);
    CHECK(trips[0].file == "team.trips.toml");
    CHECK(trips[0].line == 1);
    const auto fault = [&](const std::string& text) {
        return fixtures::message_of([&] { parse_trips(text, "t", course); });
    };
    CHECK(fault("").find("there is no trip in this file") != std::string::npos);
    CHECK(fault(good + "from_s = 2\n").find("t:6:1: error: `from_s` is no key of [[trip]]") == 0);
    CHECK(fault("[[place]]\nname = \"x\"\n").find("`place` is no key") != std::string::npos);
    CHECK(fault(good + good).find("two trips called") != std::string::npos);
    CHECK(fault("[[trip]]\nname = \"a\"\nfrom = [\"wset\"]\nvisits = []\n").find("did you mean `west`") !=
          std::string::npos);
    CHECK(fault("[[trip]]\nname = \"a\"\nfrom = []\nvisits = []\n").find("`from` names no start") != std::string::npos);
    CHECK(fault(good + "variants = [\"bare\"]\n").find("no variant of the course") != std::string::npos);
    CHECK(fault(good + "repeats = 0\n").find("`repeats` is 0") != std::string::npos);
}

TEST_CASE("the demo's rounds: all trips pass but the slip, which is told with the rule that called and cured" *
          doctest::skip(fixtures::sanitized())) {
    const Called good = call_vturn({"trips", wing_course, wing_robot, rounds, "--repeat", "2"});
    CHECK(good.status == 0);
    CHECK(good.out.find("to the mist room, can away  pass  2/2") != std::string::npos);
    const Called slip = call_vturn({"trips", wing_course, wing_robot, first_try});
    CHECK(slip.status == 1);
    CHECK(
        slip.out.find("  after 4 choices as expected went fork 1 left, fork 3 straight, fork 5 straight; expected fork "
                      "1 right, fork 2 straight\n") != std::string::npos);
    CHECK(slip.out.find("    by line 13: fresh teal -> note(\"teal\"), do take(left)\n") != std::string::npos);
    CHECK(slip.out.find("    would pass with line 13: left becomes right (20 of 20 repeats)\n") != std::string::npos);
    CHECK(slip.out.find("3 passed, 1 failed") != std::string::npos);
}

TEST_CASE("many runs: as often as the trip or the call says, alike for any number of threads, left off when told") {
    const fixtures::FernHouse f;
    std::vector<Trip> trips = f.trips;
    trips[0].repeats = 3;
    const std::vector<TripCase> cases = cases_of(f.scene, trips);
    const std::vector<Pilot> pilots{f.plan, f.other("right-first")};
    TripReportOptions options;
    options.cures = false;
    std::size_t done = 0;
    options.progress = [&done](const char* what, std::size_t so_far, std::size_t all) {
        CHECK(std::string(what) == "runs");
        CHECK(all == 8);
        CHECK(so_far == ++done);
    };
    options.threads = 1;
    const TripReport one = report_trips(cases, pilots, options);
    CHECK(done == 8);
    CHECK_FALSE(one.stopped);
    CHECK(one.taken() == 4);
    CHECK(one.passed() == 2);
    REQUIRE(one.pilots.size() == 2);
    REQUIRE(one.pilots[0].cases.size() == 2);
    CHECK(one.pilots[0].cases[0].runs == 3);
    CHECK(one.pilots[0].cases[0].all_passed());
    CHECK(one.pilots[0].cases[0].result.run.seed == 1);
    CHECK(one.pilots[0].cases[1].passed == 0);
    CHECK(one.pilots[1].cases[1].passed == 1);
    options.progress = {};
    options.threads = 2;
    options.repeats = 5;
    const TripReport two = report_trips(cases, pilots, options);
    CHECK(two.pilots[1].cases[0].runs == 5);
    // The first that failed: the same seed.
    CHECK(two.pilots[0].cases[1].result.run.time_s == one.pilots[0].cases[1].result.run.time_s);
    std::atomic<int> asked = 0;
    options.stop = [&asked] { return ++asked > 7; };
    const TripReport some = report_trips(cases, pilots, options);
    CHECK(some.stopped);
    int made = 0; // of whichever cases the threads took first
    for (const PilotReport& pilot : some.pilots) {
        for (const CaseReport& each : pilot.cases) {
            made += each.runs;
            CHECK((each.runs > 0 || !each.all_passed()));
        }
    }
    CHECK(made == 7);
}

TEST_CASE("a trip may be taken, explained and compared with code of your own in place of a plan") {
    const fixtures::FernHouse f;
    const Pilot left("left in code", [] {
        return Decide([both = 0](const Look& look, Answer& answer) mutable {
            const bool on_left = (look.line_bits & 1) != 0;
            const bool on_right = (look.line_bits & 2) != 0;
            both = on_left && on_right ? both + 1 : 0;
            answer.halted = both >= 14;
            answer.left_pct = on_left ? -24 : 47;
            answer.right_pct = on_right && !on_left ? -24 : 47;
        });
    });
    const std::vector<TripCase> cases = cases_of(f.scene, f.trips);
    const TripReport report = report_trips(cases, {left, f.plan});
    REQUIRE(report.pilots.size() == 2);
    const std::vector<CaseReport>& code = report.pilots[0].cases;
    CHECK(code[0].all_passed());
    CHECK_FALSE(code[1].all_passed());
    CHECK(code[1].result.failures == report.pilots[1].cases[1].result.failures);
    REQUIRE(code[1].result.parting);
    CHECK(code[1].result.parting->junction == "fork");
    CHECK(code[1].result.parting->taken_way == "left");
    CHECK(code[1].result.parting->rule == no_rule);
    CHECK(code[1].cures.empty());
    const std::vector<std::string> lines = explain(left, *code[1].result.parting);
    REQUIRE(lines.size() == 3);
    CHECK(lines[2].starts_with("decided at "));
    CHECK(looks_before(left, code[1].result.run, *code[1].result.parting).back().ends_with(" looks"));
    CHECK(trips_json(report).find("\"plan\": \"left in code\"") != std::string::npos);
    CHECK(trips_junit(report).find("left in code") != std::string::npos);
    const std::vector<PilotFigures> figures = compare(cases, {left, f.plan}, 2);
    CHECK(figures[0].pilot.name() == "left in code");
    CHECK(figures[0].passed == 2);
    CHECK(figures[0].cases[0].time_s.mean == doctest::Approx(figures[1].cases[0].time_s.mean).epsilon(0.1));
}

TEST_CASE("a trip that fails before its first look has nothing that decided it") {
    const fixtures::FernHouse f;
    Course off = f.course;
    off.starts[0].pose.at = {20.0, 20.0};
    const Scene scene(off, f.robot);
    Trip trip = f.trips[0];
    trip.off_course_mm = 60.0;
    const TripResult result = take_trip(scene, f.plan, trip);
    CHECK_FALSE(result.passed);
    CHECK(result.run.looks.empty());
    CHECK_FALSE(result.parting.has_value());
    const TripReport report = report_trips({{trip, &scene}}, {f.plan});
    CHECK(report.pilots[0].cases[0].runs == 1);
    CHECK(trips_json(report).find("\"parting\": null") != std::string::npos);
}

TEST_CASE("vturn trips --trips: another team's trips over the same course" * doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string file = folder.file("team.trips.toml");
    write_file(file, "[[trip]]\nname = \"to the left, however named\"\nfrom = [\"ramp\"]\n"
                     "choices = [\"fork 10 exit 1\", \"fork 9 left\"]\nvariants = [\"can away\"]\nrepeats = 4\n"
                     "[[trip]]\nname = \"no such way\"\nfrom = \"west door\"\nvariants = [\"as drawn\"]\n"
                     "choices = [\"fork 7 exit 3\"]\n");
    const Called one =
        call_vturn({"trips", wing_course, wing_robot, rounds, "--trips", file, "--filter", "to the left"});
    CHECK(one.status == 0);
    CHECK(one.out.find("to the left, however named  pass  4/4") != std::string::npos);
    const Called bad = call_vturn({"trips", wing_course, wing_robot, rounds, "--trips", file, "--filter", "no such"});
    CHECK(bad.status == 2);
    CHECK(bad.err.find("team.trips.toml:7: error: trip \"no such way\" expects \"fork 7 exit 3\", which has 2 exits") !=
          std::string::npos);
}

TEST_CASE("a junction with several ways to one side has numbered exits, from the left") {
    Node star;
    star.kind = NodeKind::star;
    for (const double heading : {0.0, 45.0, 90.0, 180.0, 270.0}) {
        star.exits.push_back({StretchId(0), true, heading});
    }
    const ExitId from(4); // coming in from the south, heading north (90)
    CHECK(way_name(star, from, ExitId(2)) == "straight");
    CHECK(way_name(star, from, ExitId(3)) == "left");
    CHECK(way_name(star, from, ExitId(0)) == "exit 4");
    CHECK(way_name(star, from, ExitId(1)) == "exit 3");
    CHECK(way_name(star, from, ExitId(4)) == "back");
    CHECK(exit_number(star, from, ExitId(3)) == 1);
    CHECK(exit_number(star, from, ExitId(2)) == 2);
}

TEST_CASE("a failed trip by choices parts at the junction where it chose otherwise, though it visits no places") {
    const fixtures::FernHouse f;
    Trip trip = f.trips[1];
    trip.visits.clear();
    trip.choices = {"fork right"};
    const TripResult result = take_trip(f.scene, f.plan, trip);
    REQUIRE(result.parting.has_value());
    CHECK(result.parting->expected == "fork right");
    CHECK(result.parting->instead == "fork left");
    CHECK(result.parting->junction == "fork");
    CHECK(result.parting->taken_way == "left");
    CHECK(result.parting->expected_way == "right");
    CHECK(result.parting->rule == RuleId(1)); // as by places
    CHECK(result.parting->called_by.empty());
    trip.choices = {"fork left", "fork left"};
    const TripResult more = take_trip(f.scene, f.plan, trip);
    REQUIRE(more.failures.size() == 1);
    CHECK(more.failures[0] == "after 1 choice as expected went through no junction; expected fork left");
    CHECK(more.parting->instead == "halt");
}

TEST_CASE("a course that was read already is made ready for its trips as one that is read for them" *
          doctest::skip(fixtures::sanitized())) {
    const CourseReading reading("data/fern-house/glass-wing.course.toml");
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    for (const char* variant : {as_drawn, "can away"}) {
        CAPTURE(variant);
        CourseFile file = reading.read(variant);
        file.course.name = "as it was read"; // so that one sees that it is this one
        const TripGround given = reading.trip_ground(file, robot, "", variant, false);
        const TripGround read = reading.trip_ground(robot, "", variant);
        CHECK(given.course().name == "as it was read");
        REQUIRE(given.cases().size() == read.cases().size());
        for (std::size_t i = 0; i < read.cases().size(); ++i) {
            CHECK(given.cases()[i].trip.name == read.cases()[i].trip.name);
            CHECK(given.cases()[i].scene->course().variant == read.cases()[i].scene->course().variant);
            CHECK(given.cases()[i].scene->course().surface.cells == read.cases()[i].scene->course().surface.cells);
        }
    }
}
