#include "commands/logged_looks.hpp"

#include "print/print.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/looks_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/wire/told_log.hpp"

namespace vturn {

using namespace vast_turn;

std::vector<LoggedLook> read_looks(const Streams& streams, const std::string& path, const LogReading& with) {
    const std::string text = read_file(path, std::size_t{256} << 20U);
    const auto reader = [&] {
        if (with.robot == nullptr) {
            return ArrayReader(with.plan->sensors());
        }
        return with.calibration ? array_reader(*with.robot, *with.calibration, with.numbers)
                                : array_reader(*with.robot);
    };
    if (is_told_in_frames(text)) {
        if (with.plan == nullptr) {
            throw InputError(path, "the log is in the short form, which needs the plan that was exported",
                             "name it: --plan PLAN");
        }
        if (!with.calibration || with.robot == nullptr) {
            throw InputError(path, "the log has counts in the short form, which need robot and calibration",
                             "name both: --robot and --calibration");
        }
        return parse_told(text, path, *with.plan, *with.robot, reader());
    }
    warn_of_garbled(streams, text, path);
    std::vector<std::string> channels;
    for (std::size_t i = 0; with.robot != nullptr && i < with.robot->sensors.size(); ++i) {
        channels.push_back(with.robot->sensors[i].channel);
    }
    return parse_log(text, path, reader(), channels, with.calibration.has_value(),
                     with.plan != nullptr ? asked_names(*with.plan) : AskedNames{});
}

} // namespace vturn
