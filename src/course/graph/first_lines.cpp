#include "course/graph/first_lines.hpp"

#include <algorithm>
#include <cstddef>
#include <utility>
#include <vector>

#include <fmt/format.h>

#include "course/graph/line_shape.hpp"
#include "course/graph/short_pieces.hpp"
#include "course/graph/thin_lines.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

class FirstLines {
public:
    FirstLines(LineNet& net, const Course& course, const LineMask& mask, SkeletonGraph graph)
        : net_(net), course_(course), mask_(mask), graph_(std::move(graph)), shapes_(graph_.branches.size()) {}

    void run() {
        constexpr std::size_t most = 100'000; // and the search for pairs of them takes no longer than seconds
        const auto lines = std::count_if(graph_.branches.begin(), graph_.branches.end(),
                                         [](const Branch& branch) { return !branch.gone; });
        if (static_cast<std::size_t>(lines) > most) {
            throw InputError(course_.file, fmt::format("the floor shows {} pieces of line: that is noise", lines),
                             "smooth the picture, or give the colours of floor and line");
        }
        take_branches();
        if (!course_.drawing.empty()) {
            for (const std::size_t line : take_out_thin_lines(net_, course_.line_widths_mm)) {
                if (line < branch_of_.size()) { // lone pieces have none
                    thin_.push_back(branch_of_[line]);
                }
            }
        }
        // Where a thin stroke hung a line was parted; two sides of a bend that are led to where they would meet make a
        // corner of it.
        if (!thin_.empty()) {
            for (const std::size_t branch : thin_) {
                graph_.branches[branch].gone = true;
            }
            tidy(graph_);
            net_.lines.clear();
            take_branches();
        }
        // A stroke that pixels tear hangs on the line in stubs, which went as spurs.
        for (std::size_t knot = 0; knot < graph_.knots.size(); ++knot) {
            if (graph_.knots[knot].corner && graph_.degree(static_cast<int>(knot)) == 2) {
                net_.crossings.push_back(graph_.knots[knot].at);
            }
        }
    }

private:
    /// What was measured of a branch as long as it was then, from the same end.
    struct Measured {
        std::size_t points = 0;
        int from = -1;
        LineShape shape;
    };

    void take_branches() {
        net_.knots = graph_.knots;
        net_.ends = EndIndex(net_.knots.size(), net_.lines);
        net_.spots.clear();
        branch_of_.clear();
        for (std::size_t i = 0; i < graph_.branches.size(); ++i) {
            const Branch& branch = graph_.branches[i];
            if (!branch.gone && branch.points.size() >= 2) {
                take_branch(i);
            }
        }
        take_lone_pieces(net_, mask_, graph_);
    }

    void take_branch(std::size_t number) {
        const Branch& branch = graph_.branches[number];
        Measured& measured_so = shapes_[number];
        if (measured_so.points != branch.points.size() || measured_so.from != branch.from) {
            measured_so = {branch.points.size(), branch.from, measured(mask_, branch.points, branch.from < 0)};
        }
        Line line{branch.from, branch.to, measured_so.shape, {}, false};
        const bool alone = line.ring() || (graph_.degree(line.from) == 1 && graph_.degree(line.to) == 1);
        if (alone && !line.ring() && line.from != line.to) {
            take_whole_piece(net_, mask_, line);
        }
        const bool dot_like = alone && length_of(line.shape.middle) < 6.0;
        if (line.shape.usual_width_mm >= dirt_mm && !dot_like) {
            for (const int knot : {line.from, line.to}) {
                if (knot >= 0) {
                    net_.ends.add(knot, net_.lines.size());
                }
            }
            net_.lines.push_back(std::move(line));
            branch_of_.push_back(number);
        } else if (!line.ring() && !dot_like) { // what is alone parts nothing
            net_.crossings.push_back(net_.knots[static_cast<std::size_t>(line.from)].at);
            net_.crossings.push_back(net_.knots[static_cast<std::size_t>(line.to)].at);
            thin_.push_back(number);
        }
    }

    LineNet& net_;
    const Course& course_;
    const LineMask& mask_;
    SkeletonGraph graph_;
    std::vector<Measured> shapes_;       ///< of the branches
    std::vector<std::size_t> branch_of_; ///< the lines
    std::vector<std::size_t> thin_;      ///< branches that are no lines
};

} // namespace

void take_first_lines(LineNet& net, const Course& course, const LineMask& mask, SkeletonGraph graph) {
    FirstLines(net, course, mask, std::move(graph)).run();
}

} // namespace vast_turn
