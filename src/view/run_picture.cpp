#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <map>
#include <numeric>

#include <fmt/format.h>

#include "sim/things.hpp"
#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/trial/trip_result.hpp"
#include "vast_turn/view/picture.hpp"
#include "view/board.hpp"

namespace vast_turn {

namespace {

constexpr double run_head = 74.0;
constexpr double run_side = 360.0;

/// Colours that stay apart for colour-blind eyes as well, on light floor and dark tape: one for each of the rules that
/// acted most. The rest share a grey.
constexpr std::array<Rgb, 12> rule_colours = {{{214, 92, 28},
                                               {24, 118, 196},
                                               {0, 150, 104},
                                               {168, 66, 150},
                                               {226, 172, 16},
                                               {92, 190, 222},
                                               {120, 84, 52},
                                               {236, 110, 140},
                                               {104, 140, 30},
                                               {86, 74, 190},
                                               {0, 96, 100},
                                               {150, 20, 60}}};
constexpr Ink other_rules{{128, 132, 128}, 1.0};

/// The rules that acted, by how often.
struct Acted {
    RuleId rule;
    std::size_t looks = 0;
    std::size_t rank = 0;   ///< 0 acted most
    std::size_t colour = 0; ///< among the rules' colours; beyond them for what shares the grey
};

/// In the order of the plan; `rank` says which act most.
std::vector<Acted> acted_rules(const Run& run) {
    std::map<RuleId, std::size_t> counts;
    for (const LookRecord& look : run.looks) {
        ++counts[look.rule];
    }
    std::vector<Acted> list;
    for (const auto& [rule, looks] : counts) {
        list.push_back({rule, looks});
    }
    std::vector<std::size_t> order(list.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return (list[a].rule != no_rule && list[b].rule == no_rule) ||
               ((list[a].rule == no_rule) == (list[b].rule == no_rule) && list[a].looks > list[b].looks);
    });
    for (std::size_t i = 0; i < order.size(); ++i) {
        list[order[i]].rank = i;
    }
    // Those that have a colour take theirs in the order of the plan.
    std::size_t colour = 0;
    for (Acted& one : list) {
        one.colour = one.rank < rule_colours.size() && one.rule != no_rule ? colour++ : rule_colours.size();
    }
    return list;
}

Ink colour_of(const std::vector<Acted>& acted, RuleId rule) {
    if (rule == no_rule) {
        return ink::faint;
    }
    const auto at = std::find_if(acted.begin(), acted.end(), [rule](const Acted& a) { return a.rule == rule; });
    return at->colour < rule_colours.size() ? Ink{rule_colours[at->colour], 1.0} : other_rules;
}

/// How many times the robot has come back to where it began, look by look.
std::vector<int> laps_of(const Run& run) {
    constexpr double home_mm = 60.0;
    constexpr double away_mm = 170.0;
    std::vector<int> laps;
    int lap = 0;
    bool away = false;
    for (const LookRecord& look : run.looks) {
        const double from_start = length(look.at - run.looks.front().at);
        away = away || from_start > away_mm;
        if (away && from_start < home_mm) {
            ++lap;
            away = false;
        }
        laps.push_back(lap);
    }
    return laps;
}

/// Mixed with paper, the more so the longer ago its lap was.
Ink paled(Ink ink, int lap, int last) {
    const double part = last > 0 ? 0.55 * (last - lap) / last : 0.0;
    const auto mixed = [&](std::uint8_t own, std::uint8_t paper) {
        return static_cast<std::uint8_t>(std::lround(own + part * (paper - own)));
    };
    const Rgb paper = ink::paper.colour;
    ink.colour = {mixed(ink.colour.r, paper.r), mixed(ink.colour.g, paper.g), mixed(ink.colour.b, paper.b)};
    return ink;
}

/// Small heads along the path that say which way it was driven.
void draw_direction(Canvas& canvas, const std::vector<Vec2>& whole) {
    constexpr double apart = 130.0;
    constexpr double size = 5.0;
    double way = 0.5 * apart;
    for (std::size_t i = 4; i < whole.size(); ++i) {
        way += length(whole[i] - whole[i - 1]);
        const Vec2 along = whole[i] - whole[i - 4];
        if (way < apart || length(along) < 1.0) {
            continue;
        }
        way = 0.0;
        const Vec2 ahead = (1.0 / length(along)) * along;
        const Vec2 side{-ahead.y, ahead.x};
        canvas.polygon({whole[i] + 1.6 * size * ahead, whole[i] + size * side, whole[i] - size * side}, ink::text);
    }
}

void draw_path(Canvas& canvas, Board& board, const Run& run, const std::vector<Acted>& acted) {
    std::vector<Vec2> whole;
    for (const LookRecord& look : run.looks) {
        whole.push_back(board.on_page(look.at));
    }
    whole.push_back(board.on_page(run.end_at));
    board.keep_clear(whole);
    canvas.line(whole, {ink::paper.colour, 0.85}, 6.0);
    const std::vector<int> laps = laps_of(run);
    for (std::size_t i = 0; i < run.looks.size();) {
        const std::size_t first = i;
        while (i < run.looks.size() && run.looks[i].rule == run.looks[first].rule && laps[i] == laps[first]) {
            ++i;
        }
        const auto at = [&](std::size_t k) { return whole.begin() + static_cast<std::ptrdiff_t>(k); };
        canvas.line({at(first), at(i + 1)}, paled(colour_of(acted, run.looks[first].rule), laps[first], laps.back()),
                    3.4);
    }
    draw_direction(canvas, whole);
}

/// A frame round the thing that the robot touched.
void draw_touched(Canvas& canvas, const Board& board, const Scene& scene, const Run& run) {
    if (run.ending != Ending::touched) {
        return;
    }
    const std::vector<Thing>& things = scene.course().things;
    const auto touched = std::min_element(things.begin(), things.end(), [&](const Thing& a, const Thing& b) {
        return distance_to(a, run.end_at) < distance_to(b, run.end_at);
    });
    constexpr double touches_mm = 2.0; // a wall is no thing
    if (touched != things.end() && distance_to(*touched, run.end_at) < 0.5 * scene.robot().track_mm + touches_mm) {
        Thing frame = *touched;
        constexpr double room_px = 3.0;
        frame.size_mm = frame.size_mm + (2.0 * room_px / board.scale()) * Vec2{1.0, 1.0};
        std::vector<Vec2> corners = corners_of(frame);
        for (Vec2& corner : corners) {
            corner = board.on_page(corner);
        }
        corners.push_back(corners.front());
        canvas.line(corners, ink::alarm, 3.0);
    }
}

/// A dot for each thing that the plan said, and its words where there is room.
void draw_events(Canvas& canvas, Board& board, const Plan* plan, const Run& run) {
    for (const RunEvent& event : run.events) {
        const Vec2 at = board.on_page(event.at);
        canvas.dot(at, 4.0, ink::text);
        if (plan != nullptr && event.event.kind != EventKind::cut_short) {
            board.label_if_room(canvas, at, 12.0,
                                fmt::format("{}: {}", event_name(event.event.kind), describe_event(*plan, event.event)),
                                {12.0, ink::text, Align::left, false, false, true});
        }
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
    draw_events(canvas, board, plan, run);
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
    constexpr std::size_t most_rows = rule_colours.size() + 1; // one for looks in which no rule held
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
        canvas.line({{x, y + 22.0}, {x + 26.0, y + 22.0}}, other_rules, 5.0);
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
        board.draw_light(canvas);
        board.draw_things(canvas);
        board.draw_places(canvas, false);
        draw_path(canvas, board, run, acted);
        draw_touched(canvas, board, scene, run);
        for (const Touch& touch : run.touches) {
            canvas.circle(board.on_page(touch.at), 7.0, ink::alarm, 2.5);
            board.label(canvas, board.on_page(touch.at), 11.0, fmt::format("touched, {:.2f} s", touch.t_s),
                        {12.0, ink::alarm, Align::left, false, false, true});
        }
        board.draw_starts(canvas);
        draw_moments(canvas, board, scene, plan, run);
        board.draw_scale(canvas);
        draw_legend(canvas, plan, run, acted);
    });
}

} // namespace vast_turn
