#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/robot/manoeuvre.hpp"
#include "vast_turn/robot/wheel_speeds.hpp"
#include "vast_turn/view/picture.hpp"
#include "view/canvas.hpp"

namespace vast_turn {

namespace {

constexpr Ink tape{{52, 52, 50}, 1.0};
constexpr Ink bare{{236, 233, 225}, 1.0};
constexpr Ink body{{206, 222, 208}, 1.0};
constexpr double table_head = 78.0;

/// How many cells go into a row and a column of the page.
struct Grid {
    std::size_t columns;
    std::size_t rows;
};

Grid grid_for(std::size_t patterns) {
    switch (patterns) {
    case 2: return {2, 1};
    case 4: return {2, 2};
    case 8: return {4, 2};
    case 16: return {8, 2};
    case 32: return {8, 4};
    case 64: return {11, 6};
    case 128: return {16, 8};
    default: return {22, 12};
    }
}

/// What a cell draws: the case that acts when nothing more than the pattern holds.
const TableEntry* main_entry(const TableRow& row) {
    const bool sure = !row.entries.empty() && row.entries.back().when.empty();
    return sure || row.entries.empty() ? (sure ? &row.entries.back() : nullptr) : nullptr;
}

class Cell {
public:
    /// `common`: so many entries of each row are told above the table.
    Cell(Canvas& canvas, const Plan& plan, const Robot& robot, Vec2 at, Vec2 size, std::size_t common)
        : canvas_(canvas), plan_(plan), robot_(robot), at_(at), size_(size), unit_(std::min(size.x, size.y) / 150.0),
          common_(common) {}

    void draw(const TableRow& row) {
        canvas_.fill_rect(at_, size_, bare);
        draw_tape(row.pattern);
        const TableEntry* entry = main_entry(row);
        draw_robot(row.pattern);
        if (entry != nullptr) {
            draw_motion(*entry);
        }
        draw_words(row, entry);
        const bool alarm = row.may_be_unanswered;
        canvas_.frame(at_, size_, alarm ? ink::alarm : ink::faint, alarm ? 2.5 : 0.8);
    }

private:
    Vec2 nose() const { return {at_.x + 0.5 * size_.x, at_.y + 0.46 * size_.y}; }
    double gap() const { return std::min(15.0 * unit_, 0.78 * size_.x / plan_.sensors()); }
    double left_of(int sensor) const { return nose().x + (sensor - 0.5 * (plan_.sensors() - 1)) * gap(); }
    Vec2 axle() const { return {nose().x, nose().y + 36.0 * unit_}; }

    /// Tape under every sensor that sees it: neighbours share one band.
    void draw_tape(const Pattern& pattern) {
        for (int i = 0; i < pattern.count; ++i) {
            const int from = i;
            while (i < pattern.count && ((pattern.bits >> i) & 1) != 0) {
                ++i;
            }
            if (i > from) {
                const Vec2 corner{left_of(from) - 0.5 * gap(), at_.y};
                canvas_.fill_rect(corner, {(i - from) * gap(), 0.62 * size_.y}, tape);
            }
        }
    }

    void draw_robot(const Pattern& pattern) {
        const double half = 20.0 * unit_;
        canvas_.line({nose(), axle()}, {body.colour, 0.9}, 8.0 * unit_);
        canvas_.fill_rect({axle().x - half, axle().y - 11.0 * unit_}, {2.0 * half, 22.0 * unit_}, body);
        for (const double side : {-1.0, 1.0}) {
            canvas_.fill_rect({axle().x + side * (half + 3.0 * unit_) - 3.0 * unit_, axle().y - 9.0 * unit_},
                              {6.0 * unit_, 18.0 * unit_}, ink::text);
        }
        const double radius = std::min(5.5 * unit_, 0.36 * gap());
        for (int i = 0; i < pattern.count; ++i) {
            const bool sees = ((pattern.bits >> i) & 1) != 0;
            canvas_.dot({left_of(i), nose().y}, radius + 1.2, {{255, 255, 255}, 1.0});
            canvas_.dot({left_of(i), nose().y}, radius, sees ? ink::alarm : ink::faint);
        }
    }

    /// The way of the nose over a short while, so that turns on the spot show as well.
    void draw_motion(const TableEntry& entry) {
        const std::optional<Wheels> wheels = entry.wheels ? entry.wheels : entry.crisp;
        if (!wheels) {
            return;
        }
        const WheelSpeeds speeds = settled_speeds(robot_, {}, wheels->left_pct, wheels->right_pct);
        const double scale = 52.0 * unit_ / robot_.top_speed_mm_s; // pixels for a mm/s over the while
        const double way = 0.5 * (speeds.left_mm_s + speeds.right_mm_s) * scale;
        const double turn = (speeds.right_mm_s - speeds.left_mm_s) * scale / (46.0 * unit_);
        constexpr int steps = 24;
        Vec2 at = axle();
        double heading = 90.0;
        std::vector<Vec2> path = {nose()};
        for (int i = 0; i < steps; ++i) {
            heading += to_degrees(turn) / steps;
            at = at + (way / steps) * direction(heading);
            path.push_back(at + 36.0 * unit_ * direction(heading));
        }
        if (std::abs(way) + std::abs(turn) < 1e-9) {
            canvas_.circle(nose(), 11.0 * unit_, ink::fern, 2.0 * unit_);
            return;
        }
        const Vec2 last = path.back();
        path.resize(path.size() - 3);
        canvas_.line(path, {{255, 255, 255}, 0.9}, 6.0 * unit_);
        canvas_.line(path, ink::fern, 3.2 * unit_);
        canvas_.arrow(path.back(), last, ink::fern, 3.2 * unit_);
    }

    void draw_words(const TableRow& row, const TableEntry* entry) {
        const double small = 11.0 * std::clamp(unit_, 0.6, 1.25);
        if (small < 7.0) {
            return;
        }
        const auto line = [&](double y, const std::string& words, Ink colour, bool bold) {
            const TextStyle style{small, colour, Align::middle, bold, false, true};
            canvas_.text({at_.x + 0.5 * size_.x, y}, canvas_.fitted(words, size_.x - 6.0, style), style);
        };
        const double bottom = at_.y + size_.y;
        if (row.entries.empty()) {
            line(bottom - 0.9 * small, "unanswered: as before", ink::alarm, true);
            return;
        }
        const TableEntry& shown = entry != nullptr ? *entry : row.entries.back();
        const RuleInfo& rule = plan_.rule(shown.rule);
        std::string cases; // the lines of the rules that act in other cases of this pattern
        for (std::size_t i = common_; i < row.entries.size(); ++i) {
            if (&row.entries[i] != &shown) {
                cases += fmt::format("{}{}", cases.empty() ? ", or " : ", ", plan_.rule(row.entries[i].rule).line);
            }
        }
        line(bottom - 0.7 * small, fmt::format("line {}{}{}", rule.line, rule.is_twin ? "m" : "", cases),
             row.may_be_unanswered ? ink::alarm : ink::faint, false);
        line(bottom - 2.1 * small, motion_words(shown), ink::text, false);
    }

    std::string motion_words(const TableEntry& entry) const {
        const std::optional<Wheels> wheels = entry.wheels ? entry.wheels : entry.crisp;
        if (wheels) {
            return fmt::format("{:.3g} / {:.3g} %", wheels->left_pct, wheels->right_pct);
        }
        if (!entry.goes_to.empty()) {
            return "begins " + entry.goes_to;
        }
        return entry.keeps_motion ? "as before" : "as measured";
    }

    Canvas& canvas_;
    const Plan& plan_;
    const Robot& robot_;
    Vec2 at_;
    Vec2 size_;
    double unit_;
    std::size_t common_;
};

} // namespace

std::string draw_table(const Plan& plan, const HabitTable& table, const Robot* robot, PictureFormat format) {
    const Robot made_up;
    const Robot& shown = robot != nullptr ? *robot : made_up;
    return draw_page(format, [&](Canvas& canvas) {
        const std::string who = robot != nullptr ? fmt::format(" on {}", robot->name) : std::string{};
        canvas.text({page_margin, 36.0}, fmt::format("{}, habit {}{}", plan.name(), table.habit, who),
                    {20.0, ink::text, Align::left, true});
        canvas.text(
            {page_margin, 60.0},
            "each pattern of the array over the tape; the arrow is the way that its nose takes; a red frame may be "
            "unanswered",
            {13.0, ink::faint});
        const std::size_t common = common_cases(table);
        if (common > 0) {
            std::string lines;
            for (std::size_t i = 0; i < common; ++i) {
                lines += fmt::format("{}{}",
                                     i == 0           ? ""
                                     : i + 1 < common ? ", "
                                                      : " and ",
                                     plan.rule(table.rows.front().entries[i].rule).line);
            }
            canvas.text({page_width - page_margin, 36.0},
                        fmt::format("before all of it, in their cases: line{} {}", common > 1 ? "s" : "", lines),
                        {13.0, ink::faint, Align::right});
        }
        const Grid grid = grid_for(table.rows.size());
        const double space = grid.columns > 8 ? 4.0 : 9.0;
        const double width = (page_width - 2.0 * page_margin + space) / static_cast<double>(grid.columns) - space;
        const double height = std::min(
            (page_height - table_head - page_margin + space) / static_cast<double>(grid.rows) - space, 1.25 * width);
        for (std::size_t i = 0; i < table.rows.size(); ++i) {
            const std::size_t row = i / grid.columns;
            const Vec2 at{page_margin + static_cast<double>(i % grid.columns) * (width + space),
                          table_head + static_cast<double>(row) * (height + space)};
            Cell(canvas, plan, shown, at, {width, height}, common).draw(table.rows[i]);
        }
    });
}

} // namespace vast_turn
