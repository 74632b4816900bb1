#include "vast_turn/view/step_picture.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/plan/explain/asker.hpp"
#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/plan/explain/plan_state.hpp"
#include "view/robot_on_board.hpp"

namespace vast_turn {

namespace {

constexpr double step_head = 74.0;
constexpr double step_side = 520.0;

/// The column of words and bars.
class Side {
public:
    Side(Canvas& canvas, double x, double y) : canvas_(canvas), x_(x), y_(y) {}

    void heading(const std::string& words) {
        y_ += 8.0;
        row(words, {13.0, ink::text, Align::left, true});
    }
    void row(const std::string& words, const TextStyle& style = {12.5}) {
        for (const std::string& line : canvas_.wrapped(words, step_side - page_margin, style)) {
            if (y_ < page_height - page_margin) {
                canvas_.text({x_, y_}, line, style);
            }
            y_ += 17.0;
        }
        y_ += 2.0;
    }
    void bar(const std::string& name, double part, double threshold, const std::string& words, bool is_line) {
        constexpr double width = 250.0;
        constexpr double height = 13.0;
        canvas_.text({x_, y_}, name, {12.5});
        const Vec2 at{x_ + 22.0, y_ - height + 2.0};
        canvas_.frame(at, {width, height}, ink::faint, 1.0);
        canvas_.fill_rect(at, {width * std::clamp(part, 0.0, 1.0), height}, is_line ? ink::alarm : ink::faint);
        const double edge = at.x + width * std::clamp(threshold, 0.0, 1.0);
        canvas_.line({{edge, at.y - 3.0}, {edge, at.y + height + 3.0}}, ink::text, 1.6);
        canvas_.text({at.x + width + 12.0, y_}, words, {12.5});
        y_ += 21.0;
    }

private:
    Canvas& canvas_;
    double x_;
    double y_;
};

void tell_readings(Side& side, const SteppedRun& run) {
    const Look& look = run.look();
    side.heading("readings, with the thresholds");
    for (int i = 0; i < look.sensors; ++i) {
        const bool is_line = ((look.line_bits >> i) & 1) != 0;
        side.bar(fmt::format("{}", i + 1), look.sensor[i],
                 run.run().calibration.sensors[static_cast<std::size_t>(i)].threshold,
                 fmt::format("{:.2f} {}, {:g} counts", look.sensor[i], is_line ? "line" : "floor", look.raw[i]),
                 is_line);
    }
}

void tell_steps(Side& side, const SteppedRun& run) {
    const Mind& mind = *run.mind_before();
    const Plan& plan = mind.plan();
    side.heading("what the plan makes of it");
    for (const AskedStep& step : Asker(mind).ask(run.look()).steps) {
        if (step.stage == runtime::Stage::begun || step.stage == runtime::Stage::ended) {
            side.row(fmt::format("block {} {}", plan.blocks()[step.block],
                                 step.stage == runtime::Stage::begun ? "begins" : "ends"));
        } else if (step.holds) {
            side.row(describe_rule(plan, step.rule), {12.5, ink::fern, Align::left, true});
        } else {
            const RuleInfo& rule = plan.rule(step.rule);
            side.row(fmt::format("line {}{} does not: {}", rule.line, rule.is_twin ? " (mirrored)" : "", step.because));
        }
    }
    const Answer& answer = run.answer();
    side.row(fmt::format("left {:.4g} %, right {:.4g} %{}", answer.left_pct, answer.right_pct,
                         answer.halted ? ", and halt" : ""));
    const PlanState state = state_of(*run.mind(), run.look());
    if (!state.blocks.empty()) {
        side.heading("in hand");
    }
    for (const BlockState& block : state.blocks) {
        side.row(fmt::format("{}: {:.4g} ms, {:.4g} mm{}{}", block.block, block.ms, block.way_mm,
                             block.progress.empty() ? "" : ", ", block.progress));
    }
    for (const auto& [name, value] : state.vars) {
        side.row(fmt::format("var {} {}", name, value));
    }
    for (const PidState& pid : state.pids) {
        side.row(fmt::format("{} gave {:.4g}", pid.text, pid.value));
    }
}

} // namespace

std::string draw_step(const Scene& scene, const StepView& view, PictureFormat format) {
    return draw_page(format, [&](Canvas& canvas) {
        draw_heading(canvas, view.title, view.where);
        const Vec2 corner{page_margin, step_head};
        const Vec2 box{page_width - step_side - 2.0 * page_margin, page_height - step_head - page_margin};
        constexpr double across_mm = 420.0;
        const SteppedRun& run = view.run;
        const LookRecord now = run.record();
        const Vec2 array = from_robot(run.body().at, run.body().ahead, scene.array_middle());
        Board board(scene.course(), corner, box, 0.5 * (run.body().at + array), across_mm);
        board.draw_surface(canvas);
        cairo_t* c = canvas.context();
        cairo_save(c);
        cairo_rectangle(c, corner.x, corner.y, box.x, box.y);
        cairo_clip(c);
        std::vector<Thing> there;
        for (std::size_t k = 0; k < run.things().size(); ++k) {
            if (run.is_there(k)) {
                there.push_back(run.things()[k]);
            }
        }
        board.draw_things(canvas, there);
        board.draw_places(canvas, true);
        for (std::size_t k = 0; k < view.beside.size(); ++k) {
            draw_way(canvas, board, view.beside[k]->run.run(), series_ink(k + 1));
        }
        draw_way(canvas, board, run.run(), ink::alarm);
        draw_robot(canvas, board, scene, now);
        cairo_restore(c);
        Side side(canvas, page_width - step_side, step_head + 16.0);
        if (!view.beside.empty()) {
            side.row("red: " + view.name, {13.0, ink::alarm});
            for (std::size_t k = 0; k < view.beside.size(); ++k) {
                side.row(view.beside[k]->name, {13.0, series_ink(k + 1)});
            }
        }
        tell_readings(side, run);
        if (!run.is_over() && run.mind_before() != nullptr) {
            tell_steps(side, run);
        }
    });
}

} // namespace vast_turn
