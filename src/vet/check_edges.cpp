/// What a colour sensor takes the edges of plates for.
#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "vet/course_checker.hpp"

namespace vast_turn::vetting {

namespace {

/// The part of a round spot of radius 1 that lies on this side of a straight edge at `x` from its middle, -1 to 1.
double part_beyond(double x) { return (std::acos(x) - x * std::sqrt(std::max(0.0, 1.0 - x * x))) / pi; }

double squared_off(const std::array<double, 3>& c, Rgb to) {
    const double r = c[0] - to.r;
    const double g = c[1] - to.g;
    const double b = c[2] - to.b;
    return r * r + g * g + b * b;
}

/// Over how much way, mm, a spot that comes from one colour onto another is nearest to a third: the nearest colour is
/// what a colour sensor tells (sim/surroundings.cpp).
double way_of_third(Rgb from, Rgb onto, Rgb third, const std::vector<Rgb>& all, double spot_mm) {
    constexpr int steps = 400;
    int as_third = 0;
    for (int i = 0; i < steps; ++i) {
        const double part = part_beyond(1.0 - 2.0 * (i + 0.5) / steps);
        const std::array<double, 3> mixed{from.r + part * (onto.r - from.r), from.g + part * (onto.g - from.g),
                                          from.b + part * (onto.b - from.b)};
        const double off = squared_off(mixed, third);
        as_third += std::all_of(all.begin(), all.end(), [&](Rgb c) { return squared_off(mixed, c) >= off; }) ? 1 : 0;
    }
    return spot_mm * as_third / steps;
}

using lang::Expr;

/// Whether a condition asks for a marker in a single look: not `lasting`, which an edge does not.
bool asks_in_one_look(const Expr& e, const std::string& marker) {
    if (e.is<lang::Lasting>()) {
        return false;
    }
    if (const auto* seen = e.as<lang::MarkerSeen>(); seen != nullptr && seen->text == marker) {
        return true;
    }
    return std::any_of(e.args.begin(), e.args.end(), [&](const Expr& part) { return asks_in_one_look(part, marker); });
}

/// The first place of the plan that does.
const Expr* first_that_asks(const lang::CheckedPlan& text, const std::string& marker) {
    const auto of_rules = [&](const std::vector<lang::Rule>& rules) -> const Expr* {
        const auto at = std::find_if(rules.begin(), rules.end(), [&](const lang::Rule& rule) {
            return !rule.is_else && asks_in_one_look(rule.condition, marker);
        });
        return at == rules.end() ? nullptr : &at->condition;
    };
    if (const Expr* found = of_rules(text.guards)) {
        return found;
    }
    for (const lang::LaidBlock& block : text.blocks) {
        for (const std::vector<lang::Rule>* rules : {&block.guards, &block.rules}) {
            if (const Expr* found = of_rules(*rules)) {
                return found;
            }
        }
    }
    return nullptr;
}

/// What stands in the plan where a marker is asked for in a single look, and what its rule may take for it.
struct Asked {
    const Expr* condition = nullptr;
    std::size_t number = 0; ///< of the marker
    Rgb colour;
};

std::vector<Asked> asked_in_one_look(const lang::CheckedPlan& text, const std::vector<std::string>& markers,
                                     const Course& course) {
    std::vector<Asked> list;
    for (std::size_t number = 0; number < markers.size(); ++number) {
        const auto colour = course.palette.find(markers[number]);
        const Expr* asked = colour == course.palette.end() ? nullptr : first_that_asks(text, markers[number]);
        if (asked != nullptr) {
            list.push_back({asked, number, colour->second});
        }
    }
    return list;
}

} // namespace

std::string CourseChecker::certain_misread(Rgb third, const std::string& marker) const {
    std::vector<Rgb> all{course_.floor, course_.line};
    for (const auto& entry : course_.palette) {
        all.push_back(entry.second);
    }
    double spot_mm = 0.0;
    for (const ColourSensor& sensor : robot().colour_sensors) {
        spot_mm = std::max(spot_mm, sensor.spot_mm);
    }
    std::set<std::string> there;
    for (const Marker& one : course_.markers) {
        there.insert(one.colour);
    }
    for (const std::string& plate : there) {
        const auto onto = course_.palette.find(plate);
        if (onto == course_.palette.end() || onto->second == third) {
            continue;
        }
        const double floor_mm = way_of_third(course_.floor, onto->second, third, all, spot_mm);
        const double line_mm = way_of_third(course_.line, onto->second, third, all, spot_mm);
        const double way = std::max(floor_mm, line_mm);
        constexpr double least_mm = 0.2;
        if (way >= least_mm) {
            const double look_mm = speed_mm_s_ * robot().look_ms / 1000.0;
            return fmt::format("the edge of {} over the {} reads as {}, for {:.1f} mm of the way{}", plate,
                               floor_mm >= line_mm ? "floor" : "line", marker, way,
                               look_mm > 0.0 ? fmt::format(" ({:.1f} looks at {:.0f} mm/s)", way / look_mm, speed_mm_s_)
                                             : std::string{});
        }
    }
    return {};
}

std::string CourseChecker::seen_misread(std::size_t marker) const {
    if (out_.rehearsal() == nullptr) {
        return {};
    }
    const Rehearsal& seen = *out_.rehearsal();
    for (const auto& [which, drives] : seen.misreads) {
        if (which.first == marker) {
            if (!which.second) {
                return fmt::format("the edge of the line was taken for {} in {} of {} drives",
                                   out_.plan().markers()[marker], drives, seen.drives);
            }
            const Marker& plate = course_.markers[*which.second];
            return fmt::format("the edge of {} at {:.0f},{:.0f} mm was taken for {} in {} of {} drives", plate.colour,
                               plate.at.x, plate.at.y, out_.plan().markers()[marker], drives, seen.drives);
        }
    }
    return {};
}

void CourseChecker::edges() {
    if (robot().colour_sensors.empty()) {
        return;
    }
    const std::vector<std::string>& markers = out_.plan().markers();
    for (const Asked& asked : asked_in_one_look(out_.text(), markers, course_)) {
        std::string words = certain_misread(asked.colour, markers[asked.number]);
        if (words.empty()) {
            words = seen_misread(asked.number);
        }
        if (!words.empty()) {
            const std::string& marker = markers[asked.number];
            out_.add(
                "edge-misread", asked.condition->span, std::move(words),
                fmt::format("ask for {} lasting a few looks, or take plates whose colours lie farther apart", marker));
        }
    }
}

} // namespace vast_turn::vetting
