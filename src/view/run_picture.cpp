#include <algorithm>
#include <array>
#include <functional>
#include <map>

#include <fmt/format.h>

#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/trial/trip_result.hpp"
#include "vast_turn/view/picture.hpp"
#include "view/board.hpp"

namespace vast_turn {

namespace {

constexpr double run_head = 74.0;
constexpr double run_side = 360.0;

/// Colours that stay apart for colour-blind eyes as well, on light floor and dark tape; then again
/// from the start.
constexpr std::array<Rgb, 8> rule_colours = {{{214, 92, 28},
                                              {24, 118, 196},
                                              {0, 150, 104},
                                              {168, 66, 150},
                                              {226, 172, 16},
                                              {92, 190, 222},
                                              {120, 84, 52},
                                              {236, 110, 140}}};

/// The rules that acted, by how often.
struct Acted {
    RuleId rule;
    std::size_t looks = 0;
};

std::vector<Acted> acted_rules(const Run& run) {
    std::map<RuleId, std::size_t> counts;
    for (const LookRecord& look : run.looks) {
        ++counts[look.rule];
    }
    std::vector<Acted> list;
    for (const auto& [rule, looks] : counts) {
        list.push_back({rule, looks});
    }
    return list; // in the order of the plan
}

Ink colour_of(const std::vector<Acted>& acted, RuleId rule) {
    if (rule == no_rule) {
        return ink::faint;
    }
    const auto at = std::find_if(acted.begin(), acted.end(), [rule](const Acted& a) { return a.rule == rule; });
    return {rule_colours[static_cast<std::size_t>(at - acted.begin()) % rule_colours.size()], 1.0};
}

void draw_path(Canvas& canvas, Board& board, const Run& run, const std::vector<Acted>& acted) {
    std::vector<Vec2> whole;
    for (const LookRecord& look : run.looks) {
        whole.push_back(board.on_page(look.at));
    }
    whole.push_back(board.on_page(run.end_at));
    board.keep_clear(whole);
    canvas.line(whole, {ink::paper.colour, 0.85}, 6.0);
    for (std::size_t i = 0; i < run.looks.size();) {
        const std::size_t first = i;
        while (i < run.looks.size() && run.looks[i].rule == run.looks[first].rule) {
            ++i;
        }
        const auto at = [&](std::size_t k) { return whole.begin() + static_cast<std::ptrdiff_t>(k); };
        canvas.line({at(first), at(i + 1)}, colour_of(acted, run.looks[first].rule), 3.4);
    }
}

void draw_moments(Canvas& canvas, Board& board, const Scene& scene, const Plan* plan, const Run& run) {
    const Vec2 end = board.on_page(run.end_at);
    canvas.line({{end.x - 7, end.y - 7}, {end.x + 7, end.y + 7}}, ink::alarm, 3.0);
    canvas.line({{end.x - 7, end.y + 7}, {end.x + 7, end.y - 7}}, ink::alarm, 3.0);
    board.label(canvas, end, 15.0, fmt::format("{} at {:.2f} s", name_of(run.ending), run.time_s),
                {14.0, ink::alarm, Align::left, true, false, true});
    for (const Visit& visit : run.visits) {
        const CoursePlace& place = scene.course().places[visit.place];
        board.label(canvas, board.on_page(place.at), board.scale() * place.radius_mm + 6.0,
                    fmt::format("{}, {:.2f} s", place.name, visit.t_s),
                    {14.0, ink::fern, Align::left, true, false, true});
    }
    const std::vector<std::string> visited = route_of(scene.course(), run);
    for (const CoursePlace& place : scene.course().places) {
        if (std::find(visited.begin(), visited.end(), place.name) == visited.end()) {
            board.label(canvas, board.on_page(place.at), board.scale() * place.radius_mm + 6.0, place.name,
                        {14.0, ink::faint, Align::left, false, false, true});
        }
    }
    for (const RunEvent& event : run.events) {
        const Vec2 at = board.on_page(event.at);
        canvas.dot(at, 4.0, ink::text);
        if (plan != nullptr && event.event.kind != EventKind::cut_short) {
            board.label(canvas, at, 12.0,
                        fmt::format("{}: {}", event_name(event.event.kind), describe_event(*plan, event.event)),
                        {12.0, ink::text, Align::left, false, false, true});
        }
    }
}

std::string share(std::size_t looks, std::size_t all) {
    return fmt::format("{:.1f} %",
                       100.0 * static_cast<double>(looks) / static_cast<double>(std::max<std::size_t>(all, 1)));
}

void draw_legend(Canvas& canvas, const Plan* plan, const Run& run, const std::vector<Acted>& acted) {
    const double x = page_width - run_side;
    double y = run_head + 14.0;
    canvas.text({x, y}, "Path by acting rule", {14.0, ink::text, Align::left, true});
    canvas.text({page_width - page_margin, y}, "of all looks", {12.0, ink::faint, Align::right});
    constexpr std::size_t most_rows = 15; // as many as fit the page
    std::vector<Acted> shown = acted;
    if (shown.size() > most_rows) { // those that acted most often, in the order of the plan
        std::vector<std::size_t> looks;
        for (const Acted& a : acted) {
            looks.push_back(a.looks);
        }
        std::nth_element(looks.begin(), looks.begin() + most_rows - 1, looks.end(), std::greater<>());
        const std::size_t least = looks[most_rows - 1];
        std::erase_if(shown, [least](const Acted& a) { return a.looks < least; });
        shown.resize(std::min(shown.size(), most_rows));
    }
    for (const Acted& a : shown) {
        y += 26.0;
        canvas.line({{x, y - 4.0}, {x + 26.0, y - 4.0}}, colour_of(acted, a.rule), 5.0);
        const bool none = a.rule == no_rule || plan == nullptr;
        const TextStyle mono{12.5, ink::text, Align::left, false, true};
        const double width = run_side - page_margin - 100.0;
        const std::string words =
            none ? std::string(plan == nullptr ? "decided by code" : "no rule held")
                 : fmt::format("line {}  {}", plan->rule(a.rule).line, plan->rule(a.rule).condition);
        canvas.text({x + 36.0, y}, canvas.fitted(words, width, mono), mono);
        canvas.text({page_width - page_margin, y}, share(a.looks, run.looks.size()),
                    {12.0, ink::faint, Align::right, false, true});
        if (!none) {
            y += 17.0;
            const TextStyle small{11.5, ink::faint, Align::left, false, true};
            canvas.text({x + 36.0, y}, canvas.fitted("-> " + plan->rule(a.rule).acts, width + 40.0, small), small);
        }
    }
    if (shown.size() < acted.size()) {
        canvas.text({x + 36.0, y + 26.0}, fmt::format("and {} more, less often", acted.size() - shown.size()),
                    {12.0, ink::faint, Align::left});
    }
}

void draw_head(Canvas& canvas, const Scene& scene, const Plan* plan, const Run& run) {
    const std::string who = plan == nullptr ? std::string("own code") : plan->name();
    canvas.text({page_margin, 36.0}, fmt::format("{}: {} on {}", scene.course().name, scene.robot().name, who),
                {20.0, ink::text, Align::left, true});
    std::string route = run.start;
    for (const std::string& name : route_of(scene.course(), run)) {
        route += " \u2192 " + name;
    }
    canvas.text({page_margin, 60.0},
                fmt::format("{}; {} after {:.2f} s, {:.0f} mm, {:.0f} mm/s in the mean", route, name_of(run.ending),
                            run.time_s, run.way_mm, run.mean_speed_mm_s()),
                {14.0, ink::text});
}

} // namespace

std::string draw_run(const Scene& scene, const Plan* plan, const Run& run, PictureFormat format) {
    return draw_page(format, [&](Canvas& canvas) {
        Board board(scene.course(), {page_margin, run_head},
                    {page_width - run_side - 2.0 * page_margin, page_height - run_head - 2.0 * page_margin});
        const std::vector<Acted> acted = acted_rules(run);
        draw_head(canvas, scene, plan, run);
        board.draw_surface(canvas);
        board.draw_things(canvas);
        board.draw_places(canvas, false);
        draw_path(canvas, board, run, acted);
        board.draw_starts(canvas);
        draw_moments(canvas, board, scene, plan, run);
        board.draw_scale(canvas);
        draw_legend(canvas, plan, run, acted);
    });
}

} // namespace vast_turn
