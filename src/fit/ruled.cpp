#include "fit/ruled.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

namespace {

/// By the inverse of their variances.
RuledFactor weighed(const std::vector<CourseRuler>& rulers, RuledFactor CourseRuler::*factor) {
    constexpr double surest = 1e-6;
    double weights = 0.0;
    double sum = 0.0;
    for (const CourseRuler& one : rulers) {
        const double error = std::max(surest, (one.*factor).error);
        weights += 1.0 / (error * error);
        sum += (one.*factor).value / (error * error);
    }
    return {sum / weights, 1.0 / std::sqrt(weights)};
}

} // namespace

std::optional<CourseRuler> put_together(const std::vector<CourseRuler>& rulers) {
    if (rulers.empty()) {
        return std::nullopt;
    }
    std::vector<CourseRuler> alike = rulers;
    std::erase_if(alike, [&](const CourseRuler& one) { return one.by != rulers.front().by; });
    CourseRuler out = alike.front();
    out.looks = 0;
    out.seconds = 0.0;
    for (const CourseRuler& one : alike) {
        out.looks += one.looks;
        out.seconds += one.seconds;
        out.alike = std::min(out.alike, one.alike);
    }
    for (RuledFactor CourseRuler::*factor :
         {&CourseRuler::left, &CourseRuler::right, &CourseRuler::ratio, &CourseRuler::mean, &CourseRuler::turn}) {
        out.*factor = weighed(alike, factor);
    }
    return out;
}

RuledFactor inverse(const RuledFactor& factor) {
    return {1.0 / factor.value, factor.error / (factor.value * factor.value)};
}

} // namespace vast_turn
