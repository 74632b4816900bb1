#include "vast_turn/formats/write/tune_journal.hpp"

#include <utility>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace vast_turn {

TuneJournal::TuneJournal(const std::string& path, std::uint64_t fingerprint, std::size_t numbers, std::size_t trips)
    : numbers_(numbers), trips_(trips),
      lines_(path, {"tuning", "vast-turn tune ", fmt::format("vast-turn tune 1 {:016x}", fingerprint)},
             [this](std::string_view line) { return take(line); }) {}

TuneJournal::TuneJournal(std::string text, std::size_t numbers, std::size_t trips)
    : numbers_(numbers), trips_(trips), lines_(std::move(text), [this](std::string_view line) { return take(line); }) {}

bool TuneJournal::take(std::string_view line) {
    Key key;
    std::uint64_t runs = 0;
    if (!take_word(line, key.second) || !take_word(line, runs) || (runs != 0 && runs != trips_)) {
        return false;
    }
    key.first.resize(numbers_);
    for (double& value : key.first) {
        if (!take_word(line, value)) {
            return false;
        }
    }
    std::vector<TuneRun> of_day(runs);
    for (TuneRun& run : of_day) {
        std::uint64_t passed = 0;
        if (!take_word(line, passed) || passed > 1 || !take_word(line, run.time_s)) {
            return false;
        }
        run.passed = passed == 1;
    }
    known_.insert_or_assign(std::move(key), std::move(of_day));
    return line.empty();
}

TuneDrive TuneJournal::over(TuneDrive drive) {
    return [this, drive = std::move(drive)](const std::vector<TuneBatch>& batches) {
        std::vector<TuneBatch> missing; // days on end
        for (const TuneBatch& batch : batches) {
            bool goes_on = false;
            for (std::uint64_t day = batch.first_day; day < batch.first_day + batch.days; ++day) {
                const bool is_known = known_.contains({batch.at, day});
                if (!is_known && goes_on) {
                    ++missing.back().days;
                } else if (!is_known) {
                    missing.push_back({batch.at, day, 1});
                }
                goes_on = !is_known;
            }
        }
        const std::vector<std::vector<TuneRun>> driven =
            missing.empty() ? std::vector<std::vector<TuneRun>>{} : drive(missing);
        for (std::size_t i = 0; i < missing.size(); ++i) {
            for (std::uint64_t day = 0; day < missing[i].days; ++day) {
                std::vector<TuneRun> of_day;
                if (!driven[i].empty()) {
                    const auto first = driven[i].begin() + static_cast<std::ptrdiff_t>(day * trips_);
                    of_day.assign(first, first + static_cast<std::ptrdiff_t>(trips_));
                }
                std::string line =
                    fmt::format("{} {} {:a}", missing[i].first_day + day, of_day.size(), fmt::join(missing[i].at, " "));
                for (const TuneRun& run : of_day) {
                    line += fmt::format(" {} {:a}", run.passed ? 1 : 0, run.time_s);
                }
                lines_.append(line);
                known_.insert_or_assign({missing[i].at, missing[i].first_day + day}, std::move(of_day));
            }
        }
        std::vector<std::vector<TuneRun>> out;
        for (const TuneBatch& batch : batches) {
            std::vector<TuneRun>& runs = out.emplace_back();
            for (std::uint64_t day = batch.first_day; day < batch.first_day + batch.days; ++day) {
                const std::vector<TuneRun>& of_day = known_.at({batch.at, day});
                runs.insert(runs.end(), of_day.begin(), of_day.end());
            }
        }
        return out;
    };
}

} // namespace vast_turn
