#include "course/graph/line_letters.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <limits>
#include <numeric>
#include <vector>

#include "course/floor/cell_runs.hpp"
#include "course/graph/line_join.hpp"
#include "course/graph/line_judge.hpp"
#include "course/graph/skeleton_graph.hpp"

namespace vast_turn {

namespace {

/// Lines that hang together.
struct Figure {
    std::vector<std::size_t> lines;
    PointBox box; ///< round the middles of its strokes
    double length_mm = 0.0;
    double width_mm = 0.0; ///< of its widest line
    bool is_bent = false;  ///< or forked: not a strip
    std::vector<int> open_ends;
};

class LetterFinder {
public:
    LetterFinder(const LineNet& net, const Course& course) : net_(net), course_(course) { gather(); }

    /// Groups of figures that may be words or single letters.
    std::vector<std::vector<std::size_t>> candidates() const {
        double longest = 0.0;
        double farthest = 0.0;
        for (const Figure& figure : figures_) {
            longest = std::max(longest, figure.length_mm);
            farthest = std::max(farthest, figure.box.longer_side());
        }
        std::vector<std::size_t> small;
        for (std::size_t i = 0; i < figures_.size(); ++i) {
            // A line reaches that much farther than a letter of a word, the strokes of which add up to more.
            constexpr double beside = 2.0;
            const Figure& figure = figures_[i];
            if (may_be_of_word(figure) && figure.box.longer_side() * beside < farthest &&
                !figure.box.meets_any(course_.line_hints.take_in)) {
                small.push_back(i);
            }
        }
        constexpr std::size_t most = 4000; // of noise there are more, and pairs of them are looked at
        if (small.size() > most) {
            return {};
        }
        std::vector<std::vector<std::size_t>> groups;
        for (std::vector<std::size_t>& group : grouped(small)) {
            constexpr double alone = 6.0; // and than one that stands alone
            const auto bent = static_cast<std::size_t>(
                std::count_if(group.begin(), group.end(), [&](std::size_t i) { return figures_[i].is_bent; }));
            const bool is_word =
                (group.size() > 1 || stands_by_lettering(figures_[group[0]])) && 2 * bent >= group.size();
            const bool is_letter = bent == 1 && group.size() == 1 && may_stand_alone(figures_[group[0]]) &&
                                   figures_[group[0]].length_mm * alone < longest;
            if (is_word || is_letter) {
                groups.push_back(std::move(group));
            }
        }
        return groups;
    }

    /// Whether letters stand with more of their kind, so that some of their ends face others by chance.
    bool stands_in_word(const std::vector<std::size_t>& group) const {
        constexpr std::size_t word = 3;
        return group.size() >= word ||
               std::any_of(group.begin(), group.end(), [&](std::size_t i) { return stands_by_lettering(figures_[i]); });
    }

    const Figure& operator[](std::size_t i) const { return figures_[i]; }

private:
    static bool is_small(const Figure& figure, double widths, double largest_mm) {
        return figure.box.longer_side() < std::min(largest_mm, widths * figure.width_mm);
    }

    static bool may_be_of_word(const Figure& figure) { return is_small(figure, 13.0, 300.0); }
    static bool may_stand_alone(const Figure& figure) { return is_small(figure, 8.0, 180.0); }

    static bool is_bent(const Line& line) {
        if (line.ring()) {
            return true;
        }
        constexpr double straight = 0.93; // chord of an arc of 75 degrees
        const double way = length_of(line.shape.middle);
        return length(line.shape.middle.back() - line.shape.middle.front()) < straight * way;
    }

    void gather() {
        std::vector<std::uint32_t> parent(net_.lines.size());
        std::iota(parent.begin(), parent.end(), 0U);
        for (int k = 0; k < static_cast<int>(net_.knots.size()); ++k) {
            const std::vector<Tip> tips = net_.tips(k);
            for (std::size_t i = 1; i < tips.size(); ++i) {
                cell_runs::unite(parent, static_cast<std::uint32_t>(tips[0].line),
                                 static_cast<std::uint32_t>(tips[i].line));
            }
        }
        std::vector<std::size_t> number(net_.lines.size(), std::numeric_limits<std::size_t>::max());
        for (std::size_t i = 0; i < net_.lines.size(); ++i) {
            if (net_.lines[i].gone) {
                continue;
            }
            std::size_t& place = number[cell_runs::root(parent, static_cast<std::uint32_t>(i))];
            if (place >= figures_.size()) {
                place = figures_.size();
                figures_.emplace_back();
            }
            add(figures_[place], i);
        }
    }

    void add(Figure& figure, std::size_t number) const {
        const Line& line = net_.lines[number];
        figure.is_bent = figure.is_bent || !figure.lines.empty() || is_bent(line);
        figure.lines.push_back(number);
        figure.length_mm += length_of(line.shape.middle);
        figure.width_mm = std::max(figure.width_mm, line.shape.usual_width_mm);
        for (const Vec2 p : line.shape.middle) {
            figure.box.add(p);
        }
        if (!line.ring()) {
            for (const int knot : {line.from, line.to}) {
                if (net_.tips(knot).size() == 1) {
                    figure.open_ends.push_back(knot);
                }
            }
        }
    }

    static bool stand_within(const PointBox& a, const PointBox& b, double room) {
        return a.low.x - b.high.x < room && b.low.x - a.high.x < room && a.low.y - b.high.y < room &&
               b.low.y - a.high.y < room;
    }

    /// Letters of a word stand nearer to one another than they are large, and are about as large.
    static bool are_near(const Figure& a, const Figure& b) {
        constexpr double alike = 4.0; // a full stop is not looked at, an i beside an m is
        const double larger = std::max(a.box.longer_side(), b.box.longer_side());
        const double smaller = std::min(a.box.longer_side(), b.box.longer_side());
        const double room = 0.5 * larger + 0.5 * (a.width_mm + b.width_mm);
        return larger < alike * smaller && stand_within(a.box, b.box, room);
    }

    /// Whether other letters of its word have been told by their thinner strokes.
    bool stands_by_lettering(const Figure& figure) const {
        return std::any_of(net_.not_lines.begin(), net_.not_lines.end(), [&](const NotLine& it) {
            const Vec2 half = 0.5 * it.size_mm;
            const PointBox word{it.at - half, it.at + half};
            const double high = std::min(it.size_mm.x, it.size_mm.y);
            const double letter = figure.box.longer_side();
            constexpr double alike = 2.0;
            return it.kind == NotLineKind::lettering && letter < alike * high && high < alike * letter &&
                   stand_within(word, figure.box, 0.5 * letter + 0.5 * figure.width_mm);
        });
    }

    std::vector<std::vector<std::size_t>> grouped(const std::vector<std::size_t>& small) const {
        std::vector<std::uint32_t> parent(small.size());
        std::iota(parent.begin(), parent.end(), 0U);
        for (std::size_t i = 0; i < small.size(); ++i) {
            for (std::size_t k = i + 1; k < small.size(); ++k) {
                if (are_near(figures_[small[i]], figures_[small[k]])) {
                    cell_runs::unite(parent, static_cast<std::uint32_t>(i), static_cast<std::uint32_t>(k));
                }
            }
        }
        std::vector<std::vector<std::size_t>> by_root(small.size());
        for (std::size_t i = 0; i < small.size(); ++i) {
            by_root[cell_runs::root(parent, static_cast<std::uint32_t>(i))].push_back(small[i]);
        }
        std::erase_if(by_root, [](const auto& group) { return group.empty(); });
        return by_root;
    }

    const LineNet& net_;
    const Course& course_;
    std::vector<Figure> figures_;
};

NotLine told(const Figure& figure) {
    const Vec2 half{0.5 * figure.width_mm, 0.5 * figure.width_mm};
    return not_line(NotLineKind::lettering, {figure.box.low - half, figure.box.high + half});
}

} // namespace

void take_out_letters(LineNet& net, const LineMask& mask, const Course& course, const RouteGraphOptions& options) {
    const LetterFinder finder(net, course);
    const std::vector<std::vector<std::size_t>> groups = finder.candidates();
    if (groups.empty()) {
        return;
    }
    LineNet bridged = net;
    bridge_gaps(bridged, mask, course, options);
    for (const std::vector<std::size_t>& group : groups) {
        std::size_t ends = 0;
        std::size_t open = 0;
        for (const std::size_t i : group) {
            for (const int knot : finder[i].open_ends) {
                ++ends;
                open += bridged.tips(knot).size() == 1 ? 1U : 0U;
            }
        }
        constexpr double facing = 0.3; // of the ends of a word face others by chance
        const double bridged_ends = static_cast<double>(ends - open);
        if (bridged_ends > (finder.stands_in_word(group) ? facing * static_cast<double>(ends) : 0.0)) {
            continue;
        }
        NotLine word = told(finder[group.front()]);
        for (const std::size_t i : group) {
            if (i != group.front()) {
                join_into(word, told(finder[i]));
            }
            for (const std::size_t line : finder[i].lines) {
                net.lines[line].gone = true;
            }
        }
        net.not_lines.push_back(word);
    }
}

} // namespace vast_turn
