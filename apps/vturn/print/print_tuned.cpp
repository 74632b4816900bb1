#include "print/print_tuned.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "print/print.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

std::string trips_word(std::size_t trips) { return trips == 1 ? "its trip" : fmt::format("each of {} trips", trips); }

std::string failed_days(const TuneConfirmed& it) {
    return it.failed == 0 ? "none failed"
                          : fmt::format("{} failed{}", it.failed, it.failed == 1 ? "" : " of the weakest trip");
}

/// How far a number may go by itself: "61.2 to 68.4", the ends of its range in words.
std::string margin_text(const TuneMargin& margin) {
    return fmt::format("{:.6g}{} to {:.6g}{}", margin.low, margin.low_is_end ? " (its end)" : "", margin.high,
                       margin.high_is_end ? " (its end)" : "");
}

void print_numbers(const Streams& streams, const std::vector<Axis>& axes, const TuneAsk& ask, const Tuned& tuned) {
    std::vector<std::vector<std::string>> rows{{"number", "now", "may be", "tuned", "holds by itself from"}};
    for (std::size_t k = 0; k < axes.size(); ++k) {
        const TuneNumber& number = ask.numbers[k];
        const std::string& unit = axes[k].unit;
        rows.push_back({number.name, fmt::format("{:.6g}{}", ask.start[k], unit),
                        fmt::format("{:.6g} to {:.6g}", number.least, number.greatest),
                        tuned.winner ? fmt::format("{:.6g}{}", tuned.tried[*tuned.winner].at[k], unit) : "",
                        k < tuned.margins.size() ? margin_text(tuned.margins[k]) : ""});
    }
    print_columns(streams.out, rows);
}

void print_winner(const Streams& streams, const TuneAsk& ask, const Tuned& tuned) {
    const TuneConfirmed& won = tuned.confirmed;
    std::vector<std::vector<std::string>> rows;
    if (tuned.start) {
        const TuneConfirmed& was = *tuned.start;
        rows.push_back({"now", was.time_s > 0.0 ? fmt::format("{:.2f} s", was.time_s) : "never passes",
                        fmt::format("{} days, {}", was.days, failed_days(was))});
    }
    std::string gain;
    if (tuned.start && tuned.start->time_s > 0.0) {
        const double less = 100.0 * (1.0 - won.time_s / tuned.start->time_s);
        gain = fmt::format("; {:.1f} % {}", std::abs(less), less >= 0.0 ? "less time" : "more time");
    }
    rows.push_back({"tuned", fmt::format("{:.2f} s", won.time_s),
                    fmt::format("{} days that the search never saw, {}{}", won.days, failed_days(won), gain)});
    print_columns(streams.out, rows);
    const char* tested = ask.trips == 1 ? "" : ", of the weakest trip,";
    streams.out << fmt::format(
        "\nconfirmed: it holds on {:g} % of days or more (by these days on {:.1f} to {:.1f} %{} as "
        "surely as 95 of 100)\n",
        100.0 * ask.sure, 100.0 * won.share.low, 100.0 * won.share.high, tested);
}

} // namespace

void print_tuned(const Streams& streams, const std::string& title, const std::vector<Axis>& axes, const TuneAsk& ask,
                 const Tuned& tuned) {
    const Paint paint(streams.colour);
    streams.out << paint.strong(fmt::format("{}: the fastest with which {} holds on {:g} % of days", title,
                                            trips_word(ask.trips), 100.0 * ask.sure))
                << "\n";
    print_numbers(streams, axes, ask, tuned);
    streams.out << "\n";
    if (tuned.winner) {
        print_winner(streams, ask, tuned);
        for (std::size_t k = 0; k < axes.size(); ++k) {
            const double value = tuned.tried[*tuned.winner].at[k];
            if (!(value > ask.numbers[k].least && value < ask.numbers[k].greatest)) {
                streams.out << fmt::format(
                    "{} is at an end of what it may be: allow it more, and it may be faster yet\n",
                    ask.numbers[k].name);
            }
        }
        if (tuned.winner == std::size_t{0}) {
            streams.out << "nothing faster was found than what it is now\n";
        }
    } else if (tuned.unconfirmed) {
        const TuneTried& best = tuned.tried[*tuned.unconfirmed];
        std::string at;
        for (std::size_t k = 0; k < axes.size(); ++k) {
            at += fmt::format(" {}={:.6g}{}", ask.numbers[k].name, best.at[k], axes[k].unit);
        }
        streams.out << fmt::format("nothing was confirmed{}; the fastest that still held after {} days is{}\n",
                                   tuned.stopped ? " before it was stopped" : " before the runs were used up",
                                   best.days, at);
    } else {
        streams.out << "nothing holds so often, wherever it was tried\n";
    }
    const auto refuted =
        std::count_if(tuned.tried.begin(), tuned.tried.end(), [](const TuneTried& it) { return it.refuted; });
    streams.out << fmt::format(
        "{} places tried in {} runs{}; {} more runs for what it is now and for how far numbers may "
        "go\n",
        tuned.tried.size(), tuned.runs, refuted == 0 ? "" : fmt::format(", {} refuted by the confirmation", refuted),
        tuned.further_runs);
}

} // namespace vturn
