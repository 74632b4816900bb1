#include "tune/ask.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

std::uint64_t days_to_confirm(double sure) {
    SequentialTest test(sure);
    std::uint64_t days = 0;
    for (; !test.decided(); ++days) {
        test.take(true);
    }
    return days;
}

void check_tuning(const TuneAsk& ask) {
    if (ask.numbers.empty() || ask.numbers.size() > 12) {
        throw InputError("", fmt::format("{} numbers are to move", ask.numbers.size()), "name one to twelve");
    }
    for (std::size_t k = 0; k < ask.numbers.size(); ++k) {
        const TuneNumber& number = ask.numbers[k];
        if (!(number.least < number.greatest)) {
            throw InputError("",
                             fmt::format("{} is to move from {:g} to {:g}", number.name, number.least, number.greatest),
                             "write the smaller end first, as 36..60");
        }
        if (!(number.step >= 0.0 && number.step <= number.greatest - number.least)) {
            throw InputError("", fmt::format("{} is to move in steps of {:g}", number.name, number.step),
                             "write a step that fits between the ends");
        }
        if (!(ask.start[k] >= number.least && ask.start[k] <= number.greatest)) {
            throw InputError("",
                             fmt::format("{} is {:g}, and that is not within {:g}..{:g}", number.name, ask.start[k],
                                         number.least, number.greatest),
                             "let it move over a range that holds what it is now");
        }
    }
    if (!(ask.sure >= 0.5 && ask.sure <= 0.9999)) {
        throw InputError("", fmt::format("{:g} % of days cannot be asked for", 100.0 * ask.sure),
                         "ask for 50 to 99.99");
    }
    const std::uint64_t least = 2 * days_to_confirm(ask.sure) * ask.trips;
    if (ask.most_runs < least) {
        throw InputError("",
                         fmt::format("{} runs are too few to be sure of {:g} % of days: without any failure that takes "
                                     "{} days of {}",
                                     ask.most_runs, 100.0 * ask.sure, days_to_confirm(ask.sure),
                                     ask.trips == 1 ? "the trip" : fmt::format("{} trips", ask.trips)),
                         fmt::format("allow {} runs or more, or ask for less", least));
    }
}

std::uint64_t tune_runs(double sure, std::size_t trips) {
    return std::max<std::uint64_t>(5000, 5 * days_to_confirm(sure)) * trips;
}

} // namespace vast_turn
