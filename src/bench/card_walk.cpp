#include "vast_turn/bench/card_walk.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace vast_turn {

namespace {

/// A channel answers when it changes by at least this part of its range,
constexpr double least_answer = 0.05;
/// and at least this part of the most that it changes under any card.
constexpr double part_of_its_best = 0.5;
/// A sensor is weak when it answers less than this part of what the middle one does.
constexpr double weak_part = 0.5;

double middle(std::vector<double> values) {
    if (values.empty()) {
        return 0.0;
    }
    std::sort(values.begin(), values.end());
    return values[values.size() / 2];
}

/// Which channels answer to the card under which sensor.
class Answers {
public:
    explicit Answers(std::vector<std::vector<double>> answers) : answers_(std::move(answers)) {
        const std::size_t n = answers_.size();
        best_.assign(n, 0.0);
        for (const std::vector<double>& to_card : answers_) {
            for (std::size_t k = 0; k < n; ++k) {
                best_[k] = std::max(best_[k], std::abs(to_card[k]));
            }
        }
        for (std::size_t s = 0; s < n; ++s) {
            heard_.emplace_back();
            for (std::size_t k = 0; k < n; ++k) {
                const double size = std::abs(answers_[s][k]);
                if (size >= least_answer && size >= part_of_its_best * best_[k]) {
                    heard_[s].push_back(k);
                }
            }
        }
    }

    std::size_t sensors() const { return answers_.size(); }
    const std::vector<std::size_t>& to(std::size_t sensor) const { return heard_[sensor]; }
    /// The one channel that answers to a sensor; the sensor's own when none or several do.
    std::size_t channel(std::size_t sensor) const { return heard_[sensor].size() == 1 ? heard_[sensor][0] : sensor; }
    double size(std::size_t sensor) const { return answers_[sensor][channel(sensor)]; }

private:
    std::vector<std::vector<double>> answers_;
    std::vector<double> best_;
    std::vector<std::vector<std::size_t>> heard_;
};

std::vector<int> numbers(const std::vector<std::size_t>& from_0) {
    std::vector<int> list;
    for (const std::size_t k : from_0) {
        list.push_back(static_cast<int>(k) + 1);
    }
    return list;
}

void find_order(const Answers& answers, std::vector<WireFinding>& out) {
    std::vector<bool> told(answers.sensors(), false);
    std::vector<std::size_t> moved;
    for (std::size_t s = 0; s < answers.sensors(); ++s) {
        const std::size_t k = answers.channel(s);
        if (k == s || told[s]) {
            continue;
        }
        if (answers.channel(k) == s && answers.to(k).size() == 1) {
            told[k] = true;
            out.push_back({WireFinding::Kind::swapped, numbers({s, k}),
                           fmt::format("the wires of sensors {} and {} are swapped: each answers in the other's place",
                                       s + 1, k + 1),
                           "exchange the two plugs, or the two channels in the robot file"});
        } else {
            moved.push_back(s);
        }
    }
    if (!moved.empty()) {
        std::vector<std::string> words;
        for (const std::size_t s : moved) {
            words.push_back(fmt::format("to the card under {} answers {}", s + 1, answers.channel(s) + 1));
        }
        out.push_back({WireFinding::Kind::moved, numbers(moved), fmt::format("{}", fmt::join(words, ", ")),
                       "put the plugs in the order of the sensors, or the channels of the robot file in that of the "
                       "plugs"});
    }
}

void find_silent(const Answers& answers, std::vector<WireFinding>& out) {
    for (std::size_t s = 0; s < answers.sensors(); ++s) {
        const int number = static_cast<int>(s) + 1;
        if (answers.to(s).empty()) {
            out.push_back({WireFinding::Kind::silent,
                           {number},
                           fmt::format("no channel answers to the card under sensor {}", number),
                           "look at its plug, its supply and whether its light burns; then do the step again"});
        } else if (answers.to(s).size() > 1) {
            out.push_back({WireFinding::Kind::several,
                           {number},
                           fmt::format("channels {} all answer to the card under sensor {}",
                                       fmt::join(numbers(answers.to(s)), ", "), number),
                           "take a card no wider than the way between two sensors; if it is, look for a bridge "
                           "between the wires"});
        }
    }
}

void find_weak(const Answers& answers, std::vector<WireFinding>& out) {
    std::vector<double> sizes;
    int up = 0;
    for (std::size_t s = 0; s < answers.sensors(); ++s) {
        if (!answers.to(s).empty()) {
            sizes.push_back(std::abs(answers.size(s)));
            up += answers.size(s) > 0.0 ? 1 : -1;
        }
    }
    const double usual = middle(sizes);
    for (std::size_t s = 0; s < answers.sensors(); ++s) {
        if (answers.to(s).empty()) {
            continue;
        }
        const int number = static_cast<int>(s) + 1;
        const bool other_way = (up > 0 && answers.size(s) < 0.0) || (up < 0 && answers.size(s) > 0.0);
        if (other_way) {
            out.push_back({WireFinding::Kind::inverted,
                           {number},
                           fmt::format("sensor {} counts {} under the card, the others {}", number,
                                       up > 0 ? "more" : "less", up > 0 ? "less" : "more"),
                           "look whether it is of the same kind and wired as the others"});
        } else if (std::abs(answers.size(s)) < weak_part * usual) {
            out.push_back({WireFinding::Kind::weak,
                           {number},
                           fmt::format("sensor {} answers with {:.0f} % of what the others do", number,
                                       100.0 * std::abs(answers.size(s)) / usual),
                           "clean it, and hold it as near to the floor as the others"});
        }
    }
}

} // namespace

const char* name_of(WireFinding::Kind kind) {
    switch (kind) {
    case WireFinding::Kind::swapped: return "swapped";
    case WireFinding::Kind::moved: return "moved";
    case WireFinding::Kind::silent: return "silent";
    case WireFinding::Kind::several: return "several";
    case WireFinding::Kind::inverted: return "inverted";
    case WireFinding::Kind::weak: return "weak";
    case WireFinding::Kind::present: return "present";
    }
    return "";
}

CardWalk::CardWalk(const Robot& robot, int looks)
    : sensors_(static_cast<int>(robot.sensors.size())), looks_(std::max(1, looks)) {
    for (const LineSensor& sensor : robot.sensors) {
        most_.push_back(sensor.adc_max);
    }
    sum_.assign(most_.size(), 0.0);
}

void CardWalk::take(const double* counts) {
    if (!holding_) {
        return;
    }
    for (std::size_t k = 0; k < sum_.size(); ++k) {
        sum_[k] += counts[k];
    }
    if (++taken_ < looks_) {
        return;
    }
    std::vector<double> mean;
    for (double& sum : sum_) {
        mean.push_back(sum / taken_);
        sum = 0.0;
    }
    means_.push_back(mean);
    taken_ = 0;
    holding_ = false;
}

void CardWalk::back() {
    if (holding_) {
        holding_ = false;
    } else if (!means_.empty()) {
        means_.pop_back();
    }
    taken_ = 0;
    std::fill(sum_.begin(), sum_.end(), 0.0);
}

std::vector<std::vector<double>> CardWalk::answers() const {
    std::vector<std::vector<double>> all(means_.size());
    for (std::size_t k = 0; !means_.empty() && k < most_.size(); ++k) {
        std::vector<double> counts;
        for (const std::vector<double>& mean : means_) {
            counts.push_back(mean[k]);
        }
        const double usual = counts.size() < 3 ? means_[0][k] : middle(counts);
        for (std::size_t step = 0; step < means_.size(); ++step) {
            all[step].push_back((usual - means_[step][k]) / most_[k]);
        }
    }
    return all;
}

std::vector<WireFinding> CardWalk::findings() const {
    std::vector<WireFinding> out;
    if (!is_done()) {
        return out;
    }
    std::vector<std::vector<double>> by_step = answers();
    for (std::size_t k = 0; k < most_.size(); ++k) {
        if (std::abs(by_step[0][k]) >= least_answer) {
            out.push_back({WireFinding::Kind::present,
                           {static_cast<int>(k) + 1},
                           fmt::format("channel {} answers where no card should be", k + 1),
                           "take the card away at the first step; do the check once more"});
        }
    }
    by_step.erase(by_step.begin());
    const Answers all(std::move(by_step));
    find_order(all, out);
    find_silent(all, out);
    find_weak(all, out);
    return out;
}

} // namespace vast_turn
