#include "vast_turn/sense/marker_look.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "sense/statistics.hpp"

namespace vast_turn {

namespace {

constexpr double sure_margin = 3.0; // deviations

bool is_marker(const std::string& name) {
    return name != under::line && name != under::floor && name != under::sweep && name != under::sweep_back;
}

std::vector<std::string> surfaces_of(const BenchReadings& readings, bool markers_only) {
    std::vector<std::string> names;
    for (const BenchLook& look : readings.looks) {
        const bool wanted =
            is_marker(look.under) || (!markers_only && (look.under == under::line || look.under == under::floor));
        if (wanted && std::find(names.begin(), names.end(), look.under) == names.end()) {
            names.push_back(look.under);
        }
    }
    return names;
}

MarkerSeen seen_by(const std::vector<double>& counts, const SensorLevels& levels) {
    MarkerSeen seen;
    const double span = levels.line_counts - levels.floor_counts;
    const double mean = mean_of(counts);
    seen.reading = (mean - levels.floor_counts) / span;
    seen.margin_counts = (seen.reading - levels.threshold) * std::abs(span);
    const double least = 0.5; // a count is at best known to its half
    seen.margin_in_noise = seen.margin_counts / std::max(least, deviation_of(counts));
    if (std::abs(seen.margin_in_noise) >= sure_margin) {
        seen.as = seen.margin_in_noise > 0.0 ? SeenAs::line : SeenAs::floor;
    }
    return seen;
}

/// The ratios of one surface: of each channel to clear.
struct Ratios {
    std::string name;
    double mean[3] = {};
    double deviation[3] = {};
};

std::vector<Ratios> ratios_of(const BenchReadings& readings) {
    std::vector<Ratios> all;
    for (const std::string& name : surfaces_of(readings, false)) {
        Ratios ratios;
        ratios.name = name;
        std::vector<double> values[3];
        for (const BenchLook& look : readings.looks) {
            if (look.under == name && look.colour && (*look.colour)[3] > 0.0) {
                for (std::size_t c = 0; c < 3; ++c) {
                    values[c].push_back((*look.colour)[c] / (*look.colour)[3]);
                }
            }
        }
        if (values[0].empty()) {
            continue;
        }
        for (std::size_t c = 0; c < 3; ++c) {
            ratios.mean[c] = mean_of(values[c]);
            ratios.deviation[c] = std::max(1e-4, deviation_of(values[c]));
        }
        all.push_back(ratios);
    }
    return all;
}

/// The interval of one ratio round a colour, as wide as the others leave it.
MarkerRule interval(const Ratios& own, const std::vector<const Ratios*>& others, int channel) {
    MarkerRule rule;
    rule.colour = own.name;
    rule.channel = channel;
    rule.margin = std::numeric_limits<double>::infinity();
    for (const Ratios* other : others) {
        const double way = other->mean[channel] - own.mean[channel];
        const double both = own.deviation[channel] + other->deviation[channel];
        // Between the two, as many deviations from one as from the other.
        const double border = own.mean[channel] + way * own.deviation[channel] / both;
        if (way < 0.0) {
            rule.low = std::max(rule.low, border);
        } else {
            rule.high = std::min(rule.high, border);
        }
        const double margin = std::abs(way) / both;
        if (margin < rule.margin) {
            rule.margin = margin;
            rule.nearest = other->name;
        }
    }
    return rule;
}

MarkerRule best_rule(const Ratios& own, const std::vector<const Ratios*>& others) {
    MarkerRule best = interval(own, others, 0);
    for (const int channel : {1, 2}) {
        const MarkerRule other = interval(own, others, channel);
        if (other.margin > best.margin) {
            best = other;
        }
    }
    return best;
}

} // namespace

const char* name_of(SeenAs seen) {
    switch (seen) {
    case SeenAs::line: return "line";
    case SeenAs::floor: return "floor";
    case SeenAs::unsure: break;
    }
    return "unsure";
}

bool MarkerRule::holds(const ColourCounts& counts) const {
    const double ratio = counts[3] > 0.0 ? counts[static_cast<std::size_t>(channel)] / counts[3] : 0.0;
    return counts[3] > 0.0 && ratio >= low && ratio <= high;
}

std::vector<MarkerLook> marker_looks(const BenchReadings& readings, const Calibration& calibration,
                                     const std::vector<bool>& usable) {
    std::vector<MarkerLook> all;
    for (const std::string& name : surfaces_of(readings, true)) {
        MarkerLook marker;
        marker.colour = name;
        for (std::size_t i = 0; i < readings.channels.size(); ++i) {
            std::vector<double> counts;
            for (const BenchLook& look : readings.looks) {
                if (look.under == name) {
                    counts.push_back(look.counts[i]);
                }
            }
            marker.looks = static_cast<int>(counts.size());
            marker.seen.push_back(usable[i] ? seen_by(counts, calibration.sensors[i]) : MarkerSeen{});
        }
        all.push_back(std::move(marker));
    }
    return all;
}

std::vector<MarkerRule> marker_rules(const BenchReadings& readings) {
    const std::vector<Ratios> all = ratios_of(readings);
    std::vector<MarkerRule> rules;
    for (const Ratios& own : all) {
        if (!is_marker(own.name)) {
            continue;
        }
        std::vector<const Ratios*> others;
        std::vector<const Ratios*> ground;
        for (const Ratios& other : all) {
            if (other.name != own.name) {
                others.push_back(&other);
                if (!is_marker(other.name)) {
                    ground.push_back(&other);
                }
            }
        }
        MarkerRule rule = best_rule(own, others);
        if (rule.margin < sure_margin && !ground.empty()) {
            rule = best_rule(own, ground);
        }
        for (const Ratios* other : others) {
            const double mean = other->mean[rule.channel];
            if (is_marker(other->name) && mean >= rule.low && mean <= rule.high) {
                rule.not_told_from.push_back(other->name);
            }
        }
        rules.push_back(std::move(rule));
    }
    return rules;
}

} // namespace vast_turn
