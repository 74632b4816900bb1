#include "support/mixed_course.hpp"

#include <algorithm>
#include <cmath>
#include <random>

#include <fmt/format.h>

#include "vast_turn/course/board/course.hpp"

using namespace vast_turn;

namespace fixtures {

namespace {

constexpr double endless = std::numeric_limits<double>::infinity();

/// A line drawn piece by piece.
struct Track {
    Vec2 at;
    double heading_deg = 0.0; ///< as the course frame has it
    std::vector<Vec2> points{at};
    double tightest_mm = endless;
    double length_mm = 0.0;

    Track(Vec2 from, double heading) : at(from), heading_deg(heading), points{from} {}

    Track& straight(double mm) {
        const int steps = std::max(1, static_cast<int>(mm));
        const Vec2 from = at;
        for (int i = 1; i <= steps; ++i) {
            points.push_back(from + (mm * i / steps) * direction(heading_deg));
        }
        at = points.back();
        length_mm += mm;
        return *this;
    }

    /// To the left with a positive angle.
    Track& arc(double radius, double deg) {
        const double mm = radius * to_radians(std::abs(deg));
        const int steps = std::max(2, static_cast<int>(mm));
        const double side = deg > 0.0 ? 90.0 : -90.0;
        const Vec2 centre = at + radius * direction(heading_deg + side);
        for (int i = 1; i <= steps; ++i) {
            points.push_back(centre + radius * direction(heading_deg - side + deg * i / steps));
        }
        at = points.back();
        heading_deg += deg;
        tightest_mm = std::min(tightest_mm, radius);
        length_mm += mm;
        return *this;
    }
};

class Maker {
public:
    explicit Maker(std::uint32_t seed) : random_(seed) {}

    MixedCourse run(const std::string& kind) {
        const double widths[] = {8.0, 10.0, 12.5, 15.0, 18.0, 19.0, 22.0, 25.0, 31.0, 38.0, 50.0};
        width_ = out_.width_mm = widths[pick(11)];
        scale_ = std::max(1.0, width_ / 22.0);
        dark_floor_ = chance(25);
        using Motif = void (Maker::*)();
        std::vector<std::pair<std::string, Motif>> motifs = {
            {"tangent", &Maker::tangent},     {"split", &Maker::split},       {"roundabout", &Maker::roundabout},
            {"star", &Maker::star},           {"parallel", &Maker::parallel}, {"dashes", &Maker::dashes},
            {"bent gap", &Maker::bent_gap},   {"bends", &Maker::bends},       {"loop", &Maker::loop},
            {"near fork", &Maker::near_fork}, {"cross", &Maker::cross},       {"gaps", &Maker::gaps},
        };
        if (!kind.empty()) {
            std::erase_if(motifs, [&](const auto& motif) { return motif.first != kind; });
        }
        const int columns = 2 + pick(2);
        const int rows = 1 + pick(2);
        const double side = 400.0 * scale_ + 140.0; // ends of two blocks are no gap
        for (int row = 0; row < rows; ++row) {
            for (int column = 0; column < columns; ++column) {
                middle_ = {side * (column + 0.5), side * (row + 0.5)};
                turn_ = real(0.0, 360.0);
                if (!kind.empty() || chance(78) || out_.kinds.empty()) {
                    const auto& [name, motif] = motifs[static_cast<std::size_t>(pick(static_cast<int>(motifs.size())))];
                    out_.kinds += (out_.kinds.empty() ? "" : ", ") + std::string(name);
                    (this->*motif)();
                } else {
                    clutter();
                }
            }
        }
        finish(side * columns, side * rows);
        return std::move(out_);
    }

private:
    double real(double from, double to) { return from + (to - from) * static_cast<double>(random_()) / 4294967296.0; }
    int pick(int count) { return static_cast<int>(random_() % static_cast<unsigned>(count)); }
    bool chance(int percent) { return pick(100) < percent; }

    /// A point of the block, turned.
    Vec2 place(double x, double y) const {
        return middle_ + (scale_ * x) * direction(turn_) + (scale_ * y) * direction(turn_ - 90.0);
    }

    int node(Vec2 at, int degree) {
        out_.nodes.push_back({at, degree});
        return static_cast<int>(out_.nodes.size()) - 1;
    }

    /// Draws a line and notes what is true of it.
    void lay(const Track& track, int from, int to, const std::vector<Gap>& gaps = {}, bool plates = true) {
        Tape tape;
        tape.path = track.points;
        tape.width_mm = width_;
        tape.gaps = gaps;
        TrueLine line{from, to, length_of(tape), track.tightest_mm, {}};
        for (const Gap& gap : gaps) {
            line.gaps.push_back({at_length(track.points, gap.from_mm + 0.5 * gap.length_mm), gap.length_mm});
        }
        for (const std::vector<Vec2>& piece : pieces_of(tape)) {
            stroke(piece, width_, line_);
        }
        out_.lines.push_back(line);
        if (chance(35) && gaps.empty() && plates) {
            plate_on(track);
        }
    }

    void lay_alone(const Track& track, const std::vector<Gap>& gaps = {}) {
        const int from = node(track.points.front(), 1);
        const int to = node(track.points.back(), 1);
        lay(track, from, to, gaps);
    }

    static std::string path_of(const std::vector<Vec2>& points) {
        std::string d;
        for (std::size_t i = 0; i < points.size(); ++i) {
            d += fmt::format("{}{:.3f},{:.3f}", i == 0 ? "M" : " ", points[i].x, points[i].y);
        }
        return d;
    }

    void stroke(const std::vector<Vec2>& points, double width, const std::string& colour) {
        body_ += fmt::format("<path d=\"{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"{:.2f}\"/>\n", path_of(points),
                             colour, width);
    }

    // --- motifs; each in a block of 460 x 460 mm, 30 mm off its rim, times the scale ---

    void tangent() {
        Track line(place(-190.0, real(-60.0, 60.0)), turn_);
        const double before = scale_ * real(110.0, 170.0);
        line.straight(before);
        const int fork = node(line.at, 3);
        Track arm(line.at, turn_);
        const double radius = scale_ * real(95.0, 230.0);
        arm.arc(radius, (chance(50) ? 1.0 : -1.0) * std::min(75.0, 150.0 / radius * 57.3 * scale_));
        Track on(line.at, turn_);
        on.straight(scale_ * 370.0 - before);
        lay(line, node(line.points.front(), 1), fork);
        lay(on, fork, node(on.at, 1), {}, false);
        lay(arm, fork, node(arm.at, 1), {}, false); // beside the line it would lie over both
    }

    void split() {
        Track stem(place(-180.0, 0.0), turn_);
        stem.straight(scale_ * real(100.0, 150.0));
        const int fork = node(stem.at, 3);
        lay(stem, node(stem.points.front(), 1), fork);
        for (const double side : {1.0, -1.0}) {
            Track arm(stem.at, turn_);
            const double radius = scale_ * real(100.0, 180.0);
            arm.arc(radius, side * std::min(85.0, 170.0 / radius * 57.3 * scale_));
            lay(arm, fork, node(arm.at, 1), {}, false);
        }
    }

    void roundabout() {
        const double radius = scale_ * real(75.0, 105.0);
        const int arms = 3 + pick(2);
        std::vector<int> forks;
        std::vector<double> angles;
        for (int i = 0; i < arms; ++i) {
            angles.push_back(turn_ + 360.0 / arms * i + real(-14.0, 14.0));
            forks.push_back(node(middle_ + radius * direction(angles.back()), 3));
        }
        for (int i = 0; i < arms; ++i) {
            const std::size_t k = static_cast<std::size_t>(i);
            const std::size_t next = static_cast<std::size_t>((i + 1) % arms);
            const double deg = std::remainder(angles[next] - angles[k] - 180.0, 360.0) + 180.0;
            Track ring(out_.nodes[static_cast<std::size_t>(forks[k])].at, angles[k] + 90.0);
            ring.arc(radius, deg);
            lay(ring, forks[k], forks[next]);
            Track out(out_.nodes[static_cast<std::size_t>(forks[k])].at, angles[k]);
            out.straight(scale_ * real(70.0, 90.0));
            lay(out, forks[k], node(out.at, 1));
        }
    }

    void star() {
        const int arms = 3 + pick(4);
        const int hub = node(place(0.0, 0.0), arms);
        for (int i = 0; i < arms; ++i) {
            Track arm(place(0.0, 0.0), turn_ + 360.0 / arms * i + real(-9.0, 9.0));
            arm.straight(scale_ * real(130.0, 185.0));
            lay(arm, hub, node(arm.at, 1));
        }
    }

    void parallel() {
        const int count = 2 + pick(2);
        const double apart = width_ / scale_ + real(7.0, 30.0);
        for (int i = 0; i < count; ++i) {
            Track line(place(-180.0, (i - 0.5 * (count - 1)) * apart), turn_);
            line.straight(scale_ * 360.0);
            lay_alone(line);
        }
    }

    void dashes() {
        Track line(place(-180.0, -40.0), turn_);
        const double on = real(1.6, 3.4) * width_;
        const double off = std::min(100.0, real(0.8, 1.6) * width_);
        if (chance(50)) {
            line.straight(scale_ * 360.0);
        } else {
            line.straight(scale_ * 60.0).arc(scale_ * real(100.0, 160.0), -real(50.0, 90.0)).straight(scale_ * 40.0);
        }
        std::vector<Gap> gaps;
        double at = on;
        for (; at + off + 0.8 * on < line.length_mm; at += on + off) {
            gaps.push_back({at, off});
        }
        lay_alone(line, gaps);
    }

    void bent_gap() {
        Track line(place(-180.0, 90.0), turn_);
        const double radius = scale_ * real(45.0, 160.0);
        const double deg = std::min(170.0, real(70.0, 130.0));
        line.straight(scale_ * 110.0).arc(radius, deg).straight(scale_ * 60.0);
        const double bend = radius * to_radians(deg);
        const double gap = std::min({real(22.0, 100.0), 0.6 * bend, radius * to_radians(60.0)});
        if (width_ * 0.6 < gap) {
            lay_alone(line, {{scale_ * 110.0 + real(0.1, 0.9) * (bend - gap), gap}});
        } else {
            lay_alone(line);
        }
    }

    void bends() {
        Track line(place(-185.0, 60.0), turn_);
        double radius = scale_ * real(24.0, 70.0);
        double deg = real(40.0, 95.0);
        if (chance(40)) {
            radius = std::min(700.0, scale_ * real(200.0, 700.0));
            deg = std::min(70.0, 240.0 * scale_ / radius * 57.3);
        }
        line.straight(scale_ * real(70.0, 100.0)).arc(radius, deg).straight(scale_ * real(70.0, 100.0));
        if (chance(50) && radius < 100.0 * scale_) {
            line.arc(scale_ * real(80.0, 120.0), -real(30.0, 60.0)).straight(scale_ * 30.0);
        }
        lay_alone(line);
    }

    void loop() {
        const double radius = scale_ * real(80.0, 180.0);
        Track ring(middle_ + radius * direction(turn_), turn_ + 90.0);
        ring.arc(radius, 360.0);
        ring.points.pop_back();
        Tape tape;
        tape.path = ring.points;
        tape.closed = true;
        body_ += fmt::format("<path d=\"{} Z\" fill=\"none\" stroke=\"{}\" stroke-width=\"{:.2f}\"/>\n",
                             path_of(ring.points), line_, width_);
        out_.lines.push_back({-1, -1, length_of(tape), radius, {}});
        if (chance(50)) {
            plate_on(ring);
        }
    }

    void near_fork() {
        Track line(place(-190.0, 120.0), turn_);
        line.straight(scale_ * real(150.0, 220.0));
        const int fork = node(line.at, 3);
        Track on(line.at, turn_);
        on.straight(scale_ * 130.0);
        Track arm(line.at, turn_ + 90.0);
        arm.straight(scale_ * real(8.0, 50.0) + 0.5 * width_)
            .arc(scale_ * real(45.0, 80.0), (chance(50) ? 1.0 : -1.0) * real(40.0, 88.0))
            .straight(scale_ * real(40.0, 70.0));
        lay(line, node(line.points.front(), 1), fork);
        lay(on, fork, node(on.at, 1));
        lay(arm, fork, node(arm.at, 1));
    }

    void cross() {
        const int hub = node(place(0.0, 0.0), 4);
        const double angle = real(48.0, 132.0);
        for (const double deg : {turn_, turn_ + 180.0, turn_ + angle, turn_ + angle + 180.0}) {
            Track arm(place(0.0, 0.0), deg);
            arm.straight(scale_ * real(140.0, 185.0));
            lay(arm, hub, node(arm.at, 1));
        }
    }

    void gaps() {
        Track line(place(-190.0, real(-100.0, 100.0)), turn_);
        line.straight(scale_ * 380.0);
        const double first = std::max(0.5 * width_, real(12.0, 100.0));
        const double second = std::max(0.5 * width_, real(12.0, 90.0));
        lay_alone(line, {{scale_ * 60.0, first}, {scale_ * 60.0 + first + scale_ * real(50.0, 90.0), second}});
    }

    // --- plates and what is no line ---

    void plate_on(const Track& track) {
        const double at = real(0.35, 0.65) * track.length_mm;
        const Vec2 middle = at_length(track.points, at);
        const Vec2 d = at_length(track.points, at + 1.0) - at_length(track.points, at - 1.0);
        const double heading = to_degrees(std::atan2(-d.y, d.x));
        const bool inside = chance(30);
        const double most = track.length_mm < 150.0 * scale_ ? 0.3 * track.length_mm : 60.0;
        const double along = inside ? real(0.45, 0.75) * width_ : std::min(most, real(24.0, 46.0));
        const double across = inside ? real(0.45, 0.75) * width_ : width_ + real(4.0, 30.0);
        if (along * across < 90.0) {
            return;
        }
        const std::string& colour = plate_colours_[static_cast<std::size_t>(pick(3))];
        if (!inside && chance(25)) {
            body_ += fmt::format("<circle cx=\"{:.3f}\" cy=\"{:.3f}\" r=\"{:.2f}\" fill=\"{}\"/>\n", middle.x, middle.y,
                                 0.5 * std::max(across, along), colour);
        } else {
            body_ += fmt::format("<rect x=\"{:.2f}\" y=\"{:.2f}\" width=\"{:.2f}\" height=\"{:.2f}\" fill=\"{}\" "
                                 "transform=\"translate({:.3f} {:.3f}) rotate({:.2f})\"/>\n",
                                 -0.5 * along, -0.5 * across, along, across, colour, middle.x, middle.y, -heading);
        }
        out_.plates.push_back(middle);
    }

    void clutter() {
        out_.kinds += ", clutter";
        for (const Vec2 corner : {Vec2{-105.0, -105.0}, {105.0, -105.0}, {-105.0, 105.0}, {105.0, 105.0}}) {
            turn_ = chance(50) ? 0.0 : real(0.0, 360.0);
            const Vec2 at = middle_ + scale_ * corner;
            switch (pick(7)) {
            case 0: lettering(at); break;
            case 1: box(at, true); break;
            case 2: box(at, false); break;
            case 3: grating(at); break;
            case 4: tank(at); break;
            case 5: arrow(at); break;
            default: plate_beside(at); break;
            }
        }
    }

    std::string thing_colour() {
        const std::string greys[] = {"#55504A", "#7A756C", "#8A6F4D"};
        return chance(55) ? line_ : greys[pick(3)];
    }

    void lettering(Vec2 at) {
        static const std::vector<std::vector<std::vector<Vec2>>> glyphs = {
            {{{0, 10}, {0, 0}, {6, 0}}, {{0, 5}, {5, 5}}},                  // F
            {{{6, 0}, {0, 0}, {0, 10}, {6, 10}}, {{0, 5}, {5, 5}}},         // E
            {{{0, 10}, {0, 0}, {6, 0}, {6, 5}, {0, 5}}, {{3, 5}, {6, 10}}}, // R
            {{{0, 10}, {0, 0}, {6, 10}, {6, 0}}},                           // N
            {{{0, 0}, {6, 0}, {6, 5}, {1, 5}, {6, 5}, {6, 10}, {0, 10}}},   // 3
            {{{3, 0}, {3, 10}}},                                            // I
            {{{0, 0}, {0, 10}, {6, 10}}},                                   // L
            {{{0, 0}, {6, 0}}, {{3, 0}, {3, 10}}},                          // T
            {{{0, 0}, {6, 0}, {6, 10}, {0, 10}, {0, 0}}},                   // O
            {{{0, 10}, {3, 0}, {6, 10}}, {{1, 7}, {5, 7}}},                 // A
        };
        // As heavy as the line, now and then.
        const bool heavy = chance(30);
        const double bold = real(0.09, 0.2);
        const double high = std::min(heavy ? real(0.75, 1.3) * width_ / bold : real(14.0, 60.0), 85.0 * scale_);
        const double weight = heavy ? bold * high : std::min(bold * high, 0.6 * width_);
        const std::string colour = thing_colour();
        const int letters = std::min(2 + pick(5), static_cast<int>(170.0 * scale_ / high));
        for (int i = 0; i < letters; ++i) {
            const auto& glyph = glyphs[static_cast<std::size_t>(pick(static_cast<int>(glyphs.size())))];
            for (const std::vector<Vec2>& part : glyph) {
                std::vector<Vec2> points;
                for (const Vec2 p : part) {
                    const Vec2 in_word{(p.x / 10.0 + 0.9 * (i - 0.5 * letters)) * high, (p.y / 10.0 - 0.5) * high};
                    points.push_back(at + in_word.x * direction(turn_) + in_word.y * direction(turn_ - 90.0));
                }
                stroke(points, weight, colour);
            }
        }
    }

    std::vector<Vec2> corners(Vec2 at, double wide, double high) const {
        std::vector<Vec2> list;
        for (const Vec2 p : {Vec2{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}}) {
            list.push_back(at + (p.x * wide) * direction(turn_) + (p.y * high) * direction(turn_ - 90.0));
        }
        return list;
    }

    void box(Vec2 at, bool filled) {
        const double wide = scale_ * real(60.0, 160.0);
        const double high = scale_ * real(55.0, 100.0);
        const std::string d = path_of(corners(at, wide, high)) + " Z";
        const double rim = std::min(real(1.5, 6.0), 0.55 * width_);
        body_ += filled ? fmt::format("<path d=\"{}\" fill=\"{}\"/>\n", d, thing_colour())
                        : fmt::format("<path d=\"{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"{:.2f}\"/>\n", d,
                                      thing_colour(), rim);
    }

    void grating(Vec2 at) {
        const double bar = std::min(real(2.5, 6.0), 0.55 * width_);
        const double pitch = bar * real(1.7, 2.6);
        const double wide = scale_ * real(60.0, 150.0);
        const std::string colour = thing_colour();
        for (double y = -45.0 * scale_; y < 45.0 * scale_; y += pitch) {
            const Vec2 middle = at + y * direction(turn_ - 90.0);
            stroke({middle - (0.5 * wide) * direction(turn_), middle + (0.5 * wide) * direction(turn_)}, bar, colour);
        }
    }

    void tank(Vec2 at) {
        const double radius = scale_ * real(38.0, 85.0);
        const std::string colour = thing_colour();
        if (chance(50)) {
            body_ += fmt::format("<circle cx=\"{:.2f}\" cy=\"{:.2f}\" r=\"{:.2f}\" fill=\"{}\"/>\n", at.x, at.y, radius,
                                 colour);
        } else {
            body_ += fmt::format("<circle cx=\"{:.2f}\" cy=\"{:.2f}\" r=\"{:.2f}\" fill=\"none\" stroke=\"{}\" "
                                 "stroke-width=\"{:.2f}\"/>\n",
                                 at.x, at.y, radius, colour, std::min(real(2.0, 6.0), 0.55 * width_));
        }
    }

    void arrow(Vec2 at) {
        const double weight = std::min(real(1.5, 4.0), 0.5 * width_);
        const double half = scale_ * real(30.0, 70.0);
        const Vec2 along = direction(turn_);
        const Vec2 across = direction(turn_ + 90.0);
        const Vec2 tip = at + half * along;
        stroke({at - half * along, tip}, weight, line_);
        body_ += fmt::format(
            "<path d=\"{} Z\" fill=\"{}\"/>\n",
            path_of({tip + 4.0 * weight * along, tip + 2.0 * weight * across, tip - 2.0 * weight * across}), line_);
    }

    void plate_beside(Vec2 at) {
        const double wide = real(24.0, 60.0);
        const double high = real(24.0, 60.0);
        body_ += fmt::format("<path d=\"{} Z\" fill=\"{}\"/>\n", path_of(corners(at, wide, high)),
                             plate_colours_[static_cast<std::size_t>(pick(3))]);
        out_.plates.push_back(at);
    }

    void finish(double wide, double high) {
        wide = std::round(wide); // so that a picture of it has whole pixels
        high = std::round(high);
        out_.board_mm = {wide, high};
        const std::string& floor = dark_floor_ ? dark_ : light_;
        // What was drawn as "line" gets its colour now, when the floor's is known.
        std::string text = fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.2f}mm\" "
                                       "height=\"{1:.2f}mm\" viewBox=\"0 0 {0:.2f} {1:.2f}\">\n"
                                       "<rect width=\"{0:.2f}\" height=\"{1:.2f}\" fill=\"{2}\"/>\n",
                                       wide, high, floor);
        std::string body = body_;
        const std::string& colour = dark_floor_ ? light_ : dark_;
        for (std::size_t at = body.find(line_); at != std::string::npos; at = body.find(line_, at + 1)) {
            body.replace(at, line_.size(), colour);
        }
        out_.svg = text + body + "</svg>\n";
        out_.sheet = fmt::format("name = \"mixed\"\ndrawing = \"d.svg\"\n[palette]\namber = \"{}\"\nteal = \"{}\"\n"
                                 "magenta = \"{}\"\n",
                                 plate_colours_[0], plate_colours_[1], plate_colours_[2]);
        const std::string given = fmt::format("floor = \"{}\"\nline = {{ colour = \"{}\"{} }}\n", floor, colour,
                                              chance(50) ? fmt::format(", width_mm = {}", width_) : "");
        if (!chance(30)) {
            out_.sheet.insert(out_.sheet.find("[palette]"), given);
        }
    }

    std::mt19937 random_;
    MixedCourse out_;
    double width_ = 19.0;
    double scale_ = 1.0;
    bool dark_floor_ = false;
    Vec2 middle_;
    double turn_ = 0.0;
    std::string body_;
    std::string line_ = "LINE";
    std::string light_ = "#EFECE4";
    std::string dark_ = "#23211F";
    std::vector<std::string> plate_colours_ = {"#E69A17", "#148C82", "#C23A86"};
};

} // namespace

Vec2 at_length(const std::vector<Vec2>& points, double mm) {
    for (std::size_t i = 1; i < points.size(); ++i) {
        const double step = length(points[i] - points[i - 1]);
        if (mm <= step) {
            return points[i - 1] + (mm / step) * (points[i] - points[i - 1]);
        }
        mm -= step;
    }
    return points.back();
}

MixedCourse mixed_course(std::uint32_t seed, const std::string& kind) { return Maker(seed).run(kind); }

} // namespace fixtures
