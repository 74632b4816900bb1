/// Trips over days: how many hold, how surely, what breaks them, how much they bear.

#include "vast_turn/trial/days_taken.hpp"

#include <filesystem>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>
#include <pugixml.hpp>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/trial/trip_report.hpp"

using namespace vast_turn;
using fixtures::call_vturn;
using fixtures::Called;

namespace {

const std::string drain_course = "data/fern-house/drain.course.toml";
const std::string cart_file = "data/fern-house/sprig-5.robot.toml";
const std::string drain_first_try = "data/fern-house/drain-first-try.plan";
const std::string drain_mended = "data/fern-house/over-the-drain.plan";
const std::string ordinary_days = "data/fern-house/ordinary.days.toml";

/// The trip over the drain by the first try.
struct Drain {
    CourseFile file = load_course_file(drain_course);
    Robot robot = [] {
        Robot made = load_robot(cart_file);
        made.variation = load_days(ordinary_days);
        return made;
    }();
    Scene scene{file.course, robot};
    Plan plan = load_plan(drain_first_try);
    TripCase one = cases_of(scene, file.trips).at(0);
};

} // namespace

TEST_CASE("progress of days counts days, of all that are to come or of a number that shows on the way") {
    if (fixtures::sanitized()) {
        return; // other tests of days look at the same memory
    }
    const Drain d;
    TripReportOptions options;
    options.days.days = 12;
    options.cures = false;
    std::size_t last = 0;
    std::size_t told = 0;
    options.progress = [&](const char* what, std::size_t done, std::size_t all) {
        CHECK(std::string(what) == "days");
        CHECK(all == (options.days.sure ? 0 : 12));
        last = done;
        ++told;
    };
    report_trips({d.one}, {d.plan}, options);
    CHECK(told == 12);
    CHECK(last == 12);
    options.days = {0, 0.9};
    const TripReport report = report_trips({d.one}, {d.plan}, options);
    CHECK(last >= static_cast<std::size_t>(report.pilots[0].cases[0].runs)); // whole parts of days go side by side
}

TEST_CASE("days are counted alike for any number of threads, and each fails alone as it failed among them") {
    const Drain d;
    const std::uint64_t days = fixtures::sanitized() ? 20 : 70; // more than go side by side
    const CountedDays one = take_days(d.one, d.plan, {days, {}}, {}, 1);
    const CountedDays two = take_days(d.one, d.plan, {days, {}}, {}, 2);
    CHECK(one.runs == days);
    CHECK(one.passed == two.passed);
    CHECK(one.taken.failed == two.taken.failed);
    REQUIRE_FALSE(one.taken.failed.empty());
    CHECK(one.told == one.taken.failed.front());
    CHECK(one.taken.share.low < static_cast<double>(one.passed) / static_cast<double>(days));
    CHECK_FALSE(one.taken.decided);
    for (const std::uint64_t day : {one.taken.failed.front(), one.taken.failed.back()}) {
        RunOptions options;
        options.day = day;
        CHECK_FALSE(try_trip(d.scene, d.plan, d.one.trip, options).passed);
    }
    RunOptions later;
    later.day = 5; // from there on
    const CountedDays rest = take_days(d.one, d.plan, {days - 4, {}}, later);
    for (const std::uint64_t day : rest.taken.failed) {
        CHECK(day >= 5);
    }
    const CountedDays none = take_days(d.one, d.plan, {days, {}}, {}, 1, [] { return false; });
    CHECK(none.runs == 0);
}

TEST_CASE("days go on until it is decided whether a trip holds as surely as asked") {
    const Drain d;
    const CountedDays no = take_days(d.one, d.plan, {0, 0.97});
    CHECK(no.taken.decided == std::optional(false));
    CHECK(no.runs < 60);
    CHECK(no.taken.failed.back() == no.runs); // the day that decided
    const CountedDays same = take_days(d.one, d.plan, {0, 0.97}, {}, 1);
    CHECK(same.runs == no.runs);
    if (!fixtures::sanitized()) {
        const CountedDays yes = take_days(d.one, load_plan(drain_mended), {0, 0.9});
        CHECK(yes.taken.decided == std::optional(true));
        CHECK(yes.runs >= 37);
        const CountedDays open = take_days(d.one, load_plan(drain_mended), {30, 0.9});
        CHECK_FALSE(open.taken.decided);
        CHECK(open.runs == 30);
    }
}

TEST_CASE("how much a trip bears: within its margins it holds, a little beyond it does not" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::FernHouse f;
    Robot robot = f.robot;
    robot.variation = parse_days("[variation]\nleft_motor = { about = 1, deviation = 0.02 }\n"
                                 "delay_ms = { from = 0, to = 2 }\neach_sensor = { about = 1, deviation = 0.02 }\n",
                                 "d");
    const Scene scene(f.course, robot);
    const std::vector<TripCase> cases = cases_of(scene, f.trips);
    const Margins found = find_margins(cases[0], f.plan);
    CHECK(found.holds);
    REQUIRE(found.margins.size() == 4); // two sensors
    CHECK(found.margins[0].quantity == "left motor");
    CHECK(found.margins[3].quantity == "light of sensor 2");
    const auto passes = [&](Quantity what, double value) {
        int passed = 0;
        for (std::uint64_t seed = 1; seed <= 20; ++seed) {
            RunOptions options;
            options.seed = seed;
            options.set = {{what, 0, value}};
            passed += try_trip(scene, f.plan, cases[0].trip, options).passed ? 1 : 0;
        }
        return passed;
    };
    REQUIRE(found.margins[0].low.has_value());
    REQUIRE(found.margins[1].high.has_value());
    CHECK(passes(Quantity::left_motor, *found.margins[0].low) == 20);
    CHECK(passes(Quantity::left_motor, *found.margins[0].low - 0.0011) < 20);
    CHECK(passes(Quantity::delay, *found.margins[1].high) == 20);
    CHECK(passes(Quantity::delay, *found.margins[1].high + 1.0) < 20);
    const Margins alone = find_margins(cases[0], f.plan, {}, 1);
    CHECK(alone.margins[0].low == found.margins[0].low);
    CHECK_FALSE(find_margins(cases[1], f.plan).holds); // this plan goes the other way
    CHECK(find_margins(cases[1], f.plan).margins.empty());
}

TEST_CASE("vturn trips over days: bounds, causes, cures by days; JSON, JUnit and status agree" *
          doctest::skip(fixtures::sanitized())) { // its parts are looked at above
    const fixtures::Folder folder;
    const std::string junit = folder.file("t.xml");
    const Called bad = call_vturn({"trips", drain_course, cart_file, drain_first_try, "--days", "120", "--variation",
                                   ordinary_days, "--junit", junit});
    CHECK(bad.status == 1);
    CHECK(bad.err == "");
    CHECK(bad.out.find("what breaks it") != std::string::npos);
    CHECK(bad.out.find("left motor against the right one weaker than 0.9") != std::string::npos);
    CHECK(bad.out.find("would pass with line 16: [.#...] becomes [.?...] (20 of 20 days)") != std::string::npos);
    const nlohmann::json told =
        nlohmann::json::parse(call_vturn({"trips", drain_course, cart_file, drain_first_try, "--days", "120",
                                          "--variation", ordinary_days, "--json", "--no-cures"})
                                  .out)["plans"][0]["trips"][0];
    const int passed = told["runs_passed"].get<int>();
    CHECK(told["runs"] == 120);
    CHECK(told["days"]["failed_days"].size() == static_cast<std::size_t>(120 - passed));
    CHECK(bad.out.find(std::to_string(passed) + "/120 days") != std::string::npos);
    CHECK(told["days"]["share"][0].get<double>() < passed / 120.0);
    CHECK(told["days"]["causes"][0]["quantity"] == "left motor against the right one");
    pugi::xml_document xml;
    REQUIRE(xml.load_file(junit.c_str()));
    CHECK(std::string(xml.select_node("//testcase/system-out").node().text().get()).find("holds on ") == 0);
    CHECK(xml.select_nodes("//failure").size() == 1);
    // The first day that failed, driven alone: traced, told, drawn.
    const std::string day = std::to_string(told["days"]["failed_days"][0].get<int>());
    const Called alone = call_vturn({"trips", drain_course, cart_file, drain_first_try, "--day", day, "--variation",
                                     ordinary_days, "--json", "--no-cures"});
    CHECK(nlohmann::json::parse(alone.out)["plans"][0]["trips"][0]["failures"] == told["failures"]);
    const Called run =
        call_vturn({"run", drain_course, cart_file, drain_first_try, "--day", day, "--variation", ordinary_days,
                    "--lost-s", "9", "--trace", folder.file("t.csv"), "-o", folder.file("r.svg")});
    CHECK(run.status == 1);
    CHECK(run.out.find("seed 1, day " + day) != std::string::npos);
    // A dot for each quantity of each day, and one in the legend; ratios have a row only where they break the trip.
    const Called drawn = call_vturn({"trips", drain_course, cart_file, drain_first_try, "--days", "20", "--variation",
                                     ordinary_days, "--no-cures", "--json", "--days-picture", folder.file("d.svg")});
    const nlohmann::json few = nlohmann::json::parse(drawn.out)["plans"][0]["trips"][0];
    const std::string svg = read_file(folder.file("d.svg"));
    const auto dots = [&](const std::string& opacity) {
        std::size_t count = 0;
        for (std::size_t at = svg.find(opacity); at != std::string::npos; at = svg.find(opacity, at + 1)) {
            ++count;
        }
        return count;
    };
    // Each of five sensors has one; the gyro's scale and drift have none, since the cart has no gyro.
    const std::size_t rows = load_days(ordinary_days).size() - 1 + 5 - 2;
    REQUIRE(few["days"]["causes"].empty());
    CHECK(dots("fill-opacity:0.85") == 1 + rows * few["days"]["failed_days"].size());
    CHECK(dots("fill-opacity:0.42") == 1 + rows * few["runs_passed"].get<std::size_t>());
    const Called alike = call_vturn({"trips", drain_course, cart_file, drain_first_try, "--days", "3", "--no-cures",
                                     "--days-picture", folder.file("none.svg")});
    CHECK(alike.err.find("no days were driven that differ") != std::string::npos);
    const Called sure =
        call_vturn({"trips", drain_course, cart_file, drain_mended, "--sure", "90", "--variation", ordinary_days});
    CHECK(sure.status == 0);
    CHECK(sure.out.find("pass  ") != std::string::npos);
}

TEST_CASE("a trip says itself how sure it must be, and a robot without variation is told of") {
    const fixtures::Folder folder;
    const std::string trips = folder.file("t.trips.toml");
    const auto with = [&](const std::string& sure) {
        write_file(trips,
                   "[[trip]]\nname = \"over\"\nfrom = \"potting bench\"\nvisits = [\"drain\"]\nends = \"time over\""
                   "\nwithin_s = 2.6\nsure = " +
                       sure + "\n");
        return call_vturn({"trips", drain_course, cart_file, drain_mended, "--trips", trips, "--json"});
    };
    const Called good = with("\"80 %\"");
    CHECK(good.err.find("has no [variation], so its days differ by the noise of its sensors alone") !=
          std::string::npos);
    const nlohmann::json told = nlohmann::json::parse(good.out)["plans"][0]["trips"][0];
    CHECK(told["passed"] == true);
    CHECK(told["days"]["sure"] == 0.8);
    CHECK(told["runs"] == 18); // none failed
    CHECK(with("\"30 %\"").err.find("expected a share of days from 50 to 99.99 %") != std::string::npos);
    CHECK(with("\"99\"").err.find("write sure = \"97 %\"") != std::string::npos);
    CHECK(with("99").status == 2);
}

TEST_CASE("plans are compared on the same days: what one gains, with its bounds" *
          doctest::skip(fixtures::sanitized())) {
    const Called text = call_vturn({"compare", drain_course, cart_file, drain_first_try, drain_mended, "--days", "40",
                                    "--variation", ordinary_days});
    CHECK(text.status == 0);
    CHECK(text.out.find("passes more than drain first try") != std::string::npos);
    const nlohmann::json json =
        nlohmann::json::parse(call_vturn({"compare", drain_course, cart_file, drain_first_try, drain_mended,
                                          drain_first_try, "--days", "40", "--variation", ordinary_days, "--json"})
                                  .out)["plans"];
    CHECK(json[1]["gained"].get<int>() - json[1]["lost"].get<int>() ==
          json[1]["passed"].get<int>() - json[0]["passed"].get<int>());
    CHECK(json[1]["better"][0].get<double>() > 0.0);
    CHECK(json[2]["gained"] == 0);
    CHECK(json[2]["lost"] == 0);
    // By trip: what is gained lies in the one that the drain breaks.
    const fixtures::Folder folder;
    const std::string trips = folder.file("two.trips.toml");
    write_file(trips, "[[trip]]\nname = \"to the corner\"\nfrom = \"potting bench\"\nvisits = [\"drain\", \"corner\", "
                      "\"mist room\"]\n"
                      "within_s = 24\nlost_after_s = 9\n[[trip]]\nname = \"to the drain\"\nfrom = \"potting "
                      "bench\"\nvisits = [\"drain\"]\n"
                      "ends = \"any\"\nwithin_s = 24\nlost_after_s = 9\n");
    const std::vector<std::string> call = {"compare",     drain_course, cart_file, drain_first_try,
                                           drain_mended,  "--days",     "30",      "--variation",
                                           ordinary_days, "--trips",    trips};
    std::vector<std::string> as_json = call;
    as_json.emplace_back("--json");
    const nlohmann::json mended = nlohmann::json::parse(call_vturn(as_json).out)["plans"][1];
    REQUIRE(mended["trips"].size() == 2);
    CHECK(mended["trips"][0]["gained"].get<int>() + mended["trips"][1]["gained"].get<int>() == mended["gained"]);
    CHECK(mended["trips"][0]["gained"].get<int>() > 3);
    CHECK(mended["trips"][1]["gained"] == 0);
    const std::string out = call_vturn(call).out;
    CHECK(out.find("\n  passes more than drain first try") != std::string::npos);
}

TEST_CASE("routes on days: each robot has its own, alike for any number of threads; days that are alike are told of" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string days = folder.file("dim.days.toml");
    write_file(days, "[variation]\nlight = { one_of = [1, 0.3] }\n");
    const auto routes = [&](const std::vector<std::string>& more) {
        std::vector<std::string> words{"routes", "data/fern-house/fern-house.course.toml",
                                       "data/fern-house/sprig-2.robot.toml", "data/fern-house/left-first.plan",
                                       "--json"};
        words.insert(words.end(), more.begin(), more.end());
        return call_vturn(words);
    };
    const Called ideal = routes({});
    const Called on_days = routes({"--days", "--variation", days});
    CHECK(on_days.status == 0);
    CHECK(on_days.err == "");
    CHECK(on_days.out != ideal.out); // in the dark all looks like line
    CHECK(routes({"--days", "--variation", days, "--jobs", "1"}).out == on_days.out);
    CHECK(routes({"--days"}).err.find("has no [variation]") != std::string::npos);
    CHECK(routes({"--days"}).out == ideal.out); // noise of the same seeds
}

TEST_CASE(
    "what is asked of days in vain is refused: margins without days, sureness over all layouts, repeats beside days") {
    const auto refused = [](const std::vector<std::string>& more, const std::string& course) {
        std::vector<std::string> words{"trips", course, cart_file, "data/fern-house/any-day.plan", "--no-cures"};
        words.insert(words.end(), more.begin(), more.end());
        const Called called = call_vturn(words);
        CHECK(called.status == 2);
        CHECK(called.out == "");
        return called.err;
    };
    const std::string any_day = "data/fern-house/any-day.course.toml";
    CHECK(refused({"--margins"}, drain_course).find("give --days or --sure too") != std::string::npos);
    CHECK(refused({"--days-picture", "x.svg"}, drain_course).find("--days-picture is of trips") != std::string::npos);
    CHECK(refused({"--days", "2", "--repeat", "3"}, drain_course).find("--repeat") != std::string::npos);
    CHECK(refused({"--days", "2", "--margins"}, any_day).find("--margins is of one layout") != std::string::npos);
    CHECK(refused({"--sure", "90", "--variation", ordinary_days}, any_day).find("a variant called \"layout 1\"") !=
          std::string::npos);
}
