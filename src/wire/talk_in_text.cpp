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
#include "wire/text_columns.hpp"

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

/// In rows of text.
class TextTalk final : public Talking {
public:
    TextTalk(Listener& listener, const Plan& plan, const Robot& robot)
        : listener_(listener), told_(text_columns({plan.markers(), plan.places(), plan.heard()}, robot, true)) {
        said_ = cells_of(listener_.next_line());
        for (const char* needed : {"left_pct", "right_pct"}) {
            if (find(needed) == said_.size()) {
                throw listener_.complaint(fmt::format("its first line has no column `{}`: {}", needed,
                                                      visible(fmt::format("{}", fmt::join(said_, ",")))),
                                          "let it begin with the line left_pct,right_pct");
            }
        }
        listener_.send(names_of(told_) + "\n");
    }

    ProgramReply ask(const Look& look) override {
        listener_.send(row_of(told_, look) + "\n");
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
