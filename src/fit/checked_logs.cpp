#include "fit/checked_logs.hpp"

#include <cmath>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

/// What no robot tells would make the sums of squares endless.
void check_numbers(const DriveLog& log) {
    const auto check = [&](const std::vector<double>& list, const char* what) {
        if (!list.empty() && list.size() != log.looks()) {
            throw InputError(log.name, fmt::format("{} are told in {} of {} looks", what, list.size(), log.looks()),
                             "tell them in each look, or leave them out");
        }
        for (const double value : list) {
            if (!(std::abs(value) <= drive_log_most)) {
                throw InputError(log.name, fmt::format("{:g} is more than any robot tells of {}", value, what),
                                 fmt::format("numbers lie within {:g} either way", drive_log_most));
            }
        }
    };
    check(log.t_ms, "times");
    check(log.left_pct, "powers");
    check(log.right_pct, "powers");
    for (const std::vector<double>* list : {&log.left_deg, &log.right_deg, &log.gyro_deg, &log.compass_deg}) {
        check(*list, "turns");
    }
    check(log.way_mm, "ways");
    check(log.turn_deg, "turns");
    for (const std::vector<double>& counts : log.counts) {
        check(counts, "counts");
    }
}

} // namespace

void check_logs(const std::vector<DriveLog>& logs) {
    if (logs.empty()) {
        throw InputError("", "there is no log to fit the robot to", "name at least one");
    }
    constexpr std::size_t least_looks = 50;
    constexpr std::size_t most_looks = 200'000;
    for (const DriveLog& log : logs) {
        if (log.looks() < least_looks) {
            throw InputError(log.name, fmt::format("a log of {} looks tells too little", log.looks()),
                             fmt::format("at least {} are needed, some thousand are good", least_looks));
        }
        if (log.left_pct.size() != log.looks() || log.right_pct.size() != log.looks()) {
            throw InputError(log.name, "the log does not tell the powers that were answered",
                             "log left_pct and right_pct in each look");
        }
    }
    for (const DriveLog& log : logs) {
        check_numbers(log);
    }
    std::size_t looks = 0;
    for (const DriveLog& log : logs) {
        looks += log.looks();
    }
    if (looks > most_looks) {
        throw InputError("", fmt::format("{} looks are more than a fit can hold", looks),
                         fmt::format("keep it to {}: half an hour tells no more than ten minutes", most_looks));
    }
}

} // namespace vast_turn
