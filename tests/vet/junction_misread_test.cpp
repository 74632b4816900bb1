/// What is said of rules that take a plain line for a junction, or one junction for two.
#include <algorithm>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "support/two_crossings.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/vet/vet.hpp"

using namespace vast_turn;
using namespace fixtures::two_crossings;

namespace {

std::vector<std::string> misreads(const std::string& plan_text, const std::string& course_text,
                                  const Robot& cart = robot()) {
    const Plan plan = fixtures::compiled(plan_text);
    const Course course = parse_course(course_text, "course");
    std::vector<std::string> list;
    for (const Finding& finding : vet(plan, {&cart, &course, nullptr}).findings) {
        if (std::string(finding.kind->code) == "junction-misread") {
            CHECK(finding.grade == Grade::risk);
            list.push_back(finding.message);
        }
    }
    return list;
}

} // namespace

TEST_CASE("vet: a count of junctions by two sensors counts in the bend, by all three it does not") {
    const std::vector<std::string> told = misreads(counter(by_side, 47), aisles);
    REQUIRE(told.size() == 1);
    CHECK(told[0].find("it takes a plain line for a junction, where it sees [.##] at 5") == 0);
    CHECK(told[0].find("from crossing 1: in 8 of 8 drives") != std::string::npos);
    CHECK(misreads(counter(by_all, 47), aisles).empty());
}

TEST_CASE("vet: a crossing that is still under the array after the errand is counted twice") {
    const std::vector<std::string> told = misreads(counter(each_look, 9), aisles);
    REQUIRE(told.size() == 1);
    CHECK(told[0].find("it counts crossing 1 twice, where it sees [###] at 6") == 0);
    CHECK(misreads(counter(each_look, 47), aisles).empty());
}

TEST_CASE("vet: an item before a turn that ends on the plate takes it for the junction") {
    const auto told = misreads(by_plate(5), with_plate(), robot_with_nose());
    REQUIRE(told.size() == 1);
    CHECK(told[0].find("it takes the teal plate for a junction, where it sees [###] at 6") == 0);
    CHECK(misreads(by_plate(72), with_plate(), robot_with_nose()).empty());
    // A plate on a crossing leaves it one.
    const std::string hidden = std::string(aisles) + "[palette]\nteal = \"#17656B\"\n[[marker]]\ncolour = \"teal\"\n"
                                                     "at_mm = [640, 560]\nsize_mm = [70, 70]\n";
    CHECK(misreads(counter(by_all, 47), hidden, robot_with_nose()).empty());
}

TEST_CASE("vet: an errand at corners is meant for them, and one that never acts at a junction may be meant for bends" *
          doctest::skip(fixtures::sanitized())) {
    const std::string turns = counter("[?##] -> do junction", 6);
    CHECK(misreads(turns, aisles).size() == 1); // it acts at the crossings too
    const std::string bend_alone = "name = \"one aisle\"\nsize_mm = [1120, 1150]\n"
                                   "line = { colour = \"#1B1B1B\", width_mm = 26 }\n[[tape]]\n"
                                   "path = \"M 80,160 H 510 A 130,130 0 0 1 640,290 V 1010\"\n[[start]]\nname = "
                                   "\"door\"\nat_mm = [120, 160]\nheading_deg = 0\n";
    CHECK(misreads(turns, bend_alone).empty());
    std::string corner = aisles;
    corner.replace(corner.find("H 510 A 130,130 0 0 1 640,290"), 29, "H 640");
    CHECK(misreads(turns, corner).empty());
    // Looks that are counted are no junctions.
    CHECK(misreads(counter("[?##] -> set met = met + 1, bend(-7, 43)", 47), aisles).empty());
    // Who asks for more than the line knows more than the line tells.
    CHECK(misreads(counter("fresh [?##] and travelled > 30mm -> set met = met + 1, do junction", 47), aisles).empty());
}
