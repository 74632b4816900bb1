#include "vast_turn/sweep/axis.hpp"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

constexpr std::size_t most_values = 10000;
constexpr const char* axis_forms =
    "write it so: cruise=36..60:4 (from, to and step), cruise=38,44,52, or cruise=36..60 for a fill";

[[noreturn]] void refuse(std::string_view text, const std::string& why) {
    throw InputError("", fmt::format("`{}`: {}", text, why), axis_forms);
}

WrittenNumber measured(std::string_view text, std::string_view all) {
    const auto number = parse_number(text);
    if (!number) {
        refuse(all, fmt::format("`{}` is no number", text));
    }
    return *number;
}

/// Values from one number to another, the last one too where a step falls on it.
std::vector<double> steps(double from, double to, double step, std::string_view text) {
    if (!(std::abs(step) > 0.0)) {
        refuse(text, "its step is nothing");
    }
    const double span = (to - from) / std::copysign(step, to - from);
    if (!(span < static_cast<double>(most_values))) {
        refuse(text, fmt::format("these are more than {} values", most_values));
    }
    std::vector<double> values;
    const auto count = static_cast<std::size_t>(std::floor(span + 1e-9)) + 1;
    for (std::size_t i = 0; i < count; ++i) {
        values.push_back(from + static_cast<double>(i) * std::copysign(step, to - from));
    }
    return values;
}

/// The place of a number in Halton's sequence of this base, 0 to below 1.
double halton(std::uint64_t number, std::uint64_t base) {
    double out = 0.0;
    double part = 1.0;
    for (; number > 0; number /= base) {
        part /= static_cast<double>(base);
        out += part * static_cast<double>(number % base);
    }
    return out;
}

} // namespace

Setting Axis::at(double value) const {
    Setting setting = number;
    setting.value = fmt::format("{:.10g}{}", value, unit);
    return setting;
}

Axis parse_axis(std::string_view text) {
    const std::size_t equals = text.find('=');
    if (equals == std::string_view::npos) {
        refuse(text, "it names no values");
    }
    Axis axis;
    axis.number = parse_setting(fmt::format("{}=0", text.substr(0, equals)));
    std::string_view values = text.substr(equals + 1);
    const auto take = [&](const WrittenNumber& one) {
        axis.unit = axis.unit.empty() ? one.unit : axis.unit;
        if (!one.unit.empty() && one.unit != axis.unit) {
            refuse(text, "its values have several units");
        }
        return one.value;
    };
    const std::size_t dots = values.find("..");
    if (dots != std::string_view::npos) {
        const std::size_t colon = values.find(':', dots);
        const double from = take(measured(values.substr(0, dots), text));
        const double to =
            take(measured(values.substr(dots + 2, colon == std::string_view::npos ? colon : colon - dots - 2), text));
        axis.has_steps = colon != std::string_view::npos;
        axis.values = axis.has_steps ? steps(from, to, take(measured(values.substr(colon + 1), text)), text)
                                     : std::vector<double>{from, to};
        return axis;
    }
    while (true) {
        const std::size_t comma = std::min(values.find(','), values.size());
        axis.values.push_back(take(measured(values.substr(0, comma), text)));
        if (comma == values.size()) {
            break;
        }
        values = values.substr(comma + 1);
        if (axis.values.size() > most_values) {
            refuse(text, fmt::format("these are more than {} values", most_values));
        }
    }
    return axis;
}

std::vector<SweepValues> grid_of(const std::vector<Axis>& axes) {
    std::size_t count = 1;
    for (const Axis& axis : axes) {
        if (!axis.has_steps) {
            throw InputError("", fmt::format("{} is a range without steps", written_name(axis.number)),
                             fmt::format("write a step behind it, {}={:g}..{:g}:STEP, or ask for a fill",
                                         written_name(axis.number), axis.values.front(), axis.values.back()));
        }
        count *= axis.values.size();
        if (count > most_sweep_points) {
            throw InputError("", fmt::format("the grid has more than {} points", most_sweep_points),
                             "take larger steps, or a fill of so many points");
        }
    }
    std::vector<SweepValues> points(count);
    for (std::size_t i = 0; i < count; ++i) {
        std::size_t rest = i;
        points[i].resize(axes.size());
        for (std::size_t k = axes.size(); k-- > 0;) {
            points[i][k] = axes[k].values[rest % axes[k].values.size()];
            rest /= axes[k].values.size();
        }
    }
    return points;
}

std::vector<SweepValues> fill_of(const std::vector<Axis>& axes, std::size_t points, std::uint64_t seed) {
    constexpr std::array<std::uint64_t, 12> bases{2, 3, 5, 7, 11, 13, 17, 19, 23, 29, 31, 37};
    if (axes.size() > bases.size() || points > most_sweep_points) {
        throw InputError("",
                         fmt::format("a fill has at most {} numbers and {} points", bases.size(), most_sweep_points),
                         "ask for fewer");
    }
    std::vector<SweepValues> out(points, SweepValues(axes.size()));
    for (std::size_t k = 0; k < axes.size(); ++k) {
        const auto [least, most] = std::minmax_element(axes[k].values.begin(), axes[k].values.end());
        const double shift = static_cast<double>(random_draw(seed, Stream::sweep, k)[0]) / 65536.0;
        for (std::size_t i = 0; i < points; ++i) {
            const double at = halton(i + 1, bases[k]) + shift;
            const double value = *least + (at - std::floor(at)) * (*most - *least);
            // Four digits: so is what is printed the number that was driven.
            const std::string text = fmt::format("{:.4g}", value);
            std::from_chars(text.data(), text.data() + text.size(), out[i][k]);
        }
    }
    return out;
}

} // namespace vast_turn
