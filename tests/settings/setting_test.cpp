// Numbers of a plan, a robot and a day set to other values.
#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/settings/setting.hpp"

using namespace vast_turn;

namespace {

const std::string knobs =
    "plan \"knobs\"\nsensors 2\nlet fast = 47   // percent\nlet slow = fast * 0.5\nlet near = 140mm\n"
    "habit on {\n    [#.] -> wheels(-24, fast)\n    [.#] -> wheels(fast, -24)\n"
    "    else -> ahead(slow)\n}\n";

/// The text with these set, which must be taken unless it is said not to be.
std::string with_set(const std::vector<std::string>& words, bool all_taken = true) {
    std::vector<Setting> settings;
    for (const std::string& word : words) {
        settings.push_back(parse_setting(word));
    }
    SettingsTaken taken;
    std::string text = plan_text_with(knobs, "knobs.plan", settings, taken);
    for (std::size_t i = 0; i < settings.size(); ++i) {
        CHECK(taken[i] == all_taken);
    }
    return text;
}

std::string changed(const std::string& from, const std::string& to) {
    std::string text = knobs;
    return text.replace(text.find(from), from.size(), to);
}

std::string refusal(const std::string& word) {
    return fixtures::message_of([&] { with_set({word}); });
}

} // namespace

TEST_CASE("settings: lets and numbers at lines become others, all else stays as it is written") {
    CHECK(with_set({"fast=52"}) == changed("47   //", "52   //"));
    CHECK(with_set({"fast = -3.5"}) == changed("47   //", "-3.5   //"));
    CHECK(with_set({"slow=21"}) == changed("fast * 0.5", "21"));
    CHECK(with_set({"near=90"}) == changed("140mm", "90mm"));
    CHECK(with_set({"near=9cm"}) == changed("140mm", "9cm"));
    CHECK(with_set({"line3=51"}) == changed("47   //", "51   //"));
    CHECK(with_set({"line7=-30"}) == changed("wheels(-24, fast)", "wheels(-30, fast)"));
    CHECK(with_set({"line8=30"}) == changed("(fast, -24)", "(fast, 30)"));
    CHECK(with_set({"line4.1=0.7", "fast=40"}) ==
          changed("let fast = 47", "let fast = 40")
              .replace(changed("let fast = 47", "let fast = 40").find("0.5"), 3, "0.7"));
    CHECK(with_set({"fsat=52"}, false) == knobs);
    CHECK(lets_of(knobs, "knobs.plan") == std::vector<std::string>{"fast", "slow", "near"});
    CHECK(compile_plan(with_set({"fast=52"}), "knobs.plan").plan.has_value());
}

TEST_CASE("settings: what cannot be set is refused, with what can") {
    CHECK(refusal("fast").find("sets nothing") != std::string::npos);
    CHECK(refusal("=5").find("no name and number") != std::string::npos);
    CHECK(refusal("fast=").find("no name and number") != std::string::npos);
    CHECK(refusal("fast=5 )").find("no name and number") != std::string::npos);
    CHECK(refusal("fast=nan").find("no name and number") != std::string::npos);
    CHECK(refusal("robot.look_ms=8ms").find("no name and number") != std::string::npos);
    CHECK(refusal("line6=4").find("there is no number at line 6") != std::string::npos);
    CHECK(refusal("line99=4").find("there is no number at line 99") != std::string::npos);
    CHECK(refusal("line7.2=4").find("line 7 has 1 number\n") != std::string::npos);
    SettingsTaken taken;
    const std::string two = "plan \"t\"\nsensors 2\nhabit on { else -> wheels(30, 31) }\n";
    const std::string several =
        fixtures::message_of([&] { plan_text_with(two, "t.plan", {parse_setting("line3=4")}, taken); });
    CHECK(several.find("line3.1 is 30, line3.2 is 31") != std::string::npos);
    const std::string none =
        fixtures::message_of([] { check_all_taken({parse_setting("fsat=5")}, {false}, {"fast"}); });
    CHECK(none.find("did you mean `fast`?") != std::string::npos);
}

TEST_CASE("settings: of days by their keys, within what can be") {
    const DayValue left = day_value_of(parse_setting("day.left_motor=0.93"));
    CHECK((left.what == Quantity::left_motor && left.value == 0.93));
    const DayValue third = day_value_of(parse_setting("day.sensor_3=0.8"));
    CHECK((third.what == Quantity::sensor && third.sensor == 2));
    CHECK(fixtures::message_of([] {
              day_value_of(parse_setting("day.left_moter=1"));
          }).find("did you mean `left_motor`?") != std::string::npos);
    CHECK(fixtures::message_of([] { day_value_of(parse_setting("day.left_motor=99")); }).find("give a number from") !=
          std::string::npos);
}

TEST_CASE("settings: keys of a robot file, in tables and lists, also those that it leaves out") {
    const std::string path = "data/fern-house/sprig-5.robot.toml";
    const std::string text = read_file(path);
    const Robot plain = load_robot(path);
    const auto set = [&](const std::vector<std::string>& words) {
        std::vector<Setting> settings;
        for (const std::string& word : words) {
            settings.push_back(parse_setting(word));
        }
        return parse_robot(text, path, settings);
    };
    CHECK(set({"fast=3"}).look_ms == plain.look_ms); // a plan's
    const Robot other =
        set({"robot.look_ms=9", "robot.motors.left.gain=0.9", "robot.sensor.2.spot_mm=7.5", "robot.skid=1.25"});
    CHECK(other.look_ms == 9.0);
    CHECK(other.motors.left.gain == 0.9);
    CHECK(other.motors.right.gain == plain.motors.right.gain);
    CHECK(other.sensors[1].spot_mm == 7.5);
    CHECK(other.sensors[0].spot_mm == plain.sensors[0].spot_mm);
    CHECK(other.skid == 1.25);
    CHECK(other.file == path);
    for (const auto& [word, says] :
         {std::pair{"robot.look_mss=9", "look_ms"}, std::pair{"robot.look_ms=0", "look_ms"},
          std::pair{"robot.look_ms=99999999999999999999", "`look_ms` is 1e+20"},
          std::pair{"robot.sensor.9.spot_mm=7", "there is no number 9 of 5"},
          std::pair{"robot.sensor.x.spot_mm=7", "there is no number x of 5"},
          std::pair{"robot.name.x=7", "stands in no table"}, std::pair{"robot.name=7", "name"}}) {
        const std::string said = fixtures::message_of([&, one = std::string(word)] { set({one}); });
        CHECK_MESSAGE(said.find(says) != std::string::npos, said);
    }
}
