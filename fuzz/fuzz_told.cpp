// Any bytes are read as what an exported program told over its serial line; looks that are in it are put to the plan.
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/emit/frames.hpp"
#include "vast_turn/plan/explain/asker.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/wire/told_log.hpp"

std::vector<std::string_view> fuzz_words() { return {"\xA7T", "\xA7S", "\xA7"}; }

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace vast_turn;
    static const Plan plan = *compile_plan("plan \"t\"\nsensors 2\nmarkers amber\nhabit go {\namber -> halt\n[#.] -> "
                                           "bend(offset, 30)\ntravelled > 9mm -> still\nelse -> ahead(9)\n}\n",
                                           "t")
                                  .plan;
    static const Robot robot = [] {
        Robot made;
        made.sensors.resize(2);
        made.sensors[0].at_mm.y = 9.0;
        return made;
    }();
    frames::Ear ear;
    for (std::size_t i = 0; i < size; ++i) {
        ear.hears(data[i]);
    }
    try {
        Asker asker(plan);
        for (const LoggedLook& look :
             parse_told({reinterpret_cast<const char*>(data), size}, "fuzz", plan, robot, array_reader(robot))) {
            const Answer answer = asker.ask(look.look).answer;
            if (!std::isfinite(answer.left_pct) || !std::isfinite(answer.right_pct)) {
                std::abort();
            }
        }
    } catch (const InputError&) { // NOLINT(bugprone-empty-catch): refused with a reason
    }
    return 0;
}
