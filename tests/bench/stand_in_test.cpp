/// The simulated robot at the end of a line: what it tells is what it saw, and it does what it is told.
#include "vast_turn/bench/stand_in.hpp"

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/bench/bench_session.hpp"
#include "vast_turn/bench/robot_line.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/settings/adjustable.hpp"

using namespace vast_turn;

namespace {

struct OnCourse {
    explicit OnCourse(const std::string& name) : course(load_course("data/fern-house/" + name + ".course.toml")) {}

    Course course;
    Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    Plan plan = load_plan("data/fern-house/rounds.plan");
    Scene scene{course, robot};
};

/// The words of all replies in what it answered.
std::string replies(RobotEar& ear, const std::string& bytes) {
    std::string words;
    for (const RobotHeard& heard : ear.hears(bytes)) {
        if (const auto* reply = std::get_if<RobotReply>(&heard)) {
            words += (reply->done ? "=" : "?") + reply->words + ";";
        }
    }
    return words;
}

} // namespace

TEST_CASE("stand-in: a robot that drives tells the run that drive() makes, look for look, in both forms") {
    const OnCourse on("glass-wing");
    RunOptions run;
    run.seed = 4;
    run.numbers = runtime::NumberKind::binary32; // as the short form has them exactly
    run.keep_told = true;
    const Run driven = drive(on.scene, on.plan, run);
    for (const bool in_frames : {false, true}) {
        CAPTURE(in_frames);
        StandInOptions options;
        options.run = run;
        options.plan = on.plan;
        options.drives = true;
        options.in_frames = in_frames;
        StandIn robot(on.scene, options);
        RobotEar ear(on.robot, on.plan);
        std::size_t at = 0;
        std::size_t notes = 0;
        std::size_t places = 0;
        bool halted = false;
        while (!robot.is_over()) {
            for (const RobotHeard& heard : ear.hears(robot.look())) {
                if (const auto* look = std::get_if<LoggedLook>(&heard)) {
                    REQUIRE(at < driven.looks.size());
                    const LookRecord& record = driven.looks[at];
                    REQUIRE(look->look.clock_ms == doctest::Approx(1000.0 * record.t_s).epsilon(1e-9));
                    for (std::size_t k = 0; k < 5; ++k) {
                        REQUIRE(look->look.raw[k] == static_cast<double>(record.raw[k]));
                    }
                    REQUIRE(look->look.left_deg == doctest::Approx(driven.told[at].left_deg));
                    REQUIRE(look->look.markers == driven.told[at].markers);
                    REQUIRE(*look->left_pct == doctest::Approx(static_cast<double>(record.left_pct)));
                    ++at;
                } else if (const auto* says = std::get_if<RobotSays>(&heard)) {
                    notes += says->kind == "note" ? 1 : 0;
                    places += says->kind == "place" ? 1 : 0;
                    halted = halted || says->kind == "halted";
                }
            }
        }
        CHECK(at == driven.looks.size());
        CHECK(ear.count().garbled == 0);
        CHECK(notes ==
              static_cast<std::size_t>(std::count_if(driven.events.begin(), driven.events.end(), [](const RunEvent& e) {
                  return e.event.kind == EventKind::note;
              })));
        CHECK(notes > 0);
        CHECK(places == driven.visits.size());
        CHECK(halted == (driven.ending == Ending::halted));
        const double end = robot.due_ms();
        CHECK_FALSE(robot.look().empty()); // it goes on telling where it stands
        CHECK(robot.due_ms() > end);
    }
}

TEST_CASE("stand-in: commands are obeyed when their check sum is right, and answered") {
    const OnCourse on("fern-house");
    StandInOptions options;
    options.plan = on.plan;
    StandIn robot(on.scene, options);
    RobotEar ear(on.robot, on.plan);
    CHECK(replies(ear, robot.hears(checked_line("motors,off"))) == "=motors,off;");
    CHECK(replies(ear, robot.hears("motors,on,0000\n")) == "?its check sum is wrong;");
    CHECK(replies(ear, robot.hears("motors,on\n")) == "?its check sum is wrong;");
    CHECK(replies(ear, robot.hears(checked_line("fly,high"))) == "?unknown: fly;");
    CHECK(replies(ear, robot.hears(checked_line("tell,loud"))) == "?tell text, short or nothing;");
    CHECK(replies(ear, robot.hears(checked_line("level,9,100,800"))) == "?level,SENSOR,FLOOR,LINE;");
    CHECK(replies(ear, robot.hears(checked_line("set,nothing,4"))) == "?no number called nothing;");
    // Byte by byte, and two at once.
    std::string answered;
    for (const char c : checked_line("tell,nothing")) {
        answered += robot.hears(std::string(1, c));
    }
    CHECK(replies(ear, answered) == "=tell,nothing;");
    CHECK(robot.look().empty());
    CHECK(replies(ear, robot.hears(checked_line("tell,short") + checked_line("use"))) == "=tell,short;=use;");
    CHECK(robot.look().size() > 20);
    CHECK(robot.hears(std::string(100000, 'x')).empty());
    CHECK(replies(ear, robot.hears("\n" + checked_line("motors,off"))) == "?its check sum is wrong;=motors,off;");
}

TEST_CASE("stand-in: motors that are off stand, and numbers that are set change how it drives") {
    const OnCourse on("glass-wing");
    const std::string text = read_file("data/fern-house/rounds.plan");
    std::string marked = text;
    const std::string let = "let cruise = 44";
    marked.insert(marked.find(let) + let.size(), " // may be 20..70");
    const AdjustablePlan adjustable = adjustable_plan(marked, "rounds.plan");
    const auto way_after = [&](const std::vector<std::string>& commands) {
        StandInOptions options;
        options.plan = adjustable.plan;
        options.drives = true;
        StandIn robot(on.scene, options);
        RobotEar ear(on.robot, adjustable.plan);
        double way = 0.0;
        for (const std::string& command : commands) {
            CHECK(replies(ear, robot.hears(checked_line(command))) == "=" + command + ";");
        }
        for (int i = 0; i < 70; ++i) {
            for (const RobotHeard& heard : ear.hears(robot.look())) {
                const auto* look = std::get_if<LoggedLook>(&heard);
                way = look != nullptr ? look->look.way_mm : way;
            }
        }
        return way;
    };
    const double as_is = way_after({});
    CHECK(as_is > 60.0);
    CHECK(way_after({"motors,off"}) == 0.0);
    CHECK(way_after({"set,cruise,22"}) < 0.8 * as_is);
    CHECK(way_after({"set,cruise,66"}) > 1.15 * as_is);
    CHECK(way_after({"set,cruise,44"}) == as_is);
}

TEST_CASE("stand-in: levels that it is given are those that its plan reads with") {
    const OnCourse on("fern-house");
    StandInOptions options;
    options.plan = on.plan;
    StandIn robot(on.scene, options);
    RobotEar ear(on.robot, on.plan);
    HeldOver card{HeldOver::What::card};
    card.cards = 1;
    robot.hold(card);
    const auto power = [&] {
        double left = 0.0;
        for (const RobotHeard& heard : ear.hears(robot.look())) {
            const auto* look = std::get_if<LoggedLook>(&heard);
            left = look != nullptr ? *look->left_pct : left;
        }
        return left;
    };
    const double with_card = power();
    for (int k = 1; k <= 5; ++k) { // as if the line were floor
        const Calibration& own = on.scene.own_calibration();
        const SensorLevels& levels = own.sensors[static_cast<std::size_t>(k) - 1];
        const std::string command = fmt::format("level,{},{:.2f},{:.2f}", k, levels.line_counts,
                                                2.0 * levels.line_counts - levels.floor_counts);
        CHECK(replies(ear, robot.hears(checked_line(command))) == "=" + command + ";");
    }
    CHECK(power() == with_card); // not before they are used
    CHECK(replies(ear, robot.hears(checked_line("use"))) == "=use;");
    CHECK(power() != with_card);
}

TEST_CASE("stand-in: what cannot be is refused") {
    const OnCourse on("mist-round");
    StandInOptions options;
    options.drives = true;
    CHECK_THROWS_AS(StandIn(on.scene, options), InputError);
    options.drives = false;
    options.in_frames = true;
    CHECK_THROWS_AS(StandIn(on.scene, options), InputError);
    StandIn robot(on.scene, {});
    HeldOver held{HeldOver::What::plate};
    held.colour = "ambre";
    CHECK_THROWS_WITH(robot.hold(held), doctest::Contains("there is one of amber"));
    held = {HeldOver::What::card};
    held.cards = 1U << 5U;
    CHECK_THROWS_AS(robot.hold(held), InputError);
    CHECK_THROWS_WITH(parse_cable_faults({"lots=0.1"}), doctest::Contains("did you mean lost"));
    CHECK_THROWS_AS(parse_cable_faults({"lost=2"}), InputError);
    CHECK_THROWS_AS(parse_cable_faults({"lost"}), InputError);
    CHECK(parse_cable_faults({"lost=0.25", "cut=0.5"}).cut == 0.5);
}

TEST_CASE("stand-in: a loop that is late is seen by the robot's clock") {
    OnCourse on("fern-house");
    on.robot.late_often = 0.1;
    on.robot.late_ms = 24.0;
    StandIn robot(on.scene, {});
    RobotEar ear(on.robot, std::nullopt);
    for (int i = 0; i < 1000; ++i) {
        ear.hears(robot.look());
    }
    CHECK(ear.count().looks == 1000);
    CHECK(ear.count().missing > 140); // two periods late for each of a hundred
    CHECK(ear.count().missing < 260);
}

TEST_CASE("bench session: a calibration grows that is that of the surfaces, and the plan reads with it") {
    const OnCourse on("fern-house");
    StandIn robot(on.scene, {});
    RobotEar ear(on.robot, on.plan);
    BenchSession session({on.robot, on.plan});
    const auto go = [&](HeldOver::What what, int looks) {
        robot.hold({what});
        for (int i = 0; i < looks; ++i) {
            for (const RobotHeard& heard : ear.hears(robot.look())) {
                if (const auto* look = std::get_if<LoggedLook>(&heard)) {
                    session.take(*look, ear.tells_counts());
                }
            }
        }
    };
    go(HeldOver::What::floor, 5);
    CHECK(session.looks_over("floor") == 0);
    CHECK_FALSE(session.can_read());
    CHECK_FALSE(session.reply());
    session.lies_over("floor", 40);
    go(HeldOver::What::floor, 60);
    CHECK(session.looks_over("floor") == 40);
    CHECK(session.under().empty());
    CHECK_FALSE(session.report());
    CHECK_FALSE(session.use_report());
    session.lies_over("line");
    go(HeldOver::What::line, 40);
    REQUIRE(session.report());
    CHECK_FALSE(session.report()->any_serious());
    REQUIRE(session.use_report());
    const Calibration& own = on.scene.own_calibration();
    for (std::size_t k = 0; k < 5; ++k) {
        const double contrast = own.sensors[k].floor_counts - own.sensors[k].line_counts;
        CHECK(std::abs(session.calibration()->sensors[k].floor_counts - own.sensors[k].floor_counts) < 0.03 * contrast);
    }
    session.lies_over("");
    go(HeldOver::What::line, 3);
    CHECK(session.can_read());
    CHECK(session.last()->look.line_bits == 0x1F);
    REQUIRE(session.reply());
    session.forget("line");
    CHECK(session.looks_over("line") == 0);
    CHECK_FALSE(session.report());
}

TEST_CASE("for how long no line was seen goes on where the robot begins anew, and ends with the line") {
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    BenchParts parts;
    parts.robot = robot;
    BenchSession session(parts);
    const auto blind_after = [&](double clock_ms, std::uint8_t line_bits) {
        LoggedLook look;
        look.look.clock_ms = clock_ms;
        look.look.line_bits = line_bits;
        session.take(look, false);
        return session.blind_ms();
    };
    CHECK(blind_after(990.0, 4) == 0.0);
    CHECK(blind_after(1000.0, 0) == 0.0);
    CHECK(blind_after(1380.0, 0) == doctest::Approx(380.0));
    CHECK(blind_after(0.0, 0) == doctest::Approx(380.0)); // its clock begins anew
    CHECK(blind_after(20.0, 0) == doctest::Approx(400.0));
    CHECK(blind_after(30.0, 2) == 0.0);
}
