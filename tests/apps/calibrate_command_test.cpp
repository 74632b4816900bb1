/// `vturn calibrate` on the demo data and the loop from the bench to a run.
#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "support/golden.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/bench_csv.hpp"

using fixtures::call_vturn;
using fixtures::Called;
using fixtures::Folder;

namespace {

const std::string bench_csv_file = "data/fern-house/sprig-5.bench.csv";
const std::string sprig_5 = "data/fern-house/sprig-5.robot.toml";
const std::string mist_loop = "data/fern-house/mist-loop.course.toml";
const std::string five_wide = "data/fern-house/five-wide.plan";

bool contains(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

} // namespace

TEST_CASE("calibrate prints what it printed, and writes calibration, readings and picture") {
    const Folder folder;
    const Called called =
        call_vturn({"calibrate", bench_csv_file, "--robot", sprig_5, "-o", folder.file("k.calibration.toml"), "-o",
                    folder.file("k.png"), "-o", folder.file("k.csv")});
    CHECK(called.status == 0);
    golden::check("calibrate.txt", called.out);
    golden::check("calibrate.toml", vast_turn::read_file(folder.file("k.calibration.toml")));
    CHECK(vast_turn::read_file(folder.file("k.png")).substr(1, 3) == "PNG");
    CHECK(call_vturn({"calibrate", folder.file("k.csv"), "--robot", sprig_5}).status == 0);
    golden::check("calibrate-simulated.txt", call_vturn({"calibrate", "--simulate", mist_loop, sprig_5}).out);
}

TEST_CASE("a calibration made on the simulated bench is what a run reads with") {
    const Folder folder;
    const std::string sound = folder.file("sound.calibration.toml");
    const std::string dirty = folder.file("dirty.calibration.toml");
    CHECK(call_vturn({"calibrate", "--simulate", mist_loop, sprig_5, "-o", sound}).status == 0);
    CHECK(call_vturn({"calibrate", "--simulate", mist_loop, sprig_5, "--fault", "sensor4=dim:0.42", "-o", dirty})
              .status == 0);
    const auto places = [&](const std::string& calibration) {
        const Called run = call_vturn({"run", mist_loop, sprig_5, five_wide, "--limit-s", "14", "--fault",
                                       "sensor4=dim:0.42", "--calibration", calibration, "--json"});
        CHECK(run.status == 1); // the plan never halts here
        return nlohmann::json::parse(run.out)["route"].size();
    };
    CHECK(places(dirty) == 2);
    CHECK(places(sound) < 2);
}

TEST_CASE("a serious verdict is exit status 1; JSON names it") {
    const Called called =
        call_vturn({"calibrate", "--simulate", mist_loop, sprig_5, "--fault", "swapped:2,3", "--json"});
    CHECK(called.status == 1);
    const auto json = nlohmann::json::parse(called.out);
    CHECK(json["verdicts"][0]["kind"] == "wiring");
    CHECK(json["verdicts"][0]["sensors"] == nlohmann::json::array({2, 3}));
}

TEST_CASE("calls of calibrate that cannot be used say what to do and write nothing") {
    const Folder folder;
    for (const auto& [arguments, part] : std::vector<std::pair<std::vector<std::string>, std::string>>{
             {{"calibrate"}, "there are no readings"},
             {{"calibrate", bench_csv_file, "-o", folder.file("x.txt")}, "the ending does not say what to write"},
             {{"calibrate", bench_csv_file, "--fault", "sensor1=dead"}, "--fault goes with --simulate"},
             {{"calibrate", bench_csv_file, "--simulate", mist_loop, sprig_5}, "--simulate takes the place"},
             {{"calibrate", bench_csv_file, "--robot", "data/fern-house/sprig-2.robot.toml", "-o",
               folder.file("x.toml")},
              "leave the other columns out"},
             {{"calibrate", "nowhere.csv"}, "cannot be read"}}) {
        const Called called = call_vturn(arguments);
        CHECK(called.status == 2);
        CHECK_MESSAGE(contains(called.err, part), called.err);
        CHECK(called.out.empty());
    }
    CHECK(folder.names().empty());
}
