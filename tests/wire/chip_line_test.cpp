/// Simulated chips drive the simulated robot: counts go in and powers come out through their serial ports.
#include <algorithm>
#include <sstream>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/text_file.hpp"

using namespace vast_turn;
using fixtures::call_vturn;

namespace {

const std::string wired_course = "data/fern-house/glass-wing.course.toml";
const std::string wired_robot = "data/fern-house/sprig-5.robot.toml";
const std::string wired_plan = "data/fern-house/rounds.plan";

/// Exports and builds a plan for a chip with the examples' own script; the call of what plays it.
std::string chip_program(const fixtures::Folder& folder, const std::string& plan, const std::string& calibration,
                         const std::string& chip) {
    const fixtures::Called built = fixtures::program(
        fmt::format("examples/on-the-robot/build.sh '{}' '{}' '{}' '{}' {} '{}' over-the-line",
                    fixtures::built("apps/vturn/vturn"), plan, wired_robot, calibration, chip, folder.path()));
    REQUIRE_MESSAGE(built.status == 0, built.err);
    return chip == "8-bit" ? fmt::format("'{0}/chip-line' '{0}/chip.elf'", folder.path())
                           : fmt::format("qemu-system-arm -M mps2-an385 -kernel '{}/chip.elf' -display none -monitor "
                                         "none -serial stdio -icount shift=5",
                                         folder.path());
}

/// A calibration of the bench, as a team has one.
std::string calibration_in(const fixtures::Folder& folder) {
    const std::string path = folder.file("sprig-5.calibration.toml");
    const auto called =
        call_vturn({"calibrate", "data/fern-house/sprig-5.bench.csv", "--robot", wired_robot, "-o", path});
    REQUIRE_MESSAGE(called.status == 0, called.err);
    return path;
}

/// What is printed of a run, up to the lines that tell how numbers are computed and who decided.
std::string story(const std::string& out) { return out.substr(0, std::min(out.find("  numbers"), out.find("  on  "))); }

} // namespace

TEST_CASE("the examples for bare chips take the lean program too, and are smaller with it" *
          doctest::skip(fixtures::sanitized())) {
    for (const char* chip : {"8-bit", "32-bit"}) {
        CAPTURE(chip);
        const fixtures::Folder folder;
        const std::string calibration = calibration_in(folder);
        const auto bytes = [&](const std::string& form) {
            const std::string into = folder.file("built-" + form);
            const fixtures::Called built = fixtures::program(fmt::format(
                "examples/on-the-robot/build.sh '{}' data/fern-house/plans/five-pid.plan '{}' '{}' {} '{}' {}",
                fixtures::built("apps/vturn/vturn"), wired_robot, calibration, chip, into, form));
            REQUIRE_MESSAGE(built.status == 0, built.err);
            const std::size_t row = built.out.find('\n', built.out.find("filename")); // of the size of its parts
            return std::stoi(built.out.substr(row));
        };
        CHECK(bytes("lean") < 0.75 * bytes("full"));
    }
}

TEST_CASE("a plan on a simulated chip drives the demo's robot as the map says, and keeps pace" *
          doctest::skip(fixtures::sanitized())) { // the simulator takes its time, which no sanitizer sees
    for (const char* chip : {"8-bit", "32-bit"}) {
        CAPTURE(chip);
        const fixtures::Folder folder;
        const std::string calibration = calibration_in(folder);
        const std::string limit = std::to_string(fixtures::rounds(60, 3, 1));
        const std::vector<std::string> call = {"run",       wired_course, wired_robot, wired_plan, "--calibration",
                                               calibration, "--limit-s",  limit,       "--trace"};
        const auto with = [&](const std::string& trace, const std::vector<std::string>& more) {
            std::vector<std::string> words = call;
            words.push_back(folder.file(trace));
            words.insert(words.end(), more.begin(), more.end());
            return call_vturn(words);
        };
        const auto map = with("map.csv", {"--numbers", "float"});
        const auto chips = with("chip.csv", {"--on", chip_program(folder, wired_plan, calibration, chip)});
        CHECK(chips.status == map.status);
        CHECK(story(chips.out) == story(map.out));
        CHECK(chips.out.find("looks answered, none late;") != std::string::npos);
        const auto answers = [&](const std::string& name) { // block, rule and powers, the last columns of each row
            std::istringstream rows(read_file(folder.file(name)));
            std::string all;
            for (std::string row; std::getline(rows, row);) {
                std::size_t at = row.size();
                for (int k = 0; k < 5; ++k) {
                    at = row.rfind(',', at - 1);
                }
                all += row.substr(at) + "\n";
            }
            return all;
        };
        CHECK(answers("chip.csv") == answers("map.csv"));
    }
}

TEST_CASE("the demo's trip passes with an 8-bit chip in the loop" * doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string calibration = calibration_in(folder);
    const std::string call = chip_program(folder, wired_plan, calibration, "8-bit");
    const bool all = fixtures::rounds(1, 0, 0) == 1;
    const auto trips = call_vturn({"trips", wired_course, wired_robot, wired_plan, "--calibration", calibration,
                                   "--repeat", all ? "10" : "1", "--filter", all ? "" : "not into", "--on", call});
    CHECK(trips.status == 0);
    CHECK(trips.out.find(all ? "4 passed" : "1 passed") != std::string::npos);
    CHECK(trips.out.find("looks answered, none late;") != std::string::npos);
}
