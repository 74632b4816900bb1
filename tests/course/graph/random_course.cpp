#include "course/graph/random_course.hpp"

#include <algorithm>
#include <cmath>
#include <random>

#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/paint/surface.hpp"

using namespace vast_turn;

namespace fixtures {

namespace {

struct Edge {
    int from;
    int to;
    std::vector<Vec2> points;
    bool used = false;
};

class Maker {
public:
    explicit Maker(std::uint32_t seed) : random_(seed) {}

    KnownGraph run() {
        columns_ = 2 + static_cast<int>(random_() % 4);
        rows_ = 2 + static_cast<int>(random_() % 2);
        width_mm_ = 10.0 + real(20.0);
        for (int row = 0; row < rows_; ++row) {
            for (int column = 0; column < columns_; ++column) {
                spots_.push_back({160.0 + 260.0 * column + real(90.0), 160.0 + 260.0 * row + real(90.0)});
            }
        }
        for (int row = 0; row < rows_; ++row) {
            for (int column = 0; column < columns_; ++column) {
                maybe_join(row, column, row, column + 1, 80);
                maybe_join(row, column, row + 1, column, 80);
                random_() % 2 == 0 ? maybe_join(row, column, row + 1, column + 1, 60)
                                   : maybe_join(row, column + 1, row + 1, column, 60);
            }
        }
        contract();
        graph_.course.name = "random";
        graph_.course.width_mm = 160.0 + 260.0 * columns_ + 60.0;
        graph_.course.height_mm = 160.0 + 260.0 * rows_ + 60.0;
        paint_surface(graph_.course, 1.0);
        return std::move(graph_);
    }

private:
    double real(double most) { return most * static_cast<double>(random_()) / 4294967296.0; }

    static double heading(const std::vector<Vec2>& points, bool forward) {
        const Vec2 d = forward ? points[3] - points[0] : points[points.size() - 4] - points.back();
        return std::atan2(d.y, d.x);
    }

    int degree(int spot) const {
        return static_cast<int>(
            std::count_if(edges_.begin(), edges_.end(), [&](const Edge& e) { return e.from == spot || e.to == spot; }));
    }

    bool free_at(int spot, double angle) const {
        return std::all_of(edges_.begin(), edges_.end(), [&](const Edge& e) {
            if (e.from != spot && e.to != spot) {
                return true;
            }
            const double apart = std::abs(std::remainder(heading(e.points, e.from == spot) - angle, 2.0 * pi));
            return apart > to_radians(35.0);
        });
    }

    void maybe_join(int row_a, int column_a, int row_b, int column_b, unsigned percent) {
        const bool wanted = random_() % 100 < percent;
        const double bulge = random_() % 3 == 0 ? real(80.0) - 40.0 : 0.0;
        if (!wanted || row_b >= rows_ || column_a >= columns_ || column_b >= columns_) {
            return;
        }
        const int a = row_a * columns_ + column_a;
        const int b = row_b * columns_ + column_b;
        const Vec2 from = spots_[static_cast<std::size_t>(a)];
        const Vec2 to = spots_[static_cast<std::size_t>(b)];
        const Vec2 along = to - from;
        const Vec2 control = 0.5 * (from + to) + (2.0 * bulge / length(along)) * Vec2{-along.y, along.x};
        Edge edge{a, b, {}, false};
        for (int i = 0; i <= 60; ++i) {
            const double t = i / 60.0;
            edge.points.push_back((1 - t) * (1 - t) * from + 2 * t * (1 - t) * control + t * t * to);
        }
        if (free_at(a, heading(edge.points, true)) && free_at(b, heading(edge.points, false))) {
            edges_.push_back(edge);
        }
    }

    /// Tape goes on through spots of two; those that close on themselves are left out.
    void contract() {
        std::vector<int> number(spots_.size(), -1);
        for (int spot = 0; spot < static_cast<int>(spots_.size()); ++spot) {
            if (degree(spot) != 0 && degree(spot) != 2) {
                number[static_cast<std::size_t>(spot)] = static_cast<int>(graph_.nodes.size());
                graph_.nodes.push_back(spots_[static_cast<std::size_t>(spot)]);
                graph_.degrees.push_back(degree(spot));
            }
        }
        for (int spot = 0; spot < static_cast<int>(spots_.size()); ++spot) {
            for (std::size_t i = 0; i < edges_.size() && number[static_cast<std::size_t>(spot)] >= 0; ++i) {
                if (!edges_[i].used && (edges_[i].from == spot || edges_[i].to == spot)) {
                    follow(spot, i, number);
                }
            }
        }
    }

    void follow(int spot, std::size_t edge, const std::vector<int>& number) {
        const int first = spot;
        Tape tape;
        tape.width_mm = width_mm_;
        while (true) {
            Edge& e = edges_[edge];
            e.used = true;
            std::vector<Vec2> points = e.points;
            if (e.to == spot) {
                std::reverse(points.begin(), points.end());
            }
            tape.path.insert(tape.path.end(), points.begin() + (tape.path.empty() ? 0 : 1), points.end());
            spot = e.from == spot ? e.to : e.from;
            if (number[static_cast<std::size_t>(spot)] >= 0) {
                break;
            }
            edge = static_cast<std::size_t>(std::find_if(edges_.begin(), edges_.end(),
                                                         [&](const Edge& other) {
                                                             return !other.used &&
                                                                    (other.from == spot || other.to == spot);
                                                         }) -
                                            edges_.begin());
        }
        graph_.stretches.push_back(
            {number[static_cast<std::size_t>(first)], number[static_cast<std::size_t>(spot)], length_of(tape)});
        graph_.course.tapes.push_back(std::move(tape));
    }

    std::mt19937 random_;
    int columns_ = 0;
    int rows_ = 0;
    double width_mm_ = 19.0;
    std::vector<Vec2> spots_;
    std::vector<Edge> edges_;
    KnownGraph graph_;
};

} // namespace

KnownGraph random_course(std::uint32_t seed) { return Maker(seed).run(); }

} // namespace fixtures
