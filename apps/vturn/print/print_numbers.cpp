#include "print/print_numbers.hpp"

#include <fmt/format.h>

#include "vast_turn/trial/trip_result.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

/// "double decides otherwise in 1 of 4 looks, first at 0.04 s: line 5 in place of line 4"
std::string otherwise(const Plan& plan, const NumbersCheck& check, const std::vector<Look>& told) {
    const auto line = [&](RuleId rule) {
        return rule == no_rule ? std::string("no rule") : fmt::format("line {}", plan.rule(rule).line);
    };
    return fmt::format("double decides otherwise in {} of {} looks, first at {:.2f} s: {} in place of {}",
                       check.differing, check.looks, told[*check.first].clock_ms / 1000.0, line(check.by_double),
                       line(check.by_float));
}

} // namespace

void print_numbers(const Streams& streams, const Plan& plan, const NumbersCheck& check, const std::vector<Look>& told) {
    streams.out << (check.first
                        ? fmt::format("  numbers     float; {}\n", otherwise(plan, check, told))
                        : fmt::format("  numbers     float; double decides alike in all {} looks\n", check.looks));
}

void print_numbers_of_trips(const Streams& streams, const Plan& plan, const std::vector<TripCase>& cases,
                            RunOptions options) {
    options.keep_told = true;
    std::size_t looks = 0;
    bool alike = true;
    for (const TripCase& one : cases) {
        const Run run = try_trip(*one.scene, Pilot(plan), one.trip, options).run;
        const NumbersCheck check = check_numbers(plan, run.told);
        looks += check.looks;
        if (check.first) {
            alike = false;
            streams.out << fmt::format("numbers: float; \"{}\" on plan \"{}\": {}\n", one.trip.name, plan.name(),
                                       otherwise(plan, check, run.told));
        }
    }
    if (alike) {
        streams.out << fmt::format("numbers: float; plan \"{}\": double decides alike in all {} looks of {} run{}\n",
                                   plan.name(), looks, cases.size(), cases.size() == 1 ? "" : "s");
    }
}

} // namespace vturn
