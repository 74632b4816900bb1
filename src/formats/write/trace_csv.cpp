#include <algorithm>
#include <iterator>

#include <fmt/format.h>

#include "formats/write/csv_text.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

namespace {

/// Names of the bits that are set, parted by |.
std::string words_of(const std::vector<std::string>& names, std::uint16_t bits) {
    std::string words;
    for (std::size_t k = 0; k < names.size(); ++k) {
        if (((bits >> k) & 1U) != 0) {
            words += (words.empty() ? "" : "|") + names[k];
        }
    }
    return csv_cell(words);
}

using Text = std::back_insert_iterator<fmt::memory_buffer>;

/// Writes one trace: where the robot was, everything that the logic was told, and what it answered.
class TraceWriter {
public:
    TraceWriter(const Run& run, const Robot& robot, const Plan* plan)
        : run_(run), robot_(robot), plan_(plan), names_(plan == nullptr ? AskedNames{} : asked_names(*plan)),
          whole_(run.told.size() == run.looks.size()) {}

    std::string text() {
        head();
        for (std::size_t i = 0; i < run_.looks.size(); ++i) {
            row(run_.looks[i], i < run_.told.size() ? run_.told[i] : told_of(run_.looks[i]));
        }
        return fmt::to_string(out_);
    }

private:
    void head() {
        fmt::format_to(to_, "time_s,x_mm,y_mm,heading_deg,way_mm,left_deg,right_deg");
        fmt::format_to(to_, "{}{}", robot_.range_sensor ? ",range_mm" : "",
                       robot_.colour_sensors.empty() ? "" : ",markers");
        for (std::size_t k = 0; whole_ && k < names_.places.size(); ++k) {
            fmt::format_to(to_, ",{}", csv_cell("markers_" + names_.places[k]));
        }
        for (std::size_t i = 1; i <= robot_.sensors.size(); ++i) {
            fmt::format_to(to_, ",raw_{}", i);
        }
        for (std::size_t i = 1; i <= robot_.sensors.size(); ++i) {
            fmt::format_to(to_, ",reading_{}", i);
        }
        fmt::format_to(to_, ",pattern");
        if (whole_) {
            fmt::format_to(to_, ",clock_ms{}{}{}{},button", robot_.encoders.fitted ? ",by_wheels_deg" : "",
                           robot_.gyro.fitted ? ",by_gyro_deg" : "", robot_.compass.fitted ? ",by_compass_deg" : "",
                           names_.heard.empty() ? "" : ",heard");
        }
        fmt::format_to(to_, ",block,rule_line,rule,left_pct,right_pct\n");
    }

    /// What is known of it when what was told was not kept: rounded, and without what only some plans ask for.
    Look told_of(const LookRecord& look) const {
        Look told;
        told.clock_ms = 1000.0 * look.t_s;
        told.way_mm = look.way_mm;
        told.range_mm = look.range_mm;
        told.markers = look.markers;
        told.line_bits = look.line_bits;
        const double turned = look.heading_deg - run_.looks.front().heading_deg;
        told.heading_by_wheels_deg = told.heading_by_gyro_deg = turned;
        told.heading_by_compass_deg = look.heading_deg;
        const double half_turn_mm = 0.5 * robot_.track_mm * to_radians(turned);
        const double degrees_per_mm = 360.0 / (pi * robot_.wheel_mm);
        told.left_deg = degrees_per_mm * (look.way_mm - half_turn_mm);
        told.right_deg = degrees_per_mm * (look.way_mm + half_turn_mm);
        const std::vector<double> readings = readings_of(run_, look);
        std::copy(readings.begin(), readings.end(), std::begin(told.sensor));
        std::copy(look.raw.begin(), look.raw.end(), std::begin(told.raw));
        return told;
    }

    void row(const LookRecord& look, const Look& told) {
        fmt::format_to(to_, "{:.4f},{:.3f},{:.3f},{:.3f},{},{},{}", look.t_s, look.at.x, look.at.y, look.heading_deg,
                       told.way_mm, told.left_deg, told.right_deg);
        if (robot_.range_sensor) {
            fmt::format_to(to_, ",{}", told.range_mm);
        }
        if (!robot_.colour_sensors.empty()) {
            fmt::format_to(to_, ",{}", words_of(names_.markers, told.markers));
        }
        for (std::size_t k = 0; whole_ && k < names_.places.size(); ++k) {
            fmt::format_to(to_, ",{}", words_of(names_.markers, told.markers_at[k]));
        }
        for (std::size_t i = 0; i < robot_.sensors.size(); ++i) {
            fmt::format_to(to_, ",{}", told.raw[i]);
        }
        for (std::size_t i = 0; i < robot_.sensors.size(); ++i) {
            fmt::format_to(to_, ",{}", told.sensor[i]);
        }
        fmt::format_to(to_, ",{}", to_marks({look.line_bits, static_cast<int>(robot_.sensors.size())}));
        if (whole_) {
            rest(told);
        }
        answer(look);
    }

    void rest(const Look& told) {
        fmt::format_to(to_, ",{}", told.clock_ms);
        if (robot_.encoders.fitted) {
            fmt::format_to(to_, ",{}", told.heading_by_wheels_deg);
        }
        if (robot_.gyro.fitted) {
            fmt::format_to(to_, ",{}", told.heading_by_gyro_deg);
        }
        if (robot_.compass.fitted) {
            fmt::format_to(to_, ",{}", told.heading_by_compass_deg);
        }
        if (!names_.heard.empty()) {
            fmt::format_to(to_, ",{}", words_of(names_.heard, told.heard));
        }
        fmt::format_to(to_, ",{}", told.button ? 1 : 0);
    }

    void answer(const LookRecord& look) {
        if (plan_ != nullptr && look.rule != no_rule) {
            const RuleInfo& rule = plan_->rule(look.rule);
            fmt::format_to(to_, ",{},{},{}", rule.block, rule.line, csv_quoted(rule.condition));
        } else {
            fmt::format_to(to_, ",{},,", plan_ != nullptr ? plan_->blocks()[look.block] : std::string{});
        }
        fmt::format_to(to_, ",{:.2f},{:.2f}\n", look.left_pct, look.right_pct);
    }

    const Run& run_;
    const Robot& robot_;
    const Plan* plan_;
    AskedNames names_;
    bool whole_; ///< everything that was told was kept
    fmt::memory_buffer out_;
    Text to_ = std::back_inserter(out_);
};

} // namespace

std::string trace_csv(const Run& run, const Robot& robot, const Plan* plan) {
    return TraceWriter(run, robot, plan).text();
}

} // namespace vast_turn
