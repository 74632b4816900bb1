#include "sense/verdicts.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "sense/statistics.hpp"

namespace vast_turn {

namespace {

// What is held against each sensor. docs/calibration.md explains them.
constexpr double least_contrast_in_noise = 10.0;
constexpr double most_clipped = 0.1;    // of the looks
constexpr double most_unlike = 0.22;    // of the typical contrast
constexpr double most_drift = 0.08;     // of the contrast
constexpr double drift_in_errors = 5.0; // so that noise alone is no drift
constexpr double most_off = 0.3;        // of the gap between neighbours
constexpr int few = 12;                 // looks

class Judge {
public:
    Judge(const CalibrationReport& report, const ArrayFacts& facts) : report_(report), facts_(facts) {}

    std::vector<Verdict> run() {
        for (std::size_t i = 0; i < report_.sensors.size(); ++i) {
            judge_sensor(static_cast<int>(i) + 1, report_.sensors[i]);
        }
        judge_likeness();
        judge_drift();
        if (report_.sweep) {
            judge_sweep(*report_.sweep);
        }
        judge_markers();
        judge_number_of_looks();
        std::stable_sort(out_.begin(), out_.end(),
                         [](const Verdict& a, const Verdict& b) { return a.serious && !b.serious; });
        return std::move(out_);
    }

private:
    const SensorReport& sensor(int number) const { return report_.sensors[static_cast<std::size_t>(number - 1)]; }

    std::string called(int number) const { return fmt::format("sensor {} ({})", number, sensor(number).channel); }

    std::string called(const std::vector<int>& numbers) const {
        std::vector<std::string> names;
        for (const int number : numbers) {
            names.push_back(fmt::format("{} ({})", number, sensor(number).channel));
        }
        return fmt::format("{} {}", names.size() == 1 ? "sensor" : "sensors", fmt::join(names, ", "));
    }

    void say(VerdictKind kind, bool serious, std::vector<int> sensors, std::string says, std::string to_do) {
        out_.push_back({kind, serious, std::move(sensors), std::move(says), std::move(to_do)});
    }

    void judge_sensor(int number, const SensorReport& s) {
        const double contrast = std::abs(s.contrast);
        const bool clipped = s.line.clipped > most_clipped || s.floor.clipped > most_clipped;
        if (clipped) {
            const bool on_floor = s.floor.clipped > most_clipped;
            const double level = on_floor ? s.floor.mean : s.line.mean;
            say(VerdictKind::clipped, true, {number},
                fmt::format("{} is at the end of its range ({:.0f} of {:.0f}) in {:.0f} % of the looks over {}",
                            called(number), level, s.adc_max, 100.0 * (on_floor ? s.floor.clipped : s.line.clipped),
                            on_floor ? "floor" : "line"),
                level > 0.5 * s.adc_max ? "hold it higher, shade it, or lower its gain"
                                        : "check its lamp and supply, or raise its gain");
        }
        if (!s.usable) {
            if (!clipped) {
                say(VerdictKind::dead, true, {number},
                    fmt::format("{} reads the same over everything: {:.0f} over line, {:.0f} over floor (noise {:.1f})",
                                called(number), s.line.mean, s.floor.mean, s.noise),
                    "dead, unplugged or the wrong channel: check the wire, the pin and the channel in the robot file");
            }
        } else if (contrast < least_contrast_in_noise * s.noise) {
            say(VerdictKind::weak_contrast, true, {number},
                fmt::format("{}: a contrast of {:.0f} counts is too small for its noise of {:.1f} ({:.1f} times; "
                            "{:.0f} wanted)",
                            called(number), contrast, s.noise, contrast / s.noise, least_contrast_in_noise),
                "bring it nearer to the floor, clean it, shade it from lamps, or average several readings");
        }
        if (s.usable && (s.contrast < 0.0) != report_.line_is_lighter) {
            say(VerdictKind::inverted, false, {number},
                fmt::format("{} reads {} counts over line, the rest of the array {}", called(number),
                            s.contrast < 0.0 ? "more" : "fewer", s.contrast < 0.0 ? "fewer" : "more"),
                "readings 0 to 1 are right all the same; check that it is of the same kind as the others");
        }
    }

    void judge_likeness() {
        std::vector<int> usable;
        for (std::size_t i = 0; i < report_.sensors.size(); ++i) {
            const SensorReport& s = report_.sensors[i];
            // One at the end of its range has been named already, for a better reason.
            if (s.usable && s.line.clipped <= most_clipped && s.floor.clipped <= most_clipped) {
                usable.push_back(static_cast<int>(i) + 1);
            }
        }
        if (usable.size() == 2) {
            const SensorReport& a = sensor(usable[0]);
            const double apart = std::max(std::abs(a.line_off), std::abs(a.floor_off)); // from the middle of the two
            if (2.0 * apart > most_unlike) {
                say(VerdictKind::unlike, false, usable,
                    fmt::format("sensors {} and {} differ by {:.0f} % of the contrast over the same surface", usable[0],
                                usable[1], 200.0 * apart),
                    "set both to the same height and clean them");
            }
            return;
        }
        for (const int number : usable) {
            const SensorReport& s = sensor(number);
            const bool over_floor = std::abs(s.floor_off) >= std::abs(s.line_off);
            const double off = over_floor ? s.floor_off : s.line_off;
            if (std::abs(off) > most_unlike && (s.contrast < 0.0) == report_.line_is_lighter) {
                say(VerdictKind::unlike, false, {number},
                    fmt::format("{} reads {:.0f} % of the contrast {} than its neighbours over the same {}",
                                called(number), 100.0 * std::abs(off), off > 0.0 ? "more" : "less",
                                over_floor ? "floor" : "line"),
                    off > 0.0 ? "it sits lower or catches other light: set its height"
                              : "it sits higher or is dirty: clean it and set its height");
            }
        }
    }

    void judge_drift() {
        std::vector<int> drifting;
        double most = 0.0;
        double rise = 0.0;
        for (std::size_t i = 0; i < report_.sensors.size(); ++i) {
            const SensorReport& s = report_.sensors[i];
            bool drifts = false;
            for (const LevelReport* level : {&s.line, &s.floor}) {
                const double part = std::abs(level->drift) / std::max(1.0, std::abs(s.contrast));
                if (s.usable && part > most_drift && std::abs(level->drift) > drift_in_errors * level->drift_error) {
                    drifts = true;
                    if (part > most) {
                        most = part;
                        rise = level->drift;
                    }
                }
            }
            if (drifts) {
                drifting.push_back(static_cast<int>(i) + 1);
            }
        }
        if (!drifting.empty()) {
            say(VerdictKind::drift, false, drifting,
                fmt::format("the levels of {} {} from start to end, by up to {:.0f} counts ({:.0f} % of the contrast)",
                            called(drifting), rise > 0.0 ? "rise" : "fall", std::abs(rise), 100.0 * most),
                "the light changes or the sensors warm up: shade the array, wait, calibrate just before the run");
        }
    }

    void judge_sweep(const SweepReport& sweep) {
        std::vector<int> unseen;
        std::vector<int> often;
        for (std::size_t i = 0; i < sweep.peaks.size(); ++i) {
            if (report_.sensors[i].usable && !sweep.peaks[i].seen) {
                unseen.push_back(static_cast<int>(i) + 1);
            }
            if (sweep.peaks[i].passes > 1) {
                often.push_back(static_cast<int>(i) + 1);
            }
        }
        if (!unseen.empty()) {
            say(VerdictKind::sweep, false, unseen, fmt::format("{} never saw the tape in the sweep", called(unseen)),
                "slide the whole array over the tape, past both its ends");
        }
        if (!often.empty()) {
            say(VerdictKind::sweep, false, often,
                fmt::format("the tape passed {} more than once in one sweep", called(often)),
                "slide the array across the tape once, slowly; record `sweep-back` for the way back");
            return;
        }
        judge_wiring(sweep);
        judge_spacing(sweep);
    }

    void judge_wiring(const SweepReport& sweep) {
        const std::string order = fmt::format("{}", fmt::join(sweep.came, ", "));
        switch (sweep.order) {
        case SweepOrder::as_listed: return;
        case SweepOrder::swapped: {
            const int a = sweep.out_of_place[0];
            const int b = sweep.out_of_place[1];
            say(VerdictKind::wiring, true, sweep.out_of_place,
                fmt::format("{} and {} are swapped: the tape came to the sensors in the order {}", called(a), called(b),
                            order),
                fmt::format("exchange the wires of {} and {}, or their channels in the robot file", sensor(a).channel,
                            sensor(b).channel));
            return;
        }
        case SweepOrder::reversed:
            say(VerdictKind::wiring, true, sweep.came,
                fmt::format("the whole array is reversed: the tape came to the sensors in the order {}", order),
                "list the channels the other way round in the robot file; if the array was slid the other way, call "
                "the looks `sweep-back`");
            return;
        case SweepOrder::other:
            say(VerdictKind::wiring, true, sweep.came,
                fmt::format("the wiring is mixed up: the tape came to the sensors in the order {}", order),
                "list the channels in that order in the robot file");
            return;
        }
    }

    void judge_spacing(const SweepReport& sweep) {
        const bool noisy = std::any_of(report_.sensors.begin(), report_.sensors.end(), [](const SensorReport& s) {
            return std::abs(s.contrast) < least_contrast_in_noise * s.noise;
        });
        if (sweep.off_mm.empty() || noisy) { // in noise a peak has no place
            return;
        }
        std::vector<double> gaps;
        for (std::size_t i = 1; i < facts_.left_mm.size(); ++i) {
            gaps.push_back(facts_.left_mm[i - 1] - facts_.left_mm[i]);
        }
        const double limit = most_off * median_of(gaps);
        const auto worst = std::max_element(sweep.off_mm.begin(), sweep.off_mm.end(),
                                            [](double a, double b) { return std::abs(a) < std::abs(b); });
        // Three sensors are held against a fit through themselves, which hides two thirds or more.
        if (std::abs(*worst) * (sweep.off_mm.size() == 3 ? 3.0 : 1.0) <= limit) {
            return;
        }
        const auto at = static_cast<std::size_t>(worst - sweep.off_mm.begin());
        if (sweep.off_mm.size() == 3) {
            const double first = sweep.peaks[1].at - sweep.peaks[0].at;
            const double second = sweep.peaks[2].at - sweep.peaks[1].at;
            say(VerdictKind::spacing, false, {1, 2, 3},
                fmt::format("the gaps between the sensors are as 1 to {:.2f}, in the robot file as 1 to {:.2f}",
                            second / first, gaps[1] / gaps[0]),
                "measure the places of the sensors and mend at_mm");
            return;
        }
        say(VerdictKind::spacing, false, {static_cast<int>(at) + 1},
            fmt::format("{} lies {:.1f} mm to the left by the sweep, {:.1f} mm by the robot file",
                        called(static_cast<int>(at) + 1), sweep.left_mm[at], facts_.left_mm[at]),
            "measure its place and mend at_mm");
    }

    void judge_markers() {
        for (const MarkerLook& marker : report_.markers) {
            std::vector<int> unsure;
            for (std::size_t i = 0; i < marker.seen.size(); ++i) {
                if (report_.sensors[i].usable && marker.seen[i].as == SeenAs::unsure) {
                    unsure.push_back(static_cast<int>(i) + 1);
                }
            }
            if (!unsure.empty()) {
                say(VerdictKind::marker, false, unsure,
                    fmt::format("{} is neither line nor floor to {}: its readings lie about the threshold",
                                marker.colour, called(unsure)),
                    "the bits will flicker on it; use another colour or another light, or let no rule depend on them");
            }
        }
    }

    void judge_number_of_looks() {
        const SensorReport& s = report_.sensors.front();
        if (std::min(s.line.looks, s.floor.looks) < few) {
            say(VerdictKind::few_looks, false, {},
                fmt::format("only {} looks over line and {} over floor: noise and drift cannot be told", s.line.looks,
                            s.floor.looks),
                fmt::format("record at least {} looks over each", few));
        }
    }

    const CalibrationReport& report_;
    const ArrayFacts& facts_;
    std::vector<Verdict> out_;
};

} // namespace

const char* name_of(VerdictKind kind) {
    switch (kind) {
    case VerdictKind::dead: return "dead";
    case VerdictKind::weak_contrast: return "weak-contrast";
    case VerdictKind::clipped: return "clipped";
    case VerdictKind::wiring: return "wiring";
    case VerdictKind::inverted: return "inverted";
    case VerdictKind::unlike: return "unlike";
    case VerdictKind::drift: return "drift";
    case VerdictKind::spacing: return "spacing";
    case VerdictKind::sweep: return "sweep";
    case VerdictKind::marker: return "marker";
    case VerdictKind::few_looks: return "few-looks";
    }
    return "";
}

std::vector<Verdict> verdicts_on(const CalibrationReport& report, const ArrayFacts& facts) {
    return Judge(report, facts).run();
}

} // namespace vast_turn
