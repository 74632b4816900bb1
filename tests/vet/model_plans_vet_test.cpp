/// vet over the plans of the demo: silent on the model plans, or a comment says why not.
#include <filesystem>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/vet/vet.hpp"

using namespace vast_turn;

namespace {

std::string told(const VetReport& report) {
    std::string text;
    for (const Finding& finding : report.findings) {
        text += std::string(finding.kind->code) + ": " + finding.message + "\n";
    }
    return text;
}

} // namespace

TEST_CASE("vet is silent on every model plan alone") {
    int plans = 0;
    for (const auto& entry : std::filesystem::directory_iterator("data/fern-house/plans")) {
        const Plan plan = load_plan(entry.path().string());
        CAPTURE(plan.file());
        const VetReport report = vet(plan);
        CHECK(told(report) == "");
        CHECK(report.undecided.empty());
        ++plans;
    }
    CHECK(plans >= 25);
}

TEST_CASE("vet is silent on model plans with the robots and courses that they are driven on" *
          doctest::skip(fixtures::sanitized())) {
    struct Model {
        const char* plan;
        const char* course;
        const char* robot;
    };
    int allowed = 0;
    for (const Model& model :
         {Model{"edge-left", "aisle", "sprig-1"}, Model{"two-beside", "aisle", "sprig-2"},
          Model{"two-on-line", "aisle", "sprig-2-close"}, Model{"three-pi", "aisle", "sprig-3"},
          Model{"four-table", "aisle", "sprig-4"}, Model{"five-pid", "aisle", "sprig-5"},
          Model{"search", "drain", "sprig-5"}, Model{"gap-straight", "straight-drain", "sprig-3"},
          Model{"fork-left", "fern-house", "sprig-3"}, Model{"turn-by-wheels", "crossing", "sprig-3"},
          Model{"colour-rules", "turns", "sprig-3"}, Model{"dark-plate", "dark-plates", "sprig-5"},
          Model{"u-turn", "dead-end", "sprig-3"}, Model{"stages", "stages", "sprig-3"},
          Model{"laps", "mist-loop", "sprig-5"}}) {
        const std::string folder = "data/fern-house/";
        const Plan plan = load_plan(folder + "plans/" + model.plan + ".plan");
        const Robot robot = load_robot(folder + model.robot + ".robot.toml");
        const Course course = load_course(folder + model.course + ".course.toml");
        CAPTURE(model.plan);
        const VetReport report = vet(plan, {&robot, &course, nullptr});
        CHECK(told(report) == "");
        CHECK_FALSE(report.facts.empty());
        allowed += static_cast<int>(report.allowed.size());
    }
    CHECK(allowed == 2); // laps knows one of three plates, stages begins beside the line
}

TEST_CASE("vet says of plans of other hands, which pass their trips, what is so and nothing else" *
          doctest::skip(fixtures::sanitized())) {
    struct Other {
        const char* plan;
        const char* course;
        const char* robot;
        std::string codes;
    };
    const std::string turns = "never-gives-up ";
    for (const Other& other :
         {Other{"count", "serre", "sprig-4", ""}, Other{"stages", "serre", "sprig-5", turns + turns + turns + turns},
          Other{"by-the-wheels", "serre", "sprig-2", ""},
          Other{"deliver", "yard", "sprig-3", ""}, // a plate hides the line, and is obeyed
          Other{"by-readings", "back-yard", "sprig-5", ""}, Other{"home", "back-yard", "sprig-3", ""},
          Other{"one-after-another", "back-yard", "sprig-4", "dead-band "}}) {
        const std::string folder = "tests/trial/yards/";
        const Plan plan = load_plan(folder + other.plan + ".plan");
        const Robot robot = load_robot("data/fern-house/" + std::string(other.robot) + ".robot.toml");
        const Course course = load_course(folder + other.course + ".course.toml");
        const VetReport report = vet(plan, {&robot, &course, nullptr});
        CAPTURE(other.plan);
        CAPTURE(told(report));
        std::string codes;
        for (const Finding& finding : report.findings) {
            codes += std::string(finding.kind->code) + " ";
        }
        CHECK(codes == other.codes);
    }
}

TEST_CASE("a comment allows a finding at its line, on the line below or of the whole plan, and nothing else") {
    const auto vetted = [](const std::string& comment_at_end, const std::string& comment_above,
                           const std::string& comment_on_top) {
        return vet(fixtures::compiled(comment_on_top + "plan \"p\"\nsensors 2\nhabit follow {\n" + comment_above +
                                      "    [#?] -> wheels(-14, 43)" + comment_at_end +
                                      "\n    [?#] -> wheels(43, -14)\n    [..] -> still\n    [.?] -> still\n}\n"));
    };
    const std::string allow = "// vet: allow order-decides because left is meant";
    const VetReport plain = vetted("", "", "");
    REQUIRE(plain.findings.size() == 2); // the order, and the last rule that never acts
    for (const VetReport& report : {vetted("  " + allow, "", ""), vetted("", "    " + allow + "\n", ""),
                                    vetted("", "    " + allow + "\n    // and more words\n\n", "")}) {
        REQUIRE(report.findings.size() == 1);
        CHECK(report.findings[0].kind->code == std::string("never-acts"));
        REQUIRE(report.allowed.size() == 1);
        CHECK(report.allowed[0].because == "left is meant");
    }
    const VetReport on_top = vetted("", "", allow + "\n"); // the plan's first line is not where the rule stands
    CHECK(told(on_top).find("allow-idle") != std::string::npos);
    CHECK(on_top.allowed.empty());
    for (const char* wrong : {"// vet: allow order-decide because x", "// vet: allow order-decides", "// vet: be quiet",
                              "// vet: allow order-decides because "}) {
        const VetReport report = vetted(std::string("  ") + wrong, "", "");
        CAPTURE(wrong);
        CHECK(told(report).find("allow-unclear") != std::string::npos);
        CHECK(report.allowed.empty());
    }
    CHECK(told(vetted("  // vet: allow order-decide because x", "", "")).find("did you mean `order-decides`") !=
          std::string::npos);
    // Two slashes in a string are no comment.
    const VetReport in_string =
        vet(fixtures::compiled("plan \"p // vet: allow\"\nsensors 1\nhabit f {\n    else -> keep\n}\n"));
    CHECK(told(in_string).find("allow-") == std::string::npos);
}
