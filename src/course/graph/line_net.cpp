#include "course/graph/line_net.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <tuple>

#include "course/graph/corner_split.hpp"
#include "course/graph/dark_areas.hpp"
#include "course/graph/fillet_fork.hpp"
#include "course/graph/first_lines.hpp"
#include "course/graph/junction_fit.hpp"
#include "course/graph/line_ends.hpp"
#include "course/graph/line_join.hpp"
#include "course/graph/line_judge.hpp"
#include "course/graph/line_letters.hpp"
#include "course/graph/lone_marks.hpp"
#include "course/graph/one_rim.hpp"
#include "course/graph/side_arm.hpp"
#include "course/graph/tangent_fork.hpp"

namespace vast_turn {

namespace {

class LineFinder {
public:
    LineFinder(const Course& course, const RouteGraphOptions& options)
        : course_(course), options_(options), mask_(line_mask(course)), lines_(net_.lines), knots_(net_.knots) {}

    LineNet run() {
        std::vector<std::uint8_t> deep = depths(mask_);
        if (!course_.drawing.empty()) { // what is taped is line, but for pads
            net_.not_lines = take_out_what_is_no_line(mask_, deep, course_);
        } else {
            net_.not_lines = take_off_pads(mask_, deep, course_);
        }
        take_first_lines(net_, course_, mask_, trace(mask_, thinned(mask_, std::move(deep))));
        take_off_holes();
        if (!course_.drawing.empty() && !net_.crossings.empty()) { // before knots are placed by how lines come to them
            pass_by_all_blots();
        }
        split_at_corners(net_);
        merge_near_knots();
        place_knots();
        if (take_off_wedges()) {
            place_knots();
        }
        merge_meeting_knots();
        lead_lines_to_knots(net_, mask_);
        join_corners(net_);
        take_off_holes();
        join_corners(net_); // what met at a hole
        if (!course_.drawing.empty()) {
            pass_by_all_blots();
            take_out_letters(net_, mask_, course_, options_);
        }
        bridge_gaps(net_, mask_, course_, options_);
        note_covers(net_, mask_, course_);
        if (!course_.drawing.empty()) {
            take_out_lone_marks(net_, mask_, course_);
        }
        return std::move(net_);
    }

private:
    void pass_by_all_blots() {
        std::vector<Vec2> at_plates;
        for (const Cover& cover : mask_.covers) {
            at_plates.insert(at_plates.end(), {cover.from, cover.to});
        }
        for (const Marker& marker : course_.markers) {
            at_plates.push_back(marker.at);
        }
        const CrossingMap crossings(net_.crossings, course_.width_mm, course_.height_mm);
        const CrossingMap plates(at_plates, course_.width_mm, course_.height_mm);
        const auto is_loose = [this](int knot) { return knot < 0 || tips(knot).size() == 1; };
        for (Line& line : lines_) {
            if (!line.gone) {
                pass_by_blots(mask_, {crossings, plates}, line.shape.middle, line.shape.usual_width_mm,
                              {is_loose(line.from), is_loose(line.to)});
            }
        }
    }

    std::vector<Tip> tips(int knot) const { return net_.tips(knot); }

    /// Those that tell enough of how they come to a knot.
    std::vector<ForkArm> fork_arms(int knot, std::size_t without) const {
        std::vector<ForkArm> list;
        for (const Tip& tip : tips(knot)) {
            const std::vector<Vec2> part = tip.line == without ? std::vector<Vec2>{} : sound_part(net_, tip);
            if (part.size() >= 4) {
                list.push_back({fit_arm(part, 0.1), part, lines_[tip.line].shape.usual_width_mm});
            }
        }
        return list;
    }

    static std::vector<FittedArm> fits_of(const std::vector<ForkArm>& arms) {
        std::vector<FittedArm> list;
        std::transform(arms.begin(), arms.end(), std::back_inserter(list), [](const ForkArm& arm) { return arm.fit; });
        return list;
    }

    std::vector<FittedArm> arms(int knot, std::size_t without) const { return fits_of(fork_arms(knot, without)); }

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

    /// How wide a line comes to a knot. Across a small ring or a sliver its profiles are those of the lines round it.
    double width_at(int knot, const Tip& tip) const {
        constexpr double round_corner = 1.2;
        const double room = 2.0 * round_corner * knots_[static_cast<std::size_t>(knot)].half_width_mm;
        return std::min(lines_[tip.line].shape.usual_width_mm, room);
    }

    /// The pointed tip of a mitred corner, or of a notch between butted tapes, that was too long to be taken for a
    /// spur: beyond the point where the lines meet it is short, and it grows narrow, which a line that ends does not.
    bool is_wedge(const Line& line, int tip, int root) const {
        if (tips(tip).size() != 1 || tips(root).size() < 3) {
            return false;
        }
        double wide = 0.0;
        for (const Tip& other : tips(root)) {
            wide = std::max(wide, &lines_[other.line] == &line ? 0.0 : width_at(root, other));
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
            widest = std::max(widest, width_at(line.from, tip));
        }
        return length_of(line.shape.middle) < 3.0 * widest;
    }

    void take_off_holes() {
        for (Line& line : lines_) {
            line.gone = line.gone || is_hole(line);
        }
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
               sound_part(net_, {number, true}).empty() && sound_part(net_, {number, false}).empty();
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

    /// What comes to a knot, far out.
    std::vector<std::vector<Vec2>> long_arms(const std::vector<Tip>& here) const {
        std::vector<std::vector<Vec2>> list;
        for (const Tip& tip : here) {
            constexpr double least_mm = 60.0;
            constexpr double most_mm = 260.0;
            const double own = lines_[tip.line].shape.usual_width_mm;
            list.push_back(sound_part(net_, tip, std::clamp(6.0 * own, least_mm, most_mm)));
        }
        return list;
    }

    /// Where an arc leaves a straight line at a fork without a corner.
    void place_touching_arc(Knot& knot, const std::vector<Tip>& here, const std::vector<ForkArm>& arms) const {
        if (here.size() != 3) {
            return;
        }
        double width = 0.0;
        for (const Tip& tip : here) {
            width = std::max(width, lines_[tip.line].shape.usual_width_mm);
        }
        const std::vector<std::vector<Vec2>> far = long_arms(here);
        if (const std::optional<Vec2> at = tangent_point(far, width)) {
            knot.at = *at;
        } else if (arms.size() == here.size()) {
            if (const std::optional<FilletFork> fork = fillet_fork(mask_, arms, far)) {
                knot.at = fork->at;
                for (const FilletFork::Arc& arc : fork->arcs) {
                    knot.arcs.push_back({arc.middle, arc.radius_mm, here[arc.arm].line});
                }
            }
        }
    }

    void place_knots() {
        for (std::size_t k = 0; k < knots_.size(); ++k) {
            if (tips(static_cast<int>(k)).size() < 2) {
                continue;
            }
            const std::vector<ForkArm> all = fork_arms(static_cast<int>(k), lines_.size());
            if (all.size() >= 2) {
                const double reach = 12.0 * knots_[k].half_width_mm;
                knots_[k].at = meeting_point(fits_of(all), knots_[k].at, reach);
            }
            const std::vector<Tip> here = tips(static_cast<int>(k));
            std::optional<Vec2> exact;
            if (all.size() == here.size()) {
                exact = side_arm_point(mask_, all, knots_[k].at);
            }
            knots_[k].arcs.clear();
            if (exact) {
                knots_[k].at = *exact;
            } else {
                place_touching_arc(knots_[k], here, all);
            }
        }
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
