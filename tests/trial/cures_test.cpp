#include "vast_turn/trial/cures.hpp"

#include <algorithm>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/trial/trip_report.hpp"

using namespace vast_turn;
using fixtures::call_vturn;
using fixtures::Called;

namespace {

const std::string house_course = "data/fern-house/fern-house.course.toml";
const std::string house_robot = "data/fern-house/sprig-2.robot.toml";
const std::string left_plan = "data/fern-house/left-first.plan";

} // namespace

TEST_CASE("a cure is found by driving, passes the trip, and says which trip it breaks" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::FernHouse f;
    const Trip& pots = f.trips[1];
    const TripResult failed = take_trip(f.scene, f.plan, pots);
    REQUIRE_FALSE(failed.passed);
    const std::vector<TripCase> cases = cases_of(f.scene, f.trips);
    const std::vector<Cure> cures = find_cures({pots, &f.scene}, f.plan, failed, cases);
    REQUIRE_FALSE(cures.empty());
    const auto moved = std::find_if(cures.begin(), cures.end(),
                                    [](const Cure& c) { return c.change == "line 10 moved above line 9"; });
    REQUIRE(moved != cures.end());
    CHECK(moved->breaks == std::vector<std::string>{"water the ferns"});
    for (const Cure& cure : cures) { // what is said of each holds
        const Plan changed = fixtures::compiled(cure.text);
        CHECK(take_trip(f.scene, changed, pots).passed == cure.passes);
        const TripResult from_there = try_trip_changed(f.scene, f.plan, changed, failed.parting->look, pots);
        CHECK((cure.passes || (cure.from_there && from_there.as_expected > failed.as_expected)));
        int held = 0;
        for (std::uint64_t seed = 2; seed <= 21; ++seed) {
            RunOptions options;
            options.seed = seed;
            held += take_trip(f.scene, changed, pots, options).passed ? 1 : 0;
        }
        CHECK(cure.repeats == (cure.passes ? 20 : 0));
        CHECK(cure.held == (cure.passes ? held : 0));
        for (const Trip& trip : f.trips) {
            const bool broken = std::find(cure.breaks.begin(), cure.breaks.end(), trip.name) != cure.breaks.end();
            CHECK(broken == (cure.passes && take_trip(f.scene, f.plan, trip).passed &&
                             !take_trip(f.scene, changed, trip).passed));
        }
    }
    const std::vector<Cure> again = find_cures({pots, &f.scene}, f.plan, failed, cases, {}, 1);
    REQUIRE(again.size() == cures.size());
    for (std::size_t i = 0; i < cures.size(); ++i) {
        CHECK(again[i].change == cures[i].change);
    }
}

TEST_CASE("a number of the plan may be the cure: one that turns too gently for the bend") {
    const fixtures::FernHouse f;
    std::string text = read_file(left_plan);
    const std::size_t at = text.find("inside = -24");
    REQUIRE(at != std::string::npos);
    text.replace(at, 12, "inside = 24");
    const Plan gentle = fixtures::compiled(text);
    const TripResult failed = take_trip(f.scene, gentle, f.trips[0]);
    REQUIRE_FALSE(failed.passed);
    const std::vector<Cure> cures = find_cures({f.trips[0], &f.scene}, gentle, failed, cases_of(f.scene, f.trips));
    REQUIRE_FALSE(cures.empty());
    CHECK(std::any_of(cures.begin(), cures.end(),
                      [](const Cure& c) { return c.change.find("inside = 24 becomes -24") != std::string::npos; }));
    CHECK(cures.front().breaks.empty());
}

TEST_CASE("trips as choices at junctions, and places where it must never be" * doctest::skip(fixtures::sanitized())) {
    const fixtures::FernHouse f;
    Trip trip = f.trips[0];
    trip.visits.clear();
    trip.choices = {"fork left"};
    CHECK(take_trip(f.scene, f.plan, trip).passed);
    trip.choices = {"fork right"};
    const TripResult wrong = take_trip(f.scene, f.plan, trip);
    REQUIRE(wrong.failures.size() == 1);
    CHECK(wrong.failures[0] == "went fork left; expected fork right");
    trip.choices = {"fork left"};
    trip.never = {"mist room"};
    CHECK(take_trip(f.scene, f.plan, trip).failures ==
          std::vector<std::string>{"came to mist room, where it must never be"});
    trip.choices = {"fork upwards"};
    CHECK(fixtures::message_of([&] { take_trip(f.scene, f.plan, trip); }).find("is no junction with left") !=
          std::string::npos);
    trip.choices = {"frok left"};
    CHECK(fixtures::message_of([&] { take_trip(f.scene, f.plan, trip); }).find("did you mean `fork`") !=
          std::string::npos);
    const fixtures::Folder folder;
    std::string text = read_file(house_course);
    const std::size_t at = text.find("visits = [\"sharp bend\", \"fork\", \"dock\"]");
    REQUIRE(at != std::string::npos);
    text.insert(at, "choices = [\"fork right\"]\nnever = [\"mist room\"]\n# ");
    write_file(folder.file("c.course.toml"), text);
    const Called called =
        call_vturn({"trips", folder.file("c.course.toml"), house_robot, "data/fern-house/right-first.plan"});
    CHECK(called.out.find("fetch pots       pass") != std::string::npos);
    const Called bad =
        call_vturn({"trips", folder.file("c.course.toml"), house_robot, left_plan, "--filter", "pots", "--no-cures"});
    CHECK(bad.status == 1);
    CHECK(bad.out.find("went fork left; expected fork right") != std::string::npos);
    CHECK(bad.out.find("came to mist room, where it must never be") != std::string::npos);
}

TEST_CASE("trips may ask for laps and for the place where the run ends") {
    const fixtures::FernHouse f;
    Trip trip = f.trips[0];
    trip.ends_at = "mist room";
    CHECK(take_trip(f.scene, f.plan, trip).passed);
    trip.ends_at = "dock";
    const TripResult elsewhere = take_trip(f.scene, f.plan, trip);
    REQUIRE(elsewhere.failures.size() == 1);
    CHECK(elsewhere.failures[0].find("; expected in dock") != std::string::npos);
    trip.ends_at.clear();
    trip.laps = 2;
    const TripResult twice = take_trip(f.scene, f.plan, trip);
    REQUIRE(twice.failures.size() == 1);
    CHECK(twice.failures[0] ==
          "visited sharp bend, fork, mist room; expected sharp bend, fork, mist room, sharp bend, fork, mist room");
    const std::string text = read_file(house_course);
    const auto with = [&](const std::string& keys) {
        std::string changed = text;
        changed.insert(changed.find("within_s = 14"), keys + "\n");
        return changed;
    };
    const CourseFile read = parse_course_file(with("ends = \"halt at mist room\"\nlaps = 3"), "c");
    CHECK(read.trips[0].ends_at == "mist room");
    CHECK(read.trips[0].laps == 3);
    CHECK(fixtures::message_of([&] {
              parse_course(with("ends = \"halt at mist rom\""), "c");
          }).find("did you mean `mist room`") != std::string::npos);
}

TEST_CASE("vturn trips: repeats with seeds of their own, chosen trips, any number of threads" *
          doctest::skip(fixtures::sanitized())) {
    const Called many = call_vturn({"trips", house_course, house_robot, left_plan, "--repeat", "12", "--jobs", "1"});
    CHECK(many.status == 1);
    CHECK(many.out.find("water the ferns  pass  12/12") != std::string::npos);
    CHECK(many.out.find("fetch pots       FAIL  0/12") != std::string::npos);
    CHECK(many.out == call_vturn({"trips", house_course, house_robot, left_plan, "--repeat", "12", "--jobs", "2"}).out);
    const Called one = call_vturn({"trips", house_course, house_robot, left_plan, "--filter", "ferns"});
    CHECK(one.status == 0);
    CHECK(one.out.find("fetch pots") == std::string::npos);
    CHECK(call_vturn({"trips", house_course, house_robot, left_plan, "--filter", "roses"})
              .err.find("no trip has \"roses\" in its name") != std::string::npos);
    const nlohmann::json json = nlohmann::json::parse(
        call_vturn({"trips", house_course, house_robot, left_plan, "--json", "--repeat", "3"}).out);
    CHECK(json.at("plans")[0].at("trips")[0].at("runs_passed") == 3);
    CHECK(json.at("plans")[0].at("trips")[1].at("cures")[0].at("change") == "line 10 moved above line 9");
    const fixtures::Folder folder;
    const Called drawn = call_vturn({"trips", house_course, house_robot, left_plan, "-o", folder.file("f.svg")});
    CHECK(drawn.status == 1);
    CHECK(drawn.out.find("    looks  ") != std::string::npos);
    CHECK(read_file(folder.file("f.svg")).find("<svg") != std::string::npos);
    const Called nothing =
        call_vturn({"trips", house_course, house_robot, left_plan, "--filter", "ferns", "-o", folder.file("g.png")});
    CHECK(nothing.err.find("no trip failed") != std::string::npos);
    CHECK(folder.names() == std::vector<std::string>{"f.svg"});
    CHECK(call_vturn({"trips", house_course, house_robot, left_plan, "-o", folder.file("g.gif")}).status == 2);
    const Called none = call_vturn({"trips", house_course, house_robot, "data/fern-house/gentle.plan"});
    CHECK(none.out.find(" changes of its rules and numbers lets it pass") != std::string::npos);
}

TEST_CASE("where many cases fail of one slip, the first searches serve them all" *
          doctest::skip(fixtures::sanitized())) { // the searches of others run there too
    const fixtures::FernHouse f;
    std::vector<Trip> trips;
    for (int i = 0; i < 15; ++i) { // more than are looked into with all means
        trips.push_back(f.trips[1]);
        trips.back().name += " " + std::to_string(i);
    }
    const TripReport report = report_trips(cases_of(f.scene, trips), {f.plan});
    const std::vector<CaseReport>& cases = report.pilots[0].cases;
    for (const CaseReport& one : cases) {
        REQUIRE_FALSE(one.cures.empty());
        CHECK(one.cures.front().change == "line 10 moved above line 9");
        CHECK(one.cures.front().held == 20);
        CHECK(one.cures.front().mends.size() == 14);
        REQUIRE(one.result.parting.has_value());
        CHECK(one.result.parting->junction == "fork");
    }
    CHECK(cases[0].changes_tried > 40);
    CHECK(cases[1].changes_tried <= 5); // the best of the first search
}

TEST_CASE("a search that is stopped tells no cure that it has not driven again" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::FernHouse f;
    const TripResult failed = take_trip(f.scene, f.plan, f.trips[1]);
    for (const int after : {0, 5, 30, 61, 62, 63, 64}) {
        int asked = 0;
        CureFinder finder(f.plan, cases_of(f.scene, f.trips), 1);
        const CureSearch search = finder.find({f.trips[1], &f.scene}, failed, {}, {}, [&] { return ++asked > after; });
        CHECK(search.tried <= static_cast<std::size_t>(after));
        for (const Cure& cure : search.cures) {
            CHECK((!cure.passes || cure.repeats == 20));
        }
    }
}
