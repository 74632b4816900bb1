#include <filesystem>
#include <memory>
#include <sstream>
#include <system_error>
#include <thread>

#include <fmt/format.h>

#include "commands/commands.hpp"
#include "data_folders.hpp"
#include "print/print.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct DemoCall {
    std::string data;
    std::string output = "vturn-demo";
};

std::string data_folder(const std::string& given) {
    if (!given.empty()) {
        return given;
    }
    for (const char* folder : {"data/fern-house", data_beside_sources, data_installed}) {
        std::error_code fault;
        if (*folder != '\0' &&
            std::filesystem::exists(std::filesystem::path(folder) / "fern-house.course.toml", fault)) {
            return folder;
        }
    }
    throw InputError("data/fern-house", "the demo data is not here", "name its folder with --data");
}

class Tour {
public:
    Tour(const Streams& streams, std::string data, std::string output)
        : streams_(streams), data_(std::move(data)), output_(std::move(output)) {}

    int go() {
        std::error_code fault;
        std::filesystem::create_directories(output_, fault);
        if (fault) {
            throw InputError(output_, fmt::format("this folder cannot be made: {}", fault.message()),
                             "name another with -o");
        }
        const std::string course = data("fern-house.course.toml");
        const std::string robot = data("sprig-2.robot.toml");
        step("Sprig-2 makes its rounds in the fern house. The course, with two ends to choose from:",
             {"map", course, "-o", out("map.png")}, passed);
        step("Two sensors straddle the tape, so there are four patterns. What a gentle plan does for each:",
             {"table", data("gentle.plan")}, passed);
        step("What can be known of it before it drives:",
             {"vet", data("gentle.plan"), "--robot", robot, "--course", course}, answer_no);
        step("It gives the inside wheel some power. At the sharp bend the robot flies off:",
             {"run", course, robot, data("gentle.plan"), "-o", out("gentle.png")}, answer_no);
        step("With the inside wheel reversed it holds the bend:",
             {"run", course, robot, data("left-first.plan"), "-o", out("left-first.png"), "--trace",
              out("left-first.csv")},
             passed);
        step("At the fork both sensors see tape, and the rule that is tested first decides the way:",
             {"table", data("left-first.plan")}, passed);
        step("Route tests say which way each plan goes, and why a trip failed:",
             {"trips", course, robot, data("left-first.plan"), data("right-first.plan"), "--junit", out("trips.xml")},
             answer_no);
        bench();
        rounds();
        step("What holds on the map goes onto the robot: its plan, sensing, motors and loop as plain C:",
             {"export", data("rounds.plan"), "-o", out("robot"), "--numbers", "float", "--robot",
              data("sprig-5.robot.toml"), "--calibration", out("sprig-5.calibration.toml")},
             passed);
        fitted();
        streams_.out << fmt::format("\nPictures, a page, trace and test results are in {}\n", output_);
        return unexpected_ ? answer_no : passed;
    }

private:
    /// What comes before any driving.
    void bench() {
        const std::string robot = data("sprig-5.robot.toml");
        const std::string plan = data("five-wide.plan");
        step("Before a robot moves it is calibrated. Sprig-5 has five sensors; one looks through a smear:",
             {"calibrate", data("sprig-5.bench.csv"), "--robot", robot, "-o", out("sprig-5.calibration.toml"), "-o",
              out("sprig-5.png")},
             passed);
        step("Its plan for thirty-two patterns, and what the robot does in each:",
             {"table", plan, "--robot", robot, "-o", out("five-wide.png")}, passed);
        step("Two wires exchanged: what a card of tape under each sensor shows:",
             {"ask", plan, "--robot", robot, "--card", "--fault", "swapped:2,4"}, answer_no);
        on_the_line(robot);
        step("The run from before, put to the other plan look by look:",
             {"ask", data("right-first.plan"), "--log", out("left-first.csv")}, answer_no);
        step("The drain cuts the tape twice. A search that remembers the side and casts ever wider:",
             {"run", data("drain.course.toml"), robot, data("plans/search.plan"), "--lost-s", "9", "-o",
              out("search.png")},
             passed);
        drain();
        step("The blocks of that plan, and the ways between them:",
             {"draw", data("plans/search.plan"), "-o", out("search-blocks.png")}, passed);
    }

    /// The bench and a robot at the two ends of a line.
    void on_the_line(const std::string& robot) {
        const std::string port = out("sprig-port");
        std::ostringstream robot_says;
        std::istringstream nothing;
        std::thread stand_in([&] {
            run({"stand-in", robot, "--fault", "swapped:2,4", "--at", port, "--hand", data("card-walk.hand"), "--pace",
                 "8", "--for-s", "14.6"},
                {nothing, robot_says, robot_says});
        });
        step("The same on a robot at the end of a serial line, here one that stands in for it (vturn stand-in): a hand "
             "holds it over floor, line and a plate, and then a card under each sensor:",
             {"bench", port, "--robot", robot, "--script", data("card-walk.bench"), "--every-ms", "0", "-o",
              out("sprig-5.log.csv")},
             answer_no);
        stand_in.join();
    }

    /// Ideal days and others.
    void drain() {
        const std::string course = data("drain.course.toml");
        const std::string robot = data("sprig-5.robot.toml");
        step("Another plan holds there too, on an ideal day, ten times over:",
             {"trips", course, robot, data("drain-first-try.plan"), "--repeat", "10"}, passed);
        step("No day is ideal. On two hundred ordinary ones motors, battery, light and the hand that sets it down "
             "differ:",
             {"trips", course, robot, data("drain-first-try.plan"), "--days", "200", "--variation",
              data("ordinary.days.toml"), "-o", out("drain-day.png")},
             answer_no);
        step("With the first change that was found, and both motors evened out on the bench, it holds on 99 days of "
             "100:",
             {"trips", course, robot, data("over-the-drain.plan"), "--sure", "99", "--variation",
              data("evened.days.toml"), "--margins"},
             passed);
    }

    /// The whole wing, and the slip that a person would make.
    void rounds() {
        const std::string course = data("glass-wing.course.toml");
        const std::string robot = data("sprig-5.robot.toml");
        const std::string slip = data("rounds-first-try.plan");
        const std::string plan = data("rounds.plan");
        step("The glass wing is a drawing; its junctions, gaps, the drain and the plates are found on it:",
             {"map", course, "-o", out("wing.png")}, passed);
        step("Plates say which way to take. The rule for teal was copied from the one for amber, and a side was "
             "forgotten:",
             {"trips", course, robot, slip, "-o", out("slip.png")}, answer_no);
        step("With the change that was found, every trip passes, each ten times with another seed:",
             {"trips", course, robot, plan, "--repeat", "10"}, passed);
        step("Side by side over the same trips:",
             {"compare", course, robot, slip, plan, "--repeat", "3", "-o", out("compare.png")}, passed);
        step("What it does at each junction from each side, plates or none, and where that leads:",
             {"routes", course, robot, plan, "-o", out("routes.png")}, passed);
        step("Both plans as a page to share: forward and back on the map, with their text, plots, trips and findings:",
             {"report", course, robot, plan, slip, "-o", out("rounds.html")}, answer_no);
        tuned();
        const std::string any_day = data("any-day.course.toml");
        step("The house is built of pieces, and tomorrow they may lie in another order. One of forty layouts:",
             {"map", any_day, "--variant", "layout 9", "-o", out("layout.png")}, passed);
        step("Plates tell the way on each of them. A plan for one wing does not hold, one for any day does:",
             {"trips", any_day, robot, plan, data("any-day.plan"), "--no-cures", "-o", out("layout-failed.png")},
             answer_no);
    }

    /// What its logs say of the robot.
    void fitted() {
        const std::string robot = data("sprig-5.robot.toml");
        const std::string days = data("ordinary.days.toml");
        step("Is the robot what its file says? A drive that tells is made on one of its days:",
             {"fit", robot, "--drives", out("telling.plan")}, passed);
        step("Its log:",
             {"run", data("mist-loop.course.toml"), robot, out("telling.plan"), "--lost-s", "99", "--variation", days,
              "--day", "3", "--trace", out("telling.csv")},
             passed);
        step("What the log says, whether that is one of its days, and what it cannot say:",
             {"fit", robot, out("telling.csv"), "--variation", days, "-o", out("fitted.robot.toml")}, passed);
        step("And a run of its rounds on another of them. Its log on the course: where it went, whether the map's run "
             "goes "
             "there too, and whether that was one of its days:",
             {"run", data("glass-wing.course.toml"), robot, data("rounds.plan"), "--variation", days, "--day", "7",
              "--trace", out("day-7.csv")},
             passed);
        step("(the log came from the floor, say)",
             {"ask", data("rounds.plan"), "--log", out("day-7.csv"), "--robot", robot, "--course",
              data("glass-wing.course.toml"), "--variation", days, "-o", out("day-7.png")},
             passed);
    }

    /// Other numbers of plans that hold.
    void tuned() {
        step("Where does the first plan hold, over two of its numbers? Outlined in the picture:",
             {"sweep", data("fern-house.course.toml"), data("sprig-2.robot.toml"), data("left-first.plan"), "--filter",
              "ferns", "--over", "cruise=36..84:12", "--over", "inside=-40..16:14", "-o", out("heat-map.png")},
             passed);
        step("How fast can the rounds be, and still hold on 95 of 100 days that the search never saw?",
             {"tune", data("glass-wing.course.toml"), data("sprig-5.robot.toml"), data("rounds.plan"), "--move",
              "cruise=36..88", "--move", "slow=24..58", "--variation", data("evened.days.toml"), "--sure", "95",
              "--runs", "2400", "-o", out("rounds-tuned.plan"), "--picture", out("rounds-tuned.png")},
             passed);
    }

    std::string data(const char* name) const { return (std::filesystem::path(data_) / name).string(); }
    std::string out(const char* name) const { return (std::filesystem::path(output_) / name).string(); }

    /// One command as a user would type it, with its output.
    void step(const char* words, const std::vector<std::string>& command, int expected) {
        const Paint paint(streams_.colour);
        streams_.out << (first_ ? "" : "\n") << words << "\n\n" << paint.faint("$ vturn");
        first_ = false;
        for (const std::string& word : command) {
            streams_.out << ' ' << paint.faint(word);
        }
        streams_.out << std::endl; // some commands take their time: who watches sees what is under way
        const int status = run(command, streams_);
        if (status != expected) {
            streams_.err << fmt::format("vturn demo: exit status {} here, expected {}\n", status, expected);
            unexpected_ = true;
        }
    }

    Streams streams_;
    std::string data_;
    std::string output_;
    bool first_ = true;
    bool unexpected_ = false;
};

} // namespace

void add_demo(Parser& parser, Streams& streams) {
    Command command = parser.command("demo", "The whole tour on the demo data; writes its pictures");
    auto options = std::make_shared<DemoCall>();
    command.option("--data", options->data, "folder of the demo data, when it is not found by itself");
    command.option("-o,--output", options->output, "folder for what it writes").shows_default();
    command.footer(
        "Example:\n  vturn demo -o vturn-demo\n\nExit status: 0 when the story went as told, 1 when it did not.");
    command.does([options, &streams] { return Tour(streams, data_folder(options->data), options->output).go(); });
}

} // namespace vturn
