#include <algorithm>
#include <charconv>
#include <cmath>
#include <functional>
#include <utility>
#include <vector>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/base/visible.hpp"
#include "vast_turn/sense/pattern.hpp"
#include "wire/talk.hpp"

namespace vast_turn {

namespace {

std::vector<std::string> cells_of(const std::string& line) {
    std::vector<std::string> cells;
    std::size_t from = 0;
    for (std::size_t at = 0; at <= line.size(); ++at) {
        if (at == line.size() || line[at] == ',') {
            std::size_t end = at;
            while (from < end && line[from] == ' ') {
                ++from;
            }
            while (end > from && line[end - 1] == ' ') {
                --end;
            }
            cells.push_back(line.substr(from, end - from));
            from = at + 1;
        }
    }
    return cells;
}

std::string names_of_bits(const std::vector<std::string>& names, std::uint16_t bits) {
    std::string text;
    for (std::size_t k = 0; k < names.size(); ++k) {
        text += ((bits >> k) & 1U) != 0 ? (text.empty() ? "" : "|") + names[k] : "";
    }
    return text;
}

/// One column of what is told.
struct TextColumn {
    std::string name;
    std::function<std::string(const Look&)> cell;
};

std::vector<TextColumn> columns_for(const Plan& plan, const Robot& robot) {
    std::vector<TextColumn> columns;
    const auto number = [&](const std::string& name, double Look::*value) {
        columns.push_back({name, [value](const Look& look) { return fmt::format("{}", look.*value); }});
    };
    number("time_ms", &Look::clock_ms);
    const int sensors = static_cast<int>(robot.sensors.size());
    for (int i = 0; i < sensors; ++i) {
        columns.push_back({fmt::format("raw_{}", i + 1), [i](const Look& l) { return fmt::format("{}", l.raw[i]); }});
    }
    for (int i = 0; i < sensors; ++i) {
        columns.push_back(
            {fmt::format("reading_{}", i + 1), [i](const Look& l) { return fmt::format("{}", l.sensor[i]); }});
    }
    columns.push_back({"pattern", [sensors](const Look& l) { return to_marks({l.line_bits, sensors}); }});
    number("offset", &Look::offset);
    number("last_side", &Look::last_side);
    if (robot.encoders.fitted) {
        number("way_mm", &Look::way_mm);
        number("left_deg", &Look::left_deg);
        number("right_deg", &Look::right_deg);
        number("by_wheels_deg", &Look::heading_by_wheels_deg);
    }
    if (robot.gyro.fitted) {
        number("by_gyro_deg", &Look::heading_by_gyro_deg);
    }
    if (robot.compass.fitted) {
        number("by_compass_deg", &Look::heading_by_compass_deg);
    }
    if (robot.range_sensor) {
        number("range_mm", &Look::range_mm);
    }
    const auto bits = [&](const std::string& name, const std::vector<std::string>& names, auto of) {
        columns.push_back({name, [names, of](const Look& look) { return names_of_bits(names, of(look)); }});
    };
    if (!robot.colour_sensors.empty()) {
        bits("markers", plan.markers(), [](const Look& look) { return look.markers; });
        for (std::size_t k = 0; k < plan.places().size() && k < look_places; ++k) {
            bits("markers_" + plan.places()[k], plan.markers(), [k](const Look& look) { return look.markers_at[k]; });
        }
    }
    if (!plan.heard().empty()) {
        bits("heard", plan.heard(), [](const Look& look) { return look.heard; });
    }
    columns.push_back({"button", [](const Look& look) { return std::string(look.button ? "1" : "0"); }});
    return columns;
}

/// In rows of text.
class TextTalk final : public Talking {
public:
    TextTalk(Listener& listener, const Plan& plan, const Robot& robot)
        : listener_(listener), told_(columns_for(plan, robot)) {
        said_ = cells_of(listener_.next_line());
        for (const char* needed : {"left_pct", "right_pct"}) {
            if (find(needed) == said_.size()) {
                throw listener_.complaint(fmt::format("its first line has no column `{}`: {}", needed,
                                                      visible(fmt::format("{}", fmt::join(said_, ",")))),
                                          "let it begin with the line left_pct,right_pct");
            }
        }
        std::string head;
        for (const TextColumn& column : told_) {
            head += (head.empty() ? "" : ",") + column.name;
        }
        listener_.send(head + "\n");
    }

    ProgramReply ask(const Look& look) override {
        std::string row;
        for (std::size_t i = 0; i < told_.size(); ++i) {
            row += (i == 0 ? "" : ",") + told_[i].cell(look);
        }
        listener_.send(row + "\n");
        ++looks_;
        const std::vector<std::string> cells = cells_of(listener_.next_line());
        if (cells.size() != said_.size()) {
            throw listener_.complaint(fmt::format("to look {} it answered {} values in place of {}: {}", looks_,
                                                  cells.size(), said_.size(),
                                                  visible(fmt::format("{}", fmt::join(cells, ",")))),
                                      "let it answer each row with one row, a value for each of its columns");
        }
        ProgramReply reply;
        reply.answer.left_pct = std::clamp(number(cells, "left_pct"), -100.0, 100.0);
        reply.answer.right_pct = std::clamp(number(cells, "right_pct"), -100.0, 100.0);
        reply.answer.halted = find("halted") < said_.size() && number(cells, "halted") > 0.5;
        reply.took_ms = find("took_ms") < said_.size() ? std::max(0.0, number(cells, "took_ms")) : 0.0;
        return reply;
    }

private:
    std::size_t find(const std::string& column) const {
        return static_cast<std::size_t>(std::find(said_.begin(), said_.end(), column) - said_.begin());
    }

    double number(const std::vector<std::string>& cells, const std::string& column) const {
        const std::string& cell = cells[find(column)];
        double value = 0.0;
        const auto [end, error] = std::from_chars(cell.data(), cell.data() + cell.size(), value);
        if (error != std::errc{} || end != cell.data() + cell.size() || !std::isfinite(value)) {
            throw listener_.complaint(
                fmt::format("to look {} it answered {} = `{}`, which is no number", looks_, column, visible(cell)),
                "write numbers with a point, 1 or 0 for halted");
        }
        return value;
    }

    Listener& listener_;
    std::vector<TextColumn> told_;
    std::vector<std::string> said_;
    std::uint64_t looks_ = 0;
};

} // namespace

std::unique_ptr<Talking> talk_in_text(Listener& listener, const Plan& plan, const Robot& robot) {
    return std::make_unique<TextTalk>(listener, plan, robot);
}

} // namespace vast_turn
