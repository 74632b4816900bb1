#include "support/whole_course.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <random>
#include <set>

#include <fmt/format.h>

#include "vast_turn/course/board/course.hpp"

using namespace vast_turn;

namespace fixtures {

namespace {

constexpr double unbent = std::numeric_limits<double>::infinity();

/// Corners of a line as someone would type them, and how each is rounded.
struct Corners {
    std::vector<Vec2> at;
    double radius_mm = 0.0; ///< 0: sharp
    bool closed = false;
};

/// A line of the course, point by point.
struct Drawn {
    std::vector<Vec2> points;
    double tightest_mm = unbent; ///< infinite also where a corner is sharp: no radius is true of it
    bool smooth = true;          ///< no sharp corner
    bool closed = false;
};

Vec2 unit(Vec2 v) { return (1.0 / length(v)) * v; }

double way_of(const std::vector<Vec2>& points, bool closed = false) {
    double mm = closed ? length(points.front() - points.back()) : 0.0;
    for (std::size_t i = 1; i < points.size(); ++i) {
        mm += length(points[i] - points[i - 1]);
    }
    return mm;
}

/// Corners cut by arcs that touch both sides.
Drawn rounded(const Corners& corners) {
    Drawn out;
    out.closed = corners.closed;
    const std::size_t count = corners.at.size();
    for (std::size_t i = 0; i < count; ++i) {
        const Vec2 here = corners.at[i];
        const bool end = !corners.closed && (i == 0 || i + 1 == count);
        if (end) {
            out.points.push_back(here);
            continue;
        }
        const Vec2 before = corners.at[(i + count - 1) % count] - here;
        const Vec2 after = corners.at[(i + 1) % count] - here;
        const Vec2 u = unit(before);
        const Vec2 v = unit(after);
        const double half = 0.5 * std::acos(std::clamp(dot(u, v), -1.0, 1.0));
        if (half > 1.5707) {
            continue; // straight on
        }
        const double cut = corners.radius_mm / std::tan(half);
        if (corners.radius_mm <= 0.0) {
            out.points.push_back(here);
            out.smooth = false;
            continue;
        }
        out.tightest_mm = std::min(out.tightest_mm, corners.radius_mm);
        const Vec2 middle = here + (corners.radius_mm / std::sin(half)) * unit(u + v);
        const Vec2 from = here + cut * u - middle;
        const Vec2 to = here + cut * v - middle;
        const double turn = std::remainder(std::atan2(to.y, to.x) - std::atan2(from.y, from.x), 2.0 * 3.14159265358979);
        const int steps = std::max(3, static_cast<int>(std::abs(turn) * corners.radius_mm / 1.5));
        for (int k = 0; k <= steps; ++k) {
            const double a = turn * k / steps;
            out.points.push_back(middle + Vec2{from.x * std::cos(a) - from.y * std::sin(a),
                                               from.x * std::sin(a) + from.y * std::cos(a)});
        }
    }
    return out;
}

class WholeMaker {
public:
    explicit WholeMaker(std::uint32_t seed) : random_(seed) {}

    MixedCourse run(const std::string& kind) {
        const std::array<double, 8> widths = {9.0, 12.0, 15.0, 18.0, 19.0, 24.0, 30.0, 48.0};
        width_ = out_.width_mm = widths[static_cast<std::size_t>(pick(8))];
        unit_ = std::max(std::max(4.5 * width_, 60.0), real(70.0, 130.0));
        style_ = pick(5);
        const std::vector<std::pair<std::string, void (WholeMaker::*)()>> kinds = {
            {"rounds", &WholeMaker::rounds}, {"lattice", &WholeMaker::lattice}, {"tree", &WholeMaker::tree},
            {"eight", &WholeMaker::eight},   {"wave", &WholeMaker::wave},       {"spiral", &WholeMaker::spiral},
            {"zigzag", &WholeMaker::zigzag}, {"spline", &WholeMaker::spline},   {"comb", &WholeMaker::comb},
        };
        for (;;) {
            const auto& [name, make] = kinds[static_cast<std::size_t>(pick(static_cast<int>(kinds.size())))];
            if (kind.empty() || kind == name) {
                out_.kinds = name;
                (this->*make)();
                break;
            }
        }
        static const std::array<const char*, 5> styles = {"strokes", "strips", "filled", "rimmed", "round caps"};
        out_.kinds += std::string(", ") + styles[static_cast<std::size_t>(style_)];
        draw();
        return std::move(out_);
    }

private:
    double real(double from, double to) { return from + (to - from) * static_cast<double>(random_()) / 4294967296.0; }
    int pick(int count) { return static_cast<int>(random_() % static_cast<unsigned>(count)); }
    bool chance(int percent) { return pick(100) < percent; }

    int node(Vec2 at, int degree) {
        for (std::size_t i = 0; i < out_.nodes.size(); ++i) {
            if (length(out_.nodes[i].at - at) < 1e-6) {
                return static_cast<int>(i);
            }
        }
        out_.nodes.push_back({at, degree});
        return static_cast<int>(out_.nodes.size()) - 1;
    }

    void lay(Drawn line, int from, int to) {
        const double mm = way_of(line.points, line.closed);
        out_.lines.push_back({from, to, mm, line.smooth ? line.tightest_mm : unbent, {}});
        lines_.push_back(std::move(line));
    }

    void lay_ends(Drawn line) {
        const int from = node(line.points.front(), 1);
        const int to = node(line.points.back(), 1);
        lay(std::move(line), from, to);
    }

    double corner() { return chance(45) ? 0.0 : real(std::max(25.0, 0.75 * width_), std::max(26.0, 0.5 * unit_)); }

    // --- kinds ---

    /// The outline of some squares that hang together, and ways across.
    void rounds() {
        std::set<std::pair<int, int>> cells = {{0, 0}};
        const int wanted = 3 + pick(7);
        while (static_cast<int>(cells.size()) < wanted) {
            auto cell = cells.begin();
            std::advance(cell, pick(static_cast<int>(cells.size())));
            const std::array<std::pair<int, int>, 4> ways = {{{1, 0}, {-1, 0}, {0, 1}, {0, -1}}};
            const auto [dx, dy] = ways[static_cast<std::size_t>(pick(4))];
            cells.insert({cell->first + dx, cell->second + dy});
        }
        // A hole or two cells that touch at a corner make another figure: begin anew.
        Corners outline;
        outline.closed = true;
        std::set<std::pair<std::pair<int, int>, std::pair<int, int>>> edges;
        for (const std::pair<int, int>& cell : cells) {
            const int x = cell.first;
            const int y = cell.second;
            const auto side = [&](int dx, int dy, std::pair<int, int> a, std::pair<int, int> b) {
                if (cells.count({x + dx, y + dy}) == 0) {
                    edges.insert({a, b});
                }
            };
            side(0, -1, {x, y}, {x + 1, y});
            side(1, 0, {x + 1, y}, {x + 1, y + 1});
            side(0, 1, {x + 1, y + 1}, {x, y + 1});
            side(-1, 0, {x, y + 1}, {x, y});
        }
        std::pair<int, int> at = edges.begin()->first;
        const std::pair<int, int> begin = at;
        std::pair<int, int> last{0, 0};
        std::size_t walked = 0;
        std::set<std::pair<int, int>> seen;
        const double size = 1.6 * unit_;
        do {
            const auto next = std::find_if(edges.begin(), edges.end(), [&](const auto& e) { return e.first == at; });
            const std::pair<int, int> way{next->second.first - at.first, next->second.second - at.second};
            if (!seen.insert(at).second) {
                rounds();
                return;
            }
            if (way != last) {
                outline.at.push_back({size * at.first, size * at.second});
            }
            last = way;
            at = next->second;
            ++walked;
        } while (at != begin);
        if (walked != edges.size()) {
            rounds();
            return;
        }
        outline.radius_mm = corner();
        lay(rounded(outline), -1, -1);
    }

    /// Lines between the points of a lattice, some left out.
    void lattice() {
        const int columns = 2 + pick(4);
        const int rows = 2 + pick(3);
        const double lean = chance(40) ? real(-0.35, 0.35) : 0.0;
        const double size = 1.3 * unit_;
        const auto point = [&](int x, int y) { return Vec2{size * (x + lean * y), size * y}; };
        std::vector<std::array<int, 4>> edges;
        std::vector<int> degree(static_cast<std::size_t>(columns * rows), 0);
        std::vector<int> ways(static_cast<std::size_t>(columns * rows), 0); // 1 across, 2 up and down
        const int left_out = pick(35);
        for (int y = 0; y < rows; ++y) {
            for (int x = 0; x < columns; ++x) {
                for (const auto& [dx, dy] : {std::pair{1, 0}, {0, 1}}) {
                    if (x + dx < columns && y + dy < rows && !chance(left_out)) {
                        edges.push_back({x, y, x + dx, y + dy});
                        for (const int k : {y * columns + x, (y + dy) * columns + x + dx}) {
                            ++degree[static_cast<std::size_t>(k)];
                            ways[static_cast<std::size_t>(k)] |= dx == 1 ? 1 : 2;
                        }
                    }
                }
            }
        }
        // Where two lines meet end to end they are one line: chains of edges between nodes.
        const auto number = [&](int x, int y) { return static_cast<std::size_t>(y * columns + x); };
        std::vector<bool> taken(edges.size(), false);
        const auto follow = [&](std::size_t first, std::array<int, 2> from) {
            Corners chain;
            chain.at.push_back(point(from[0], from[1]));
            std::array<int, 2> here = from;
            std::size_t edge = first;
            for (;;) {
                taken[edge] = true;
                const auto& e = edges[edge];
                here = here == std::array<int, 2>{e[0], e[1]} ? std::array<int, 2>{e[2], e[3]}
                                                              : std::array<int, 2>{e[0], e[1]};
                if (here == from && degree[number(here[0], here[1])] == 2) {
                    chain.closed = true;
                    break;
                }
                chain.at.push_back(point(here[0], here[1]));
                if (degree[number(here[0], here[1])] != 2) {
                    break;
                }
                edge = edges.size();
                for (std::size_t k = 0; k < edges.size(); ++k) {
                    const auto& o = edges[k];
                    if (!taken[k] && ((o[0] == here[0] && o[1] == here[1]) || (o[2] == here[0] && o[3] == here[1]))) {
                        edge = k;
                    }
                }
            }
            const Drawn line = rounded(chain);
            if (chain.closed) {
                lay(line, -1, -1);
                return;
            }
            const int a = node(point(from[0], from[1]), degree[number(from[0], from[1])]);
            const int b = node(point(here[0], here[1]), degree[number(here[0], here[1])]);
            lay(line, a, b);
        };
        for (const bool rings : {false, true}) {
            for (std::size_t k = 0; k < edges.size(); ++k) {
                for (const std::size_t end : {std::size_t{0}, std::size_t{2}}) {
                    const std::array<int, 2> from{edges[k][end], edges[k][end + 1]};
                    if (!taken[k] && (rings || degree[number(from[0], from[1])] != 2)) {
                        follow(k, from);
                    }
                }
            }
        }
    }

    /// A line with branches to its sides.
    void tree() {
        const int forks = 2 + pick(4);
        const double apart = 1.5 * unit_;
        std::vector<Vec2> at;
        for (int i = 0; i <= forks + 1; ++i) {
            at.push_back({apart * i, 0.0});
        }
        for (int i = 0; i <= forks; ++i) {
            const auto k = static_cast<std::size_t>(i);
            const int a = node(at[k], i == 0 ? 1 : 3);
            const int b = node(at[k + 1], i == forks ? 1 : 3);
            Drawn line;
            line.points = {at[k], at[k + 1]};
            lay(line, a, b);
        }
        for (int i = 1; i <= forks; ++i) {
            const double side = i % 2 == 0 ? 1.0 : -1.0;
            const double deg = side * (chance(60) ? 90.0 : real(42.0, 138.0));
            const double mm = real(1.6, 2.4) * unit_;
            Corners branch;
            const Vec2 from = at[static_cast<std::size_t>(i)];
            branch.at = {from, from + mm * direction(deg)};
            if (chance(50)) { // and a corner in it
                const double more = side * (chance(50) ? 1.0 : -1.0) * real(30.0, 60.0);
                branch.at.push_back(branch.at.back() +
                                    (1.2 * unit_) * direction(deg + (std::abs(deg) > 90.0 ? -std::abs(more) * side
                                                                                          : std::abs(more) * side)));
                branch.radius_mm = corner();
            }
            const Drawn line = rounded(branch);
            lay(line, node(from, 3), node(line.points.back(), 1));
        }
    }

    double tightest_allowed() const { return std::max(26.0, 0.8 * width_); }

    /// Of a curve's velocity and acceleration.
    static double radius_of(Vec2 v, Vec2 w) {
        return std::pow(length(v), 3.0) / std::max(1e-9, std::abs(v.x * w.y - v.y * w.x));
    }

    /// A curve that crosses itself: a Lissajous figure 1:2 or 1:3, whose crossings lie on an axis.
    void eight() {
        constexpr double pi = 3.14159265358979;
        double a = real(1.8, 3.0) * unit_;
        const double flat = real(0.7, 1.0);
        const int loops = 2 + pick(2);
        const double lead = loops == 2 ? 0.0 : 0.5 * pi;
        const std::vector<double> times = // of the crossings, each twice
            loops == 2 ? std::vector<double>{0.0, pi}
                       : std::vector<double>{pi / 6.0, 5.0 * pi / 6.0, 7.0 * pi / 6.0, 11.0 * pi / 6.0};
        const auto at = [&](double t) { return Vec2{a * std::sin(t), flat * a * std::sin(loops * t + lead)}; };
        const auto radius = [&](double t) {
            return radius_of({a * std::cos(t), loops * flat * a * std::cos(loops * t + lead)},
                             {-a * std::sin(t), -loops * loops * flat * a * std::sin(loops * t + lead)});
        };
        const auto tightest = [&](double from, double to) {
            double mm = unbent;
            for (int k = 0; k <= 400; ++k) {
                mm = std::min(mm, radius(from + (to - from) * k / 400));
            }
            return mm;
        };
        a *= std::max(1.0, tightest_allowed() / tightest(0.0, 2.0 * pi));
        const auto hub = [&](double t) {
            const Vec2 p = at(t);
            return node({std::round(p.x * 1e6) / 1e6, std::round(p.y * 1e6) / 1e6}, 4);
        };
        for (std::size_t i = 0; i < times.size(); ++i) {
            const double from = times[i];
            const double to = i + 1 < times.size() ? times[i + 1] : times[0] + 2.0 * pi;
            Drawn line;
            for (int k = 0; k <= 400; ++k) {
                line.points.push_back(at(from + (to - from) * k / 400));
            }
            line.tightest_mm = tightest(from, to);
            const int begin = hub(from);
            const int end = hub(to);
            lay(std::move(line), begin, end);
        }
    }

    void wave() {
        const double high = real(0.25, 0.7) * unit_;
        const double wave = std::max(real(2.2, 4.0) * unit_, 2.0 * 3.1416 * std::sqrt(high * tightest_allowed()));
        const double k = 2.0 * 3.14159265358979 / wave;
        Drawn line;
        const double phase = real(0.0, 6.28);
        const double whole = real(1.2, 2.6) * wave;
        for (double x = 0.0; x < whole; x += 1.0) {
            line.points.push_back({x, high * std::sin(k * x + phase)});
            line.tightest_mm = std::min(line.tightest_mm, radius_of({1.0, high * k * std::cos(k * x + phase)},
                                                                    {0.0, -high * k * k * std::sin(k * x + phase)}));
        }
        lay_ends(std::move(line));
    }

    void spiral() {
        const double pitch = width_ + std::max(1.1 * width_, real(18.0, 60.0));
        const double inner = std::max(30.0, real(1.6, 2.6) * width_);
        Drawn line;
        const double grow = pitch / (2.0 * 3.14159265358979);
        const double turns = real(1.4, 2.8);
        for (double t = 0.0; t < turns * 6.2831853; t += 1.0 / (inner + grow * t)) {
            const double r = inner + grow * t;
            line.points.push_back({r * std::cos(t), r * std::sin(t)});
        }
        const double first = inner + grow * 0.5 * width_ / inner; // the last half width of a line leads nowhere
        line.tightest_mm = std::pow(first * first + grow * grow, 1.5) / (first * first + 2.0 * grow * grow);
        lay_ends(std::move(line));
    }

    void zigzag() {
        Corners line;
        const int corners = 3 + pick(5);
        double heading = real(-40.0, 40.0);
        Vec2 at{0.0, 0.0};
        line.at.push_back(at);
        double side = chance(50) ? 1.0 : -1.0;
        for (int i = 0; i <= corners; ++i) {
            at = at + (real(1.4, 2.2) * unit_) * direction(heading);
            line.at.push_back(at);
            const double turn = real(40.0, 118.0);
            heading = std::abs(heading + side * turn) < 100.0 ? heading + side * turn : heading - side * turn;
            side = -side;
        }
        line.radius_mm = corner();
        if (near_itself(line.at)) {
            zigzag();
            return;
        }
        lay_ends(rounded(line));
    }

    /// A curve through points, as a drawing program draws it.
    void spline() {
        for (;;) {
            std::vector<Vec2> knots;
            const int count = 6 + pick(4);
            for (int i = 0; i < count; ++i) {
                const double r = real(1.6, 3.0) * unit_;
                knots.push_back(r * direction(360.0 / count * i));
            }
            Drawn line;
            line.closed = true;
            for (int i = 0; i < count; ++i) {
                const auto k = [&](int j) { return knots[static_cast<std::size_t>((i + j + count) % count)]; };
                const Vec2 p0 = k(-1);
                const Vec2 p1 = k(0);
                const Vec2 p2 = k(1);
                const Vec2 p3 = k(2);
                for (int s = 0; s < 60; ++s) {
                    const double t = s / 60.0; // uniform cubic B-spline: its bend is steady from piece to piece
                    const double a = (1 - t) * (1 - t) * (1 - t) / 6.0;
                    const double b = (3 * t * t * t - 6 * t * t + 4) / 6.0;
                    const double c = (-3 * t * t * t + 3 * t * t + 3 * t + 1) / 6.0;
                    const double d = t * t * t / 6.0;
                    line.points.push_back(a * p0 + b * p1 + c * p2 + d * p3);
                    const Vec2 v = (-0.5 * (1 - t) * (1 - t)) * p0 + (0.5 * (3 * t * t - 4 * t)) * p1 +
                                   (0.5 * (-3 * t * t + 2 * t + 1)) * p2 + (0.5 * t * t) * p3;
                    const Vec2 w = (1 - t) * p0 + (3 * t - 2) * p1 + (1 - 3 * t) * p2 + t * p3;
                    line.tightest_mm = std::min(line.tightest_mm, radius_of(v, w));
                }
            }
            if (line.tightest_mm > tightest_allowed()) {
                lay(std::move(line), -1, -1);
                return;
            }
        }
    }

    /// Hairpins: up and down beside itself.
    void comb() {
        Corners line;
        const int teeth = 2 + pick(3);
        const double apart = std::max(2.4 * width_, real(40.0, 90.0));
        const double high = 2.2 * unit_;
        for (int i = 0; i < teeth; ++i) {
            line.at.push_back({2.0 * apart * i, 0.0});
            line.at.push_back({2.0 * apart * i, -high});
            line.at.push_back({2.0 * apart * i + apart, -high});
            line.at.push_back({2.0 * apart * i + apart, 0.0});
        }
        line.at.insert(line.at.begin(), {-1.3 * unit_, 0.0});
        line.radius_mm = chance(40) ? 0.0 : 0.4999 * apart;
        lay_ends(rounded(line));
    }

    bool near_itself(const std::vector<Vec2>& corners) const {
        const auto inside = [&](std::size_t i, double t) { return corners[i] + t * (corners[i + 1] - corners[i]); };
        for (std::size_t i = 0; i + 1 < corners.size(); ++i) {
            for (std::size_t j = i + 1; j + 1 < corners.size(); ++j) {
                for (double s = 0.0; s <= 1.0; s += 0.02) {
                    for (double t = 0.0; t <= 1.0; t += 0.02) {
                        const bool joined = j == i + 1 && length(inside(j, t) - corners[j]) < 3.6 * width_ + 14.0;
                        if (!joined && length(inside(i, s) - inside(j, t)) < 3.0 * width_ + 10.0) {
                            return true;
                        }
                    }
                }
            }
        }
        return false;
    }

    // --- drawing ---

    void turn_and_place() {
        const double turn = chance(55) ? 90.0 * pick(4) : real(0.0, 360.0);
        const auto turned = [&](Vec2 p) { return p.x * direction(turn) + p.y * direction(turn - 90.0); };
        Vec2 low{1e9, 1e9};
        Vec2 high{-1e9, -1e9};
        for (Drawn& line : lines_) {
            for (Vec2& p : line.points) {
                p = turned(p);
                low = {std::min(low.x, p.x), std::min(low.y, p.y)};
                high = {std::max(high.x, p.x), std::max(high.y, p.y)};
            }
        }
        const double rim = 2.0 * width_ + real(30.0, 90.0);
        for (Drawn& line : lines_) {
            for (Vec2& p : line.points) {
                p = p - low + Vec2{rim, rim};
            }
        }
        for (TrueNode& n : out_.nodes) {
            n.at = turned(n.at) - low + Vec2{rim, rim};
        }
        out_.board_mm = {std::ceil(high.x - low.x + 2.0 * rim), std::ceil(high.y - low.y + 2.0 * rim)};
    }

    static std::string path_of(const std::vector<Vec2>& points) {
        std::string d;
        for (std::size_t i = 0; i < points.size(); ++i) {
            d += fmt::format("{}{:.3f},{:.3f}", i == 0 ? "M" : " ", points[i].x, points[i].y);
        }
        return d;
    }

    void stroke(const Drawn& line, double width, const std::string& colour, const char* more) {
        body_ += fmt::format("<path d=\"{}{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"{:.3f}\"{}/>\n",
                             path_of(line.points), line.closed ? " Z" : "", colour, width, more);
    }

    /// Strips of tape, each laid from corner to corner: they overlap there, or meet with a seam on the straight.
    void strips(const Drawn& line) {
        std::vector<Vec2> points = line.points;
        if (line.closed) {
            points.push_back(points.front());
        }
        for (std::size_t i = 1; i < points.size(); ++i) {
            const Vec2 a = points[i - 1];
            const Vec2 b = points[i];
            const double mm = length(b - a);
            const double deg = to_degrees(std::atan2(b.y - a.y, b.x - a.x));
            const bool first = i == 1 && !line.closed;
            const bool last = i + 1 == points.size() && !line.closed;
            // A corner is covered by both strips; in a bend they overlap a little.
            const auto over = [&](Vec2 other) {
                return std::abs(dot(unit(b - a), unit(other))) < 0.95 ? 0.5 * width_ : 0.05 * width_;
            };
            const Vec2 earlier = i > 1 ? a - points[i - 2] : points.front() - points[points.size() - 2];
            const Vec2 later = i + 1 < points.size() ? points[i + 1] - b : points[1] - points.front();
            const double from = first ? 0.0 : -over(earlier);
            const double to = mm + (last ? 0.0 : over(later));
            const auto strip = [&](double begin, double end) {
                body_ += fmt::format("<rect x=\"{:.3f}\" y=\"{:.3f}\" width=\"{:.3f}\" height=\"{:.3f}\" fill=\"{}\" "
                                     "transform=\"translate({:.3f} {:.3f}) rotate({:.4f})\"/>\n",
                                     begin, -0.5 * width_, end - begin, width_, dark_, a.x, a.y, deg);
            };
            if (mm > 120.0 && chance(60)) {
                const double seam = real(0.0, 0.6);
                const double at = real(0.35, 0.65) * mm;
                strip(from, at);
                strip(at + seam, to);
            } else {
                strip(from, to);
            }
        }
    }

    void filled(const Drawn& line) {
        std::vector<Vec2> left;
        std::vector<Vec2> right;
        const std::size_t count = line.points.size();
        for (std::size_t i = 0; i < count; ++i) {
            const bool first = i == 0 && !line.closed;
            const bool last = i + 1 == count && !line.closed;
            const Vec2 here = line.points[i];
            const Vec2 before = first ? here - (line.points[1] - here) : line.points[(i + count - 1) % count];
            const Vec2 after = last ? here + (here - line.points[i - 1]) : line.points[(i + 1) % count];
            const Vec2 u = unit(here - before);
            const Vec2 v = unit(after - here);
            const Vec2 normal{-(u.y + v.y), u.x + v.x};
            const Vec2 side = unit(normal);
            const double spread = 0.5 * width_ / std::max(0.3, dot(side, Vec2{-u.y, u.x})); // a mitre
            left.push_back(here + spread * side);
            right.push_back(here - spread * side);
        }
        std::string d;
        if (line.closed) {
            d = path_of(left) + " Z " + path_of(right) + " Z";
        } else {
            left.insert(left.end(), right.rbegin(), right.rend());
            d = path_of(left) + " Z";
        }
        body_ += fmt::format("<path d=\"{}\" fill=\"{}\" fill-rule=\"evenodd\"/>\n", d, dark_);
    }

    void plates() {
        const int count = pick(4);
        std::vector<Vec2> there;
        for (int i = 0; i < count; ++i) {
            const std::size_t k = static_cast<std::size_t>(pick(static_cast<int>(lines_.size())));
            const std::vector<Vec2>& points = lines_[k].points;
            const double whole = way_of(points);
            const double at = real(0.3, 0.7) * whole;
            const Vec2 middle = at_length(points, at);
            const double side = width_ + real(5.0, 14.0);
            // On a straight piece, away from corners, nodes and other lines.
            const Vec2 a = at_length(points, at - 1.1 * side);
            const Vec2 b = at_length(points, at + 1.1 * side);
            const bool straight = std::abs(length(b - a) - 2.2 * side) < 0.05 && length(0.5 * (a + b) - middle) < 0.05;
            const auto near = [&](Vec2 p) { return length(p - middle) < 1.8 * side; };
            if (!straight || std::any_of(there.begin(), there.end(), near) ||
                std::any_of(out_.nodes.begin(), out_.nodes.end(), [&](const TrueNode& n) { return near(n.at); })) {
                continue;
            }
            const double deg = to_degrees(std::atan2(b.y - a.y, b.x - a.x));
            body_ += fmt::format("<rect x=\"{0:.3f}\" y=\"{0:.3f}\" width=\"{1:.3f}\" height=\"{1:.3f}\" fill=\"{2}\" "
                                 "transform=\"translate({3:.3f} {4:.3f}) rotate({5:.3f})\"/>\n",
                                 -0.5 * side, side, plate_colours_[static_cast<std::size_t>(pick(3))], middle.x,
                                 middle.y, deg);
            there.push_back(middle);
            out_.plates.push_back(middle);
        }
        // In the corner of a junction, against both its tapes: which way to go.
        for (const TrueNode& hub : out_.nodes) {
            if (hub.degree != 4 || !chance(35) || out_.kinds.substr(0, 7) != "lattice" || leans()) {
                continue;
            }
            const double side = std::max(0.9 * width_, 16.0);
            const Vec2 along = corner_way(hub.at);
            const Vec2 across{-along.y, along.x};
            const double off = 0.5 * width_ + 0.5 * side;
            const Vec2 middle = hub.at + off * along + off * across;
            std::vector<Vec2> square;
            for (const Vec2 c : {Vec2{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}}) {
                square.push_back(middle + (c.x * side) * along + (c.y * side) * across);
            }
            body_ += fmt::format("<path d=\"{} Z\" fill=\"{}\"/>\n", path_of(square),
                                 plate_colours_[static_cast<std::size_t>(pick(3))]);
            out_.plates.push_back(middle);
        }
    }

    /// Whether a box stands clear of every line but the points of one of them that lie within.
    bool is_clear(Vec2 middle, Vec2 along, double half_along, double half_across, std::size_t own) const {
        const double room = 2.0 * width_ + 8.0;
        const auto outside = [&](Vec2 p) {
            const double x = std::abs(dot(p - middle, along)) - half_along;
            const double y = std::abs(cross(along, p - middle)) - half_across;
            return std::max(x, y) > room;
        };
        const Vec2 board = out_.board_mm;
        for (const double x : {-1.0, 1.0}) {
            for (const double y : {-1.0, 1.0}) {
                const Vec2 c = middle + (x * half_along) * along + (y * half_across) * Vec2{-along.y, along.x};
                if (c.x < 8.0 || c.y < 8.0 || c.x > board.x - 8.0 || c.y > board.y - 8.0) {
                    return false;
                }
            }
        }
        for (std::size_t i = 0; i < lines_.size(); ++i) {
            const std::vector<Vec2>& points = lines_[i].points;
            const double whole = way_of(points);
            for (double s = 0.0; s <= whole && i != own; s += 4.0) {
                if (!outside(at_length(points, s))) {
                    return false;
                }
            }
        }
        return std::all_of(out_.plates.begin(), out_.plates.end(), outside);
    }

    void box(Vec2 middle, Vec2 along, double half_along, double half_across, const std::string& look) {
        std::vector<Vec2> square;
        for (const Vec2 c : {Vec2{-1.0, -1.0}, {1.0, -1.0}, {1.0, 1.0}, {-1.0, 1.0}}) {
            square.push_back(middle + (c.x * half_along) * along + (c.y * half_across) * Vec2{-along.y, along.x});
        }
        body_ += fmt::format("<path d=\"{} Z\" {}/>\n", path_of(square), look);
    }

    /// What touches lines and is none: a filled area in which one ends, a bench against it, a frame across it.
    void furnish() {
        const std::string fill = fmt::format("fill=\"{}\"", chance(60) ? dark_ : std::string("#3A3632"));
        const std::string rim = fmt::format("fill=\"none\" stroke=\"{}\" stroke-width=\"{:.2f}\"", dark_,
                                            std::min(real(1.0, 4.0), 0.3 * width_));
        for (std::size_t i = 0; i < lines_.size(); ++i) {
            const std::vector<Vec2>& points = lines_[i].points;
            TrueLine& line = out_.lines[i];
            const double whole = way_of(points);
            // At an end, when the line leads straight to it.
            if (line.to >= 0 && out_.nodes[static_cast<std::size_t>(line.to)].degree == 1 && style_ != 4 &&
                chance(60)) {
                const double half = real(2.0, 3.0) * width_;
                const double over = real(0.2, 0.8) * half;
                const Vec2 end = points.back();
                const Vec2 before = at_length(points, whole - 3.0 * half);
                const Vec2 along = unit(end - before);
                const bool straight = whole > 6.0 * half && std::abs(length(end - before) - 3.0 * half) < 0.05;
                const Vec2 middle = end + (half - over) * along;
                bool free = straight && is_clear(middle, along, half, half, i);
                for (double s = 0.0; s <= whole - 2.0 * half - width_ && free; s += 4.0) {
                    free = length(at_length(points, s) - middle) > 1.5 * half + 2.0 * width_;
                }
                if (free) {
                    box(middle, along, half, real(0.8, 1.0) * half, fill);
                    out_.nodes[static_cast<std::size_t>(line.to)].at = end - over * along;
                    line.length_mm -= over;
                    continue;
                }
            }
            // On a straight piece.
            const double at = real(0.3, 0.7) * whole;
            const double half = real(1.8, 3.5) * width_;
            if (whole < 3.0 * half + 4.0 * width_ || at < half + 2.0 * width_ || at + half + 2.0 * width_ > whole) {
                continue;
            }
            const Vec2 a = at_length(points, at - half - 1.5 * width_);
            const Vec2 b = at_length(points, at + half + 1.5 * width_);
            const Vec2 middle = 0.5 * (a + b);
            const Vec2 along = unit(b - a);
            const bool straight = std::abs(length(b - a) - 2.0 * half - 3.0 * width_) < 0.05;
            if (!straight || !is_clear(middle, along, half, 0.5 * width_, i)) {
                continue;
            }
            const double across = real(1.6, 3.0) * width_;
            const Vec2 aside = (chance(50) ? 1.0 : -1.0) * Vec2{-along.y, along.x};
            const Vec2 bench = middle + (0.5 * width_ + across - real(0.0, 1.5)) * aside;
            // Its own line may come back beside it: then there is no room.
            const auto within = [&](Vec2 p) {
                return std::abs(dot(p - bench, along)) < half + 2.0 * width_ &&
                       std::abs(cross(along, p - bench)) < across + 0.4 * width_ - 2.0;
            };
            bool free = is_clear(bench, along, half, across, i);
            for (double s = 0.0; s <= whole && free; s += 4.0) {
                free = !within(at_length(points, s));
            }
            if (free && chance(50)) {
                box(bench, along, half, across, fill);
            } else if (free) {
                box(middle, along, half, 0.5 * width_ + real(20.0, 40.0), rim);
            }
        }
    }

    bool leans() const {
        for (const Drawn& line : lines_) {
            for (std::size_t i = 2; i < line.points.size(); ++i) {
                const Vec2 u = line.points[i - 1] - line.points[i - 2];
                const Vec2 v = line.points[i] - line.points[i - 1];
                if (std::abs(dot(u, v)) > 0.05 * length(u) * length(v) && length(u) > 20.0 && length(v) > 20.0) {
                    return true;
                }
            }
        }
        const Vec2 first = lines_.front().points[1] - lines_.front().points[0];
        return std::any_of(lines_.begin(), lines_.end(), [&](const Drawn& line) {
            const Vec2 way = line.points[1] - line.points[0];
            const double c = std::abs(dot(first, way)) / length(first) / length(way);
            return c > 0.01 && c < 0.99;
        });
    }

    /// The way of some line that begins or ends at a point.
    Vec2 corner_way(Vec2 at) const {
        for (const Drawn& line : lines_) {
            if (length(line.points.front() - at) < 1e-3) {
                const Vec2 way = line.points[1] - line.points[0];
                return unit(way);
            }
        }
        for (const Drawn& line : lines_) {
            if (length(line.points.back() - at) < 1e-3) {
                const Vec2 way = line.points[line.points.size() - 2] - line.points.back();
                return unit(way);
            }
        }
        return {1.0, 0.0};
    }

    void draw() {
        turn_and_place();
        dark_ = chance(50) ? "#1B1B1D" : "#000000";
        const std::string floor = chance(50) ? "#FFFFFF" : "#EDEAE0";
        for (const Drawn& line : lines_) {
            switch (style_) {
            case 0: stroke(line, width_, dark_, ""); break;
            case 1: strips(line); break;
            case 2: filled(line); break;
            case 3: // a rim as some drawings have it
                stroke(line, width_, "#5A5A5A", "");
                break;
            default: stroke(line, width_, dark_, " stroke-linecap=\"round\" stroke-linejoin=\"round\""); break;
            }
        }
        if (style_ == 3) {
            for (const Drawn& line : lines_) {
                stroke(line, width_ - std::min(2.0, 0.16 * width_), dark_, "");
            }
        }
        if (style_ == 4) {
            reach_further();
        }
        if (style_ != 1) {
            nodes_closed();
        }
        plates();
        if (chance(40)) {
            furnish();
        }
        const auto [wide, high] = out_.board_mm;
        const bool points = chance(40); // of paper: the same size in another unit
        out_.svg =
            fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{2:.3f}{4}\" height=\"{3:.3f}{4}\" "
                        "viewBox=\"0 0 {0:.3f} {1:.3f}\">\n<rect width=\"{0:.3f}\" height=\"{1:.3f}\" fill=\"{5}\"/>\n"
                        "{6}</svg>\n",
                        wide, high, points ? wide * 72.0 / 25.4 : wide, points ? high * 72.0 / 25.4 : high,
                        points ? "pt" : "mm", floor, body_);
        out_.sheet = fmt::format("name = \"whole\"\ndrawing = \"d.svg\"\n[palette]\namber = \"{}\"\nteal = \"{}\"\n"
                                 "magenta = \"{}\"\n",
                                 plate_colours_[0], plate_colours_[1], plate_colours_[2]);
        if (chance(60)) {
            out_.sheet.insert(out_.sheet.find("[palette]"),
                              fmt::format("floor = \"{}\"\nline = {{ colour = \"{}\"{} }}\n", floor, dark_,
                                          chance(50) ? fmt::format(", width_mm = {}", width_) : ""));
        }
    }

    /// Round caps reach half a width on: ends are there, and lines that much longer.
    void reach_further() {
        for (std::size_t i = 0; i < lines_.size(); ++i) {
            TrueLine& line = out_.lines[i];
            const std::vector<Vec2>& points = lines_[i].points;
            const auto end = [&](int which, Vec2 at, Vec2 before) {
                if (which >= 0 && out_.nodes[static_cast<std::size_t>(which)].degree == 1) {
                    out_.nodes[static_cast<std::size_t>(which)].at = at + (0.5 * width_) * unit(at - before);
                    line.length_mm += 0.5 * width_;
                }
            };
            end(line.from, points.front(), points[1]);
            end(line.to, points.back(), points[points.size() - 2]);
        }
    }

    /// Lines that end in a node leave a notch where two meet at an angle; someone who draws fills it.
    void nodes_closed() {
        for (const TrueNode& n : out_.nodes) {
            if (n.degree > 1) {
                body_ += fmt::format("<circle cx=\"{:.3f}\" cy=\"{:.3f}\" r=\"{:.3f}\" fill=\"{}\"/>\n", n.at.x, n.at.y,
                                     0.5 * width_ - (style_ == 3 ? 1.0 : 0.0), dark_);
            }
        }
    }

    std::mt19937 random_;
    MixedCourse out_;
    std::vector<Drawn> lines_;
    double width_ = 19.0;
    double unit_ = 100.0;
    int style_ = 0;
    std::string body_;
    std::string dark_;
    std::vector<std::string> plate_colours_ = {"#F0A000", "#0E9A8A", "#B8307C"};
};

} // namespace

MixedCourse whole_course(std::uint32_t seed, const std::string& kind) { return WholeMaker(seed).run(kind); }

} // namespace fixtures
