#include "course/graph/line_net.hpp"

#include <algorithm>
#include <cmath>
#include <tuple>

#include <fmt/format.h>

#include "course/graph/corner_split.hpp"
#include "course/graph/junction_fit.hpp"
#include "course/graph/line_join.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

class LineFinder {
public:
    LineFinder(const Course& course, const RouteGraphOptions& options)
        : course_(course), options_(options), mask_(line_mask(course)), lines_(net_.lines), knots_(net_.knots) {}

    LineNet run() {
        take_lines(trace(mask_, thinned(mask_)));
        split_at_corners(net_);
        merge_near_knots();
        place_knots();
        if (take_off_wedges()) {
            place_knots();
        }
        merge_meeting_knots();
        for (std::size_t i = 0; i < lines_.size(); ++i) {
            straighten_to_knots(i);
        }
        join_corners(net_);
        for (Line& line : lines_) {
            line.gone = line.gone || is_hole(line);
        }
        bridge_gaps(net_, course_, options_);
        return std::move(net_);
    }

private:
    std::vector<Tip> tips(int knot) const { return net_.tips(knot); }

    void take_lines(const SkeletonGraph& graph) {
        constexpr double dirt_mm = 3.0;
        constexpr std::size_t most = 100'000; // and the search for pairs of them takes no longer than seconds
        const auto lines = std::count_if(graph.branches.begin(), graph.branches.end(),
                                         [](const Branch& branch) { return !branch.gone; });
        if (static_cast<std::size_t>(lines) > most) {
            throw InputError(course_.file, fmt::format("the floor shows {} pieces of line: that is noise", lines),
                             "smooth the picture, or give the colours of floor and line");
        }
        knots_ = graph.knots;
        net_.ends = EndIndex(knots_.size(), lines_);
        for (const Branch& branch : graph.branches) {
            if (branch.gone || branch.points.size() < 2) {
                continue;
            }
            Line line{branch.from, branch.to, measured(mask_, branch.points, branch.from < 0), {}, false};
            const bool alone = line.ring() || (graph.degree(line.from) == 1 && graph.degree(line.to) == 1);
            const bool dot_like = alone && length_of(line.shape.middle) < 6.0;
            if (line.shape.usual_width_mm >= dirt_mm && !dot_like) {
                for (const int knot : {line.from, line.to}) {
                    if (knot >= 0) {
                        net_.ends.add(knot, lines_.size());
                    }
                }
                lines_.push_back(std::move(line));
            }
        }
        for (Line& line : lines_) {
            line.gone = is_hole(line);
        }
    }

    /// How many points from a tip on a line's profile is not its own.
    std::size_t unsound_part(const Tip& tip) const {
        const LineShape& shape = lines_[tip.line].shape;
        const std::size_t n = shape.middle.size();
        const auto at = [&](std::size_t i) { return tip.begins ? i : n - 1 - i; };
        const double wide = 1.12 * shape.usual_width_mm;
        std::size_t first = std::min(n - 1, static_cast<std::size_t>(0.4 * shape.usual_width_mm));
        std::size_t run = 0;
        for (std::size_t i = first; i < n / 2 && run < 3; ++i) {
            run = shape.width_mm[at(i)] < wide ? run + 1 : 0;
            first = run == 1 ? i : first;
        }
        return first + 2;
    }

    /// The points of a line from a tip inwards, where its profile is its own.
    std::vector<Vec2> sound_part(const Tip& tip) const {
        const LineShape& shape = lines_[tip.line].shape;
        const std::size_t n = shape.middle.size();
        const auto at = [&](std::size_t i) { return tip.begins ? i : n - 1 - i; };
        const std::size_t first = unsound_part(tip);
        const auto reach = static_cast<std::size_t>(std::max(15.0, 1.5 * shape.usual_width_mm));
        std::vector<Vec2> part;
        for (std::size_t i = first; i < n && i < first + reach && i < n - n / 5; ++i) {
            part.push_back(shape.middle[at(i)]);
        }
        return part;
    }

    std::vector<FittedArm> arms(int knot, std::size_t without) const {
        std::vector<FittedArm> list;
        for (const Tip& tip : tips(knot)) {
            if (tip.line == without) {
                continue;
            }
            const std::vector<Vec2> part = sound_part(tip);
            if (part.size() >= 4) {
                list.push_back(fit_arm(part));
            }
        }
        return list;
    }

    /// A crossing is thinned to two forks with a short line between.
    void merge_near_knots() {
        for (bool changed = true; changed;) {
            changed = false;
            for (std::size_t i = 0; i < lines_.size(); ++i) {
                Line& line = lines_[i];
                if (line.gone || line.ring() || line.from == line.to || !is_one_junction(i)) {
                    continue;
                }
                const int kept = line.from;
                const int dropped = line.to;
                line.gone = changed = true;
                merge(kept, dropped);
            }
        }
    }

    void merge(int kept, int dropped) {
        Knot& knot = knots_[static_cast<std::size_t>(kept)];
        knot.at = 0.5 * (knot.at + knots_[static_cast<std::size_t>(dropped)].at);
        for (const std::size_t i : net_.ends.at(dropped)) {
            Line& line = lines_[i];
            line.from = line.from == dropped ? kept : line.from;
            line.to = line.to == dropped ? kept : line.to;
            net_.ends.add(kept, i);
        }
        for (const std::size_t i : net_.ends.at(kept)) { // a hole in the middle of a junction is no way round
            lines_[i].gone = lines_[i].gone || is_hole(lines_[i]);
        }
    }

    /// The pointed tip of a mitred corner, or of a notch between butted tapes, that was too long to be taken for a
    /// spur: beyond the point where the lines meet it is short, and it grows narrow, which a line that ends does not.
    bool is_wedge(const Line& line, int tip, int root) const {
        if (tips(tip).size() != 1 || tips(root).size() < 3) {
            return false;
        }
        double wide = 0.0;
        for (const Tip& other : tips(root)) {
            wide = std::max(wide, &lines_[other.line] == &line ? 0.0 : lines_[other.line].shape.usual_width_mm);
        }
        const Knot& end = knots_[static_cast<std::size_t>(tip)];
        const std::vector<double>& widths = line.shape.width_mm;
        const std::size_t n = widths.size();
        const std::size_t near_tip = line.from == tip ? n / 4 : n - 1 - n / 4;
        const bool grows_narrow = end.half_width_mm < 0.3 * wide && widths[near_tip] < 0.8 * wide;
        return grows_narrow && length(end.at - knots_[static_cast<std::size_t>(root)].at) < 2.2 * wide;
    }

    bool take_off_wedges() {
        bool any = false;
        for (Line& line : lines_) {
            if (!line.gone && !line.ring() && line.from != line.to &&
                (is_wedge(line, line.from, line.to) || is_wedge(line, line.to, line.from))) {
                line.gone = any = true;
            }
        }
        return any;
    }

    /// A small way from a knot to itself round a hole, as butted tapes leave one.
    bool is_hole(const Line& line) const {
        if (line.ring() || line.from != line.to) {
            return false;
        }
        double widest = 2.0 * knots_[static_cast<std::size_t>(line.from)].half_width_mm;
        for (const Tip& tip : tips(line.from)) {
            widest = std::max(widest, lines_[tip.line].shape.usual_width_mm);
        }
        return length_of(line.shape.middle) < 3.0 * widest;
    }

    /// What was thinned to several knots, but meets in one point, is one junction.
    void merge_meeting_knots() {
        std::vector<int> junctions;
        for (int k = 0; k < static_cast<int>(knots_.size()); ++k) {
            if (tips(k).size() > 2) {
                junctions.push_back(k);
            }
        }
        bool changed = false;
        for (auto first = junctions.begin(); first != junctions.end(); ++first) {
            for (auto second = first + 1; second != junctions.end(); ++second) {
                const int a = *first;
                const int b = *second;
                const Knot& one = knots_[static_cast<std::size_t>(a)];
                const Knot& other = knots_[static_cast<std::size_t>(b)];
                if (length(one.at - other.at) < 1.2 * std::min(one.half_width_mm, other.half_width_mm) &&
                    tips(a).size() > 2 && tips(b).size() > 2) {
                    merge(a, b);
                    changed = true;
                }
            }
        }
        if (changed) {
            place_knots();
        }
    }

    /// Whether a line has no part whose profile is its own, and is shorter than the lines are wide there.
    bool is_only_junction(std::size_t number) const {
        const Line& line = lines_[number];
        const Knot& from = knots_[static_cast<std::size_t>(line.from)];
        const Knot& to = knots_[static_cast<std::size_t>(line.to)];
        return length(from.at - to.at) < 2.0 * std::min(from.half_width_mm, to.half_width_mm) &&
               sound_part({number, true}).empty() && sound_part({number, false}).empty();
    }

    /// Whether what meets at the two ends of a line turns clearly: two lines beside one another meet nowhere near.
    bool is_corner(std::size_t number) const {
        const std::vector<FittedArm> here = arms(lines_[number].from, number);
        const std::vector<FittedArm> there = arms(lines_[number].to, number);
        constexpr double clear_deg = 40.0;
        return here.size() == 1 && there.size() == 1 && turn_between(here[0], there[0]) > clear_deg;
    }

    bool is_one_junction(std::size_t number) const {
        const Line& line = lines_[number];
        const std::size_t here_meet = tips(line.from).size();
        const std::size_t there_meet = tips(line.to).size();
        if (here_meet < 3 || there_meet < 3) { // the corner of a junction, or a corner that was thinned to two
            return std::min(here_meet, there_meet) == 2 && is_only_junction(number) &&
                   (std::max(here_meet, there_meet) > 2 || is_corner(number));
        }
        if (is_only_junction(number)) {
            return true;
        }
        const double width = 2.0 * std::min(knots_[static_cast<std::size_t>(line.from)].half_width_mm,
                                            knots_[static_cast<std::size_t>(line.to)].half_width_mm);
        const double between = length_of(line.shape.middle);
        if (between < 1.2 * width) {
            return true;
        }
        if (between > 12.0 * width) {
            return false;
        }
        const std::vector<FittedArm> here = arms(line.from, number);
        const std::vector<FittedArm> there = arms(line.to, number);
        if (here.size() != 2 || there.size() != 2) {
            return false;
        }
        const double aside = 0.35 * width;
        constexpr double turn_deg = 10.0;
        const auto through = [&](std::size_t a, std::size_t b) {
            return goes_through(here[a], there[b], aside, turn_deg);
        };
        return (through(0, 0) && through(1, 1)) || (through(0, 1) && through(1, 0));
    }

    void place_knots() {
        for (std::size_t k = 0; k < knots_.size(); ++k) {
            if (tips(static_cast<int>(k)).size() < 2) {
                continue;
            }
            const std::vector<FittedArm> all = arms(static_cast<int>(k), lines_.size());
            if (all.size() >= 2) {
                double reach = 12.0 * knots_[k].half_width_mm;
                knots_[k].at = meeting_point(all, knots_[k].at, reach);
            }
        }
    }

    /// A line's path ends in its knots; near a junction it goes straight to it, an end is where the line ends.
    void straighten_to_knots(std::size_t number) {
        Line& line = lines_[number];
        if (line.gone || line.ring()) {
            return;
        }
        const double keep_off = 0.9 * line.shape.usual_width_mm;
        const bool end_from = tips(line.from).size() == 1;
        const bool end_to = tips(line.to).size() == 1;
        const Vec2 from = end_from ? line.shape.middle.front() : knots_[static_cast<std::size_t>(line.from)].at;
        const Vec2 to = end_to ? line.shape.middle.back() : knots_[static_cast<std::size_t>(line.to)].at;
        std::vector<Vec2> inner;
        const std::size_t n = line.shape.middle.size();
        std::size_t first = end_from ? 0 : unsound_part({number, true});
        std::size_t behind = n - std::min(n, end_to ? 0 : unsound_part({number, false}));
        if (first >= behind) { // two junctions near to one another
            first = 0;
            behind = n;
        }
        for (std::size_t i = first; i < behind; ++i) {
            const Vec2 p = line.shape.middle[i];
            if (length(p - from) > keep_off && length(p - to) > keep_off) {
                inner.push_back(p);
            }
        }
        std::vector<Vec2> path;
        path.push_back(end_from ? end_of(inner, true, from, to, line) : from);
        path.insert(path.end(), inner.begin(), inner.end());
        path.push_back(end_to ? end_of(inner, false, to, from, line) : to);
        line.shape.middle = resampled(path, 2.0);
        for (const auto& [is_end, knot, p] :
             {std::tuple{end_from, line.from, path.front()}, std::tuple{end_to, line.to, path.back()}}) {
            if (is_end) {
                knots_[static_cast<std::size_t>(knot)].at = p;
            }
        }
    }

    /// Where the line ends, prolonged from its last sound points; from its rough tip when it is too short for that.
    Vec2 end_of(const std::vector<Vec2>& inner, bool begins, Vec2 rough, Vec2 far, const Line& line) const {
        constexpr std::size_t reach = 6;
        Vec2 last = rough;
        Vec2 before = far;
        if (inner.size() > reach) {
            last = begins ? inner.front() : inner.back();
            before = begins ? inner[reach] : inner[inner.size() - 1 - reach];
        }
        const double way = length(last - before);
        if (way <= 0.0) {
            return rough;
        }
        const Vec2 along = 1.0 / way * (last - before);
        constexpr double eaten = 12.0; // widths: thinning shortens lines that lie at 45 degrees
        return last + way_to_rim(mask_, last, along, eaten * line.shape.usual_width_mm) * along;
    }

    const Course& course_;
    const RouteGraphOptions& options_;
    LineMask mask_;
    LineNet net_;
    std::vector<Line>& lines_;
    std::vector<Knot>& knots_;
};

} // namespace

std::vector<Tip> LineNet::tips(int knot) const {
    std::vector<Tip> list;
    for (const std::size_t i : ends.at(knot)) {
        if (!lines[i].gone && lines[i].from == knot) {
            list.push_back({i, true});
        }
        if (!lines[i].gone && lines[i].to == knot) {
            list.push_back({i, false});
        }
    }
    return list;
}

LineNet find_lines(const Course& course, const RouteGraphOptions& options) { return LineFinder(course, options).run(); }

} // namespace vast_turn
