#include "tune/field.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

namespace vast_turn {

namespace {

constexpr double no_time = 4.0; // a worth that none reaches

/// How often one that holds in `sure` of all days may have failed by now, with some bad luck.
double most_failures(double sure, std::uint64_t days) {
    const double expected = (1.0 - sure) * static_cast<double>(days);
    return expected + 1.5 * std::sqrt(expected);
}

} // namespace

TuneField::TuneField(const TuneAsk& ask, std::uint64_t days) : ask_(ask), days_(days), hard_(days, 0.0) {
    for (const TuneNumber& number : ask.numbers) {
        grain_.push_back(std::pow(10.0, std::floor(std::log10((number.greatest - number.least) / 400.0))));
    }
    std::iota(days_.begin(), days_.end(), ask.first_day);
}

TuneValues TuneField::values_at(const std::vector<double>& place) const {
    TuneValues values;
    for (std::size_t k = 0; k < place.size(); ++k) {
        const TuneNumber& number = ask_.numbers[k];
        if (number.step > 0.0) {
            const double most = std::floor((number.greatest - number.least) / number.step + 1e-9);
            values.push_back(number.least + number.step * std::round(std::clamp(place[k], 0.0, 1.0) * most));
            continue;
        }
        const double exact = number.least + std::clamp(place[k], 0.0, 1.0) * (number.greatest - number.least);
        // By whole numbers of grains a value is the number that its shortest text is read as.
        const double grains = std::round(exact / grain_[k]);
        const double round = grain_[k] < 1.0 ? grains / std::round(1.0 / grain_[k]) : grains * grain_[k];
        values.push_back(std::clamp(round, number.least, number.greatest));
    }
    return values;
}

std::vector<double> TuneField::place_of(const TuneValues& at) const {
    std::vector<double> place;
    for (std::size_t k = 0; k < at.size(); ++k) {
        place.push_back((at[k] - ask_.numbers[k].least) / (ask_.numbers[k].greatest - ask_.numbers[k].least));
    }
    return place;
}

CandidateNumber TuneField::add(const TuneValues& at, TuneStage stage) {
    const auto [entry, is_new] = known_.emplace(at, all_.size());
    if (is_new) {
        all_.push_back({at, stage});
        all_.back().failures.resize(ask_.trips, 0);
    }
    return entry->second;
}

bool TuneField::may_go_on() {
    stopped_ = stopped_ || (ask_.stop && ask_.stop());
    return !is_over();
}

void TuneField::take(Candidate& one, std::size_t day, const TuneRun* runs) {
    if (!one.runs.try_emplace(day, runs, runs + ask_.trips).second) {
        return;
    }
    ++one.days;
    for (std::size_t trip = 0; trip < ask_.trips; ++trip) {
        one.failures[trip] += runs[trip].passed ? 0 : 1;
    }
}

void TuneField::weigh(const Candidate& one) {
    const auto failed_on = [](const std::vector<TuneRun>& runs) {
        return std::any_of(runs.begin(), runs.end(), [](const TuneRun& run) { return !run.passed; });
    };
    const auto failures =
        std::count_if(one.runs.begin(), one.runs.end(), [&](const auto& day) { return failed_on(day.second); });
    if (2 * static_cast<std::uint64_t>(failures) > one.days) {
        return; // it fails for other reasons
    }
    for (const auto& [day, runs] : one.runs) {
        hard_[day] += failed_on(runs) ? 1.0 / static_cast<double>(failures) : 0.0;
    }
}

void TuneField::drive(const std::vector<CandidateNumber>& which, std::uint64_t days) {
    if (!may_go_on()) {
        return;
    }
    std::vector<TuneBatch> batches;
    std::vector<CandidateNumber> driven;
    std::uint64_t left = (ask_.most_runs - runs_) / ask_.trips; // days
    for (const CandidateNumber one : which) {
        const Candidate& it = all_[one];
        if (!is_in(one) || it.first_days >= days || left == 0) {
            continue;
        }
        const std::uint64_t more = std::min(left, days - it.first_days);
        left -= more;
        batches.push_back({it.at, ask_.first_day + it.first_days, more});
        driven.push_back(one);
    }
    if (batches.empty()) {
        return;
    }
    const std::vector<std::vector<TuneRun>> runs = ask_.drive(batches);
    for (std::size_t i = 0; i < driven.size(); ++i) {
        Candidate& it = all_[driven[i]];
        it.cannot_be = runs[i].empty();
        for (std::size_t day = 0; day < runs[i].size() / ask_.trips; ++day) {
            take(it, it.first_days++, &runs[i][day * ask_.trips]);
        }
        runs_ += runs[i].size();
        weigh(it);
    }
    if (ask_.progress) {
        ask_.progress(runs_);
    }
}

std::uint64_t TuneField::hard_days_left(CandidateNumber one) const {
    std::uint64_t left = 0;
    for (std::size_t day = 0; day < days_.size(); ++day) {
        left += hard_[day] > 0.0 && !all_[one].runs.contains(day) ? 1 : 0;
    }
    return left;
}

void TuneField::drive_hard(CandidateNumber one, std::uint64_t days) {
    if (!may_go_on()) {
        return;
    }
    Candidate& it = all_[one];
    std::vector<std::pair<double, std::size_t>> order;
    for (std::size_t day = 0; day < days_.size(); ++day) {
        if (!it.runs.contains(day)) {
            order.emplace_back(-hard_[day], day);
        }
    }
    std::sort(order.begin(), order.end());
    order.resize(std::min<std::size_t>(order.size(), std::min(days, (ask_.most_runs - runs_) / ask_.trips)));
    std::vector<TuneBatch> batches;
    for (const auto& [hardness, day] : order) {
        batches.push_back({it.at, days_[day], 1});
    }
    if (batches.empty()) {
        return;
    }
    const std::vector<std::vector<TuneRun>> runs = ask_.drive(batches);
    for (std::size_t i = 0; i < order.size(); ++i) {
        it.cannot_be = it.cannot_be || runs[i].empty();
        if (!runs[i].empty()) {
            take(it, order[i].second, runs[i].data());
            runs_ += ask_.trips;
        }
    }
    weigh(it);
    if (ask_.progress) {
        ask_.progress(runs_);
    }
}

std::vector<TuneRun> TuneField::drive_apart(CandidateNumber one, std::uint64_t first_day, std::uint64_t days) {
    if (!may_go_on()) {
        return {};
    }
    const std::uint64_t most = (ask_.most_runs - runs_) / ask_.trips;
    std::vector<std::vector<TuneRun>> runs = ask_.drive({{all_[one].at, first_day, std::min(days, most)}});
    runs_ += runs.front().size();
    if (ask_.progress) {
        ask_.progress(runs_);
    }
    return std::move(runs.front());
}

std::vector<std::vector<TuneRun>> TuneField::drive_besides(const std::vector<TuneBatch>& batches) {
    stopped_ = stopped_ || (ask_.stop && ask_.stop());
    if (stopped_ || batches.empty()) {
        return {};
    }
    std::vector<std::vector<TuneRun>> runs = ask_.drive(batches);
    for (const std::vector<TuneRun>& some : runs) {
        further_runs_ += some.size();
    }
    return runs;
}

std::uint64_t TuneField::failed(CandidateNumber one) const {
    return *std::max_element(all_[one].failures.begin(), all_[one].failures.end());
}

std::uint64_t TuneField::failed_of_first(CandidateNumber one, std::size_t trip) const {
    std::uint64_t failures = 0;
    for (const auto& [day, runs] : all_[one].runs) {
        failures += day < all_[one].first_days && !runs[trip].passed ? 1 : 0;
    }
    return failures;
}

bool TuneField::is_in(CandidateNumber one) const {
    const Candidate& it = all_[one];
    // One that is to be confirmed must do better than what the confirmation just so lets pass: a sixth of the days.
    const double most = it.days > it.first_days ? 0.15 * (1.0 - ask_.sure) * static_cast<double>(days_.size())
                                                : most_failures(ask_.sure, it.days);
    return !it.cannot_be && !it.refuted && !it.at_an_edge && static_cast<double>(failed(one)) <= most;
}

std::optional<double> TuneField::day_s(const std::vector<TuneRun>& runs) {
    double time_s = 0.0;
    for (const TuneRun& run : runs) {
        if (!run.passed) {
            return std::nullopt;
        }
        time_s += run.time_s;
    }
    return time_s;
}

double TuneField::worth(CandidateNumber one, CandidateNumber reference) const {
    const Candidate& it = all_[one];
    if (it.cannot_be) {
        return 3.0 * no_time;
    }
    if (!is_in(one)) {
        return no_time * (1.0 + static_cast<double>(failed(one)) / static_cast<double>(it.days));
    }
    return std::min(time_ratio(one, reference), no_time);
}

double TuneField::time_ratio(CandidateNumber one, CandidateNumber other) const {
    double own_s = 0.0;
    double others_s = 0.0;
    for (const auto& [day, runs] : all_[one].runs) {
        const auto same = all_[other].runs.find(day);
        const auto a = day_s(runs);
        const auto b = same != all_[other].runs.end() ? day_s(same->second) : std::nullopt;
        if (a && b) {
            own_s += *a;
            others_s += *b;
        }
    }
    return others_s > 0.0 ? own_s / others_s : 1.0;
}

double TuneField::time_s(CandidateNumber one) const {
    double time_s = 0.0;
    double days = 0.0;
    for (const auto& [day, runs] : all_[one].runs) {
        if (const auto whole = day_s(runs)) {
            time_s += *whole;
            days += 1.0;
        }
    }
    return days > 0.0 ? time_s / days : 0.0;
}

std::optional<CandidateNumber> TuneField::fastest(const std::vector<CandidateNumber>& which) const {
    std::optional<CandidateNumber> best;
    for (const CandidateNumber one : which) {
        if (is_in(one) && time_s(one) > 0.0 && (!best || worth(one, *best) < 1.0)) {
            best = one;
        }
    }
    return best;
}

std::vector<CandidateNumber> TuneField::by_time() const {
    std::vector<CandidateNumber> list;
    for (CandidateNumber one = 0; one < all_.size(); ++one) {
        if (is_in(one) && time_s(one) > 0.0) {
            list.push_back(one);
        }
    }
    if (const auto best = fastest(list)) {
        std::vector<std::pair<double, CandidateNumber>> ranked;
        for (const CandidateNumber one : list) {
            ranked.emplace_back(worth(one, *best), one);
        }
        std::sort(ranked.begin(), ranked.end());
        std::transform(ranked.begin(), ranked.end(), list.begin(), [](const auto& entry) { return entry.second; });
    }
    return list;
}

void TuneField::refute(CandidateNumber one, std::uint64_t first_day, const std::vector<TuneRun>& runs) {
    Candidate& it = all_[one];
    it.refuted = true;
    for (std::size_t day = 0; day < runs.size() / ask_.trips; ++day) {
        const TuneRun* of_day = &runs[day * ask_.trips];
        if (std::any_of(of_day, of_day + ask_.trips, [](const TuneRun& run) { return !run.passed; })) {
            days_.push_back(first_day + day);
            hard_.push_back(1.0);
            take(it, days_.size() - 1, of_day);
        }
    }
}

TuneTried TuneField::told(CandidateNumber one) const {
    const Candidate& it = all_[one];
    return {it.at, it.stage, it.days, failed(one), time_s(one), it.refuted};
}

TuneConfirmed counted(const std::vector<TuneRun>& runs, std::size_t trips) {
    TuneConfirmed all;
    all.days = runs.size() / trips;
    std::vector<std::uint64_t> failures(trips, 0);
    std::uint64_t whole = 0;
    double time_s = 0.0;
    for (std::uint64_t day = 0; day < all.days; ++day) {
        bool passed = true;
        double day_s = 0.0;
        for (std::size_t trip = 0; trip < trips; ++trip) {
            const TuneRun& run = runs[day * trips + trip];
            failures[trip] += run.passed ? 0 : 1;
            passed = passed && run.passed;
            day_s += run.time_s;
        }
        whole += passed ? 1 : 0;
        time_s += passed ? day_s : 0.0;
    }
    all.failed = failures.empty() ? 0 : *std::max_element(failures.begin(), failures.end());
    all.share = wilson(all.days - all.failed, all.days);
    all.time_s = whole > 0 ? time_s / static_cast<double>(whole) : 0.0;
    return all;
}

} // namespace vast_turn
