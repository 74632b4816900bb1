#include "support/foreign.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "vast_turn/paint/surface.hpp"
#include "vast_turn/plan/mind.hpp"

namespace foreign {

using namespace vast_turn;

namespace {

class Dice {
public:
    explicit Dice(unsigned seed) : random_(seed) {}
    double between(double low, double high) {
        return low + (high - low) * (static_cast<double>(random_()) / 4294967296.0);
    }
    int whole(int low, int high) { return low + static_cast<int>(random_() % static_cast<unsigned>(high - low + 1)); }
    bool chance(double part) { return between(0.0, 1.0) < part; }

private:
    std::mt19937 random_;
};

Robot any_robot(Dice& dice) {
    Robot robot;
    robot.name = "other";
    const int sensors = dice.chance(0.12) ? 1 : dice.whole(2, 5);
    robot.track_mm = dice.between(80.0, 150.0);
    robot.wheel_mm = dice.between(32.0, 68.0);
    robot.top_speed_mm_s = dice.between(260.0, 620.0);
    robot.look_ms = dice.whole(4, 24);
    robot.delay_ms = dice.whole(0, 45);
    robot.motors.lag_ms = dice.between(10.0, 110.0);
    robot.motors.dead_band_pct = dice.between(0.0, 8.0);
    robot.motors.left.gain = dice.between(0.94, 1.0);
    robot.motors.right.gain = dice.between(0.94, 1.0);
    const double spacing = sensors == 2 ? dice.between(22.0, 38.0) : dice.between(8.0, 17.0);
    const double ahead = dice.between(30.0, 90.0);
    const double spot = dice.between(4.0, 9.0);
    const double noise = dice.between(0.0, 14.0);
    for (int i = 0; i < sensors; ++i) {
        LineSensor sensor;
        sensor.at_mm = {ahead, (0.5 * (sensors - 1) - i) * spacing};
        sensor.spot_mm = spot;
        sensor.noise = noise;
        robot.sensors.push_back(sensor);
    }
    robot.colour_sensors.push_back(
        {"nose", {ahead + dice.between(6.0, 22.0), 0.0}, 8.0, 4095, dice.between(0.0, 50.0)});
    return robot;
}

/// Lays straights, arcs and corners one behind the other.
class LineMaker {
public:
    explicit LineMaker(Dice& dice) : dice_(dice) {}

    bool make(Line& line) {
        at_ = {dice_.between(180.0, 500.0), dice_.between(300.0, 1500.0)};
        heading_ = dice_.between(-20.0, 20.0);
        line_ = &line;
        line.path = {at_};
        straight(dice_.between(330.0, 600.0), true);
        const int bends = dice_.whole(1, 4);
        for (int i = 0; i < bends; ++i) {
            bend();
            straight(dice_.between(180.0, 520.0), true);
        }
        measure();
        return fits();
    }

private:
    void straight(double size, bool furnished) {
        const double begin = way_;
        const int points = static_cast<int>(size / 2.0) + 1;
        for (int i = 1; i <= points; ++i) {
            line_->path.push_back(at_ + (size * i / points) * direction(heading_));
        }
        at_ = line_->path.back();
        way_ += size;
        if (!furnished || size < 300.0 || line_->path.size() < 200) {
            return;
        }
        if (dice_.chance(0.3)) {
            const double gap = std::exp(dice_.between(std::log(12.0), std::log(180.0)));
            if (gap < size - 140.0) {
                line_->gaps.push_back({begin + 0.5 * (size - gap), begin + 0.5 * (size + gap)});
            }
        } else if (dice_.chance(0.6)) {
            const double plate = dice_.between(6.0, 42.0);
            line_->plates.push_back({begin + 0.5 * (size - plate), begin + 0.5 * (size + plate)});
        }
    }

    void bend() {
        const double side = dice_.chance(0.5) ? 1.0 : -1.0;
        const double begin = way_;
        if (dice_.chance(0.25)) {
            heading_ += side * dice_.between(25.0, 105.0);
        } else {
            const double turn = dice_.between(25.0, 170.0);
            const double radius = std::exp(dice_.between(std::log(18.0), std::log(280.0)));
            const int steps = std::max(3, static_cast<int>(radius * to_radians(turn) / 1.5));
            for (int i = 0; i < steps; ++i) {
                const double chord = 2.0 * radius * std::sin(0.5 * to_radians(turn) / steps);
                heading_ += side * 0.5 * turn / steps;
                at_ = at_ + chord * direction(heading_);
                heading_ += side * 0.5 * turn / steps;
                line_->path.push_back(at_);
                way_ += chord;
            }
        }
        line_->bends.push_back({begin, way_});
    }

    void measure() {
        line_->along.assign(line_->path.size(), 0.0);
        for (std::size_t i = 1; i < line_->path.size(); ++i) {
            line_->along[i] = line_->along[i - 1] + length(line_->path[i] - line_->path[i - 1]);
        }
    }

    /// On the board, and nowhere near itself.
    bool fits() const {
        const std::vector<Vec2>& path = line_->path;
        for (std::size_t i = 0; i < path.size(); i += 6) {
            if (path[i].x < 150.0 || path[i].y < 150.0 || path[i].x > 2650.0 || path[i].y > 1850.0) {
                return false;
            }
            for (std::size_t k = i + 6; k < path.size(); k += 6) {
                if (line_->along[k] - line_->along[i] > 330.0 && length(path[k] - path[i]) < 190.0) {
                    return false;
                }
            }
        }
        return true;
    }

    Dice& dice_;
    Line* line_ = nullptr;
    Vec2 at_;
    double heading_ = 0.0;
    double way_ = 0.0;
};

Course course_of(Dice& dice, const Robot& robot, const Line& line) {
    Course course;
    course.name = "others";
    course.width_mm = 2800.0;
    course.height_mm = 2000.0;
    course.palette = {{"amber", Rgb{230, 154, 23}}, {"teal", Rgb{15, 128, 131}}};
    Tape tape;
    tape.path = line.path;
    tape.width_mm = robot.sensors.size() == 2 ? dice.between(13.0, 20.0) : dice.between(15.0, 26.0);
    for (const Line::Piece& gap : line.gaps) {
        tape.gaps.push_back({gap.from_mm, gap.to_mm - gap.from_mm});
    }
    course.tapes = {tape};
    for (const Line::Piece& plate : line.plates) {
        Marker marker;
        marker.colour = "amber";
        marker.rgb = course.palette["amber"];
        const auto at = static_cast<std::size_t>(
            std::lower_bound(line.along.begin(), line.along.end(), 0.5 * (plate.from_mm + plate.to_mm)) -
            line.along.begin());
        const Vec2 way = line.path[at] - line.path[at - 1];
        marker.at = line.path[at];
        marker.length_mm = plate.to_mm - plate.from_mm;
        marker.across_mm = dice.between(34.0, 60.0);
        marker.heading_deg = to_degrees(std::atan2(-way.y, way.x));
        course.markers.push_back(marker);
    }
    const Vec2 way = line.path[1] - line.path[0];
    const double heading = to_degrees(std::atan2(-way.y, way.x));
    const double aside = dice.chance(0.35) ? dice.between(-32.0, 32.0) : dice.between(-4.0, 4.0);
    const Vec2 ahead = direction(heading);
    course.starts.push_back({"door", {line.path[0] + 35.0 * ahead + aside * Vec2{ahead.y, -ahead.x}, heading}});
    paint_surface(course, 1.0);
    return course;
}

/// What a plan of some style does; powers in percent.
class PlanMaker {
public:
    PlanMaker(Dice& dice, const Robot& robot, bool plates)
        : dice_(dice), n_(static_cast<int>(robot.sensors.size())), speed_(dice.between(22.0, 62.0)), plates_(plates) {}

    std::string make() {
        head_ = fmt::format("plan \"other\"\nsensors {}\n", n_);
        if (plates_ && dice_.chance(0.9)) {
            knows_plates_ = true;
            head_ += "markers amber\n";
        }
        begin();
        plate_rule();
        lost_rule();
        following();
        std::string text = head_ + "\n" + before_ + "habit follow {\n" + rules_ + "}\n" + after_;
        return text;
    }

private:
    static std::string marks(int n, int lit, char other) {
        std::string text(static_cast<std::size_t>(n), other);
        text[static_cast<std::size_t>(lit)] = '#';
        return text;
    }

    void begin() {
        const int way = dice_.whole(0, 9);
        if (way == 0) {
            before_ = fmt::format("errand begin {{\n    ahead({:.0f}) over {:.0f}mm\n    become follow\n}}\n\n", speed_,
                                  dice_.between(20.0, 90.0));
        } else if (way == 1) {
            before_ = "errand begin {\n    still till button\n    become follow\n}\n\n";
        }
    }

    void plate_rule() {
        if (!knows_plates_) {
            return;
        }
        switch (dice_.whole(0, 5)) {
        case 0: head_ += "guard fresh amber -> note(\"amber\")\n"; break;
        case 1: rules_ += fmt::format("    amber -> note(\"amber\"), ahead({:.0f})\n", speed_); break;
        case 2:
            rules_ += fmt::format("    amber lasting {} looks -> note(\"amber\"), ahead({:.0f})\n", dice_.whole(2, 6),
                                  speed_);
            break;
        case 3:
            rules_ += fmt::format("    amber lasting {:.0f}ms -> note(\"amber\"), ahead({:.0f})\n",
                                  dice_.between(15.0, 160.0), speed_);
            break;
        case 4:
            rules_ += "    fresh amber -> do pass\n";
            after_ += fmt::format("\nerrand pass {{\n    note(\"amber\")\n    ahead({:.0f}) over {:.0f}mm\n}}\n",
                                  speed_, dice_.between(20.0, 60.0));
            break;
        default: head_ += fmt::format("guard fresh (amber lasting {} looks) -> note(\"amber\")\n", dice_.whole(2, 3));
        }
    }

    void lost_rule() {
        if (n_ < 3) {
            return;
        }
        const std::string nothing(static_cast<std::size_t>(n_), '.');
        const int looks = dice_.whole(2, 40);
        switch (dice_.whole(0, 9)) {
        case 0: rules_ += fmt::format("    [{}] -> keep\n", nothing); break;
        case 1: rules_ += fmt::format("    [{}] lasting {} looks -> do search\n", nothing, looks); break;
        case 2:
            rules_ += fmt::format("    seen == 0 lasting {:.0f}ms -> do search\n", dice_.between(20.0, 500.0));
            break;
        case 3: rules_ += fmt::format("    (seen < 1 and not button) lasting {} looks -> do search\n", looks); break;
        case 4:
            rules_ += fmt::format("    [{}] lasting {} looks -> note(\"search\"), rotate(last_side, {:.0f})\n", nothing,
                                  looks, dice_.between(20.0, 50.0));
            break;
        case 5:
            rules_ += fmt::format("    seen == 0 -> note(\"search\"), bend({:.0f} * last_side, {:.0f})\n",
                                  dice_.between(15.0, 60.0), speed_ * 0.6);
            break;
        case 6: rules_ += fmt::format("    [{}] lasting {} looks -> note(\"search\"), halt\n", nothing, looks); break;
        case 7: rules_ += fmt::format("    [{}] -> ahead({:.0f})\n", nothing, speed_); break;
        case 8: rules_ += fmt::format("    seen < 1 lasting {} looks -> become seek\n", looks); break;
        default: return;
        }
        if (rules_.find("do search") != std::string::npos) {
            search();
        }
        if (rules_.find("seek") != std::string::npos) {
            after_ += fmt::format(
                "\nhabit seek {{\n    guard seen > 0 -> become follow\n    elapsed < 20ms -> note(\"search\"), "
                "rotate(last_side, {0:.0f})\n    elapsed < {1:.0f}ms -> rotate(last_side, {0:.0f})\n"
                "    else -> rotate(-last_side, {0:.0f})\n}}\n",
                dice_.between(18.0, 45.0), dice_.between(300.0, 1400.0));
        }
    }

    void search() {
        const double power = dice_.between(18.0, 45.0);
        after_ += "\nerrand search {\n    guard seen > 0 -> done\n";
        if (dice_.chance(0.4)) {
            after_ += fmt::format("    ahead({:.0f}) over {:.0f}mm\n", speed_, dice_.between(10.0, 70.0));
        }
        after_ += "    note(\"search\")\n";
        if (dice_.chance(0.5)) {
            after_ +=
                fmt::format("    rotate(last_side, {0:.0f}) over {1:.0f}deg\n    rotate(-last_side, {0:.0f}) over "
                            "{2:.0f}deg\n",
                            power, dice_.between(30.0, 110.0), dice_.between(90.0, 220.0));
        } else {
            after_ += fmt::format("    loop 4 widening 1.5 {{\n        rotate(last_side, {0:.0f}) over 35deg\n        "
                                  "ahead({0:.0f}) over 30mm\n    }}\n",
                                  power);
        }
        after_ += "}\n";
    }

    void following() {
        const double hard = dice_.between(4.0, 48.0);
        const double soft = hard * dice_.between(0.25, 0.7);
        if (n_ == 1) {
            const bool right = dice_.chance(0.5);
            rules_ += fmt::format("    [#] -> bend({:.1f}, {:.1f})\n    [.] -> bend({:.1f}, {:.1f})\n",
                                  right ? -hard : hard, speed_, right ? hard : -hard, speed_);
            return;
        }
        if (n_ == 2) {
            rules_ += fmt::format("    [#.] mirrored -> bend({:.1f}, {:.1f})\n", hard, speed_);
            rules_ += fmt::format("    [..] -> ahead({:.1f})\n", speed_);
            if (dice_.chance(0.6)) {
                rules_ += "    else -> keep\n";
            }
            return;
        }
        const int style = dice_.whole(0, 3);
        if (style == 0) { // proportional, or with the rest of a pid
            const double gain = std::exp(dice_.between(std::log(6.0), std::log(90.0)));
            const double damp = dice_.chance(0.5) ? 0.0 : dice_.between(0.2, 6.0);
            const double sum = dice_.chance(0.8) ? 0.0 : dice_.between(1.0, 30.0);
            rules_ += damp > 0.0 || sum > 0.0
                          ? fmt::format("    else -> bend(pid(offset, {:.1f}, {:.1f}, {:.2f}), {:.1f})\n", gain, sum,
                                        damp, speed_)
                          : fmt::format("    else -> wheels({1:.1f} - {0:.1f} * offset, {1:.1f} + {0:.1f} * offset)\n",
                                        gain, speed_);
            return;
        }
        const char other = style == 1 ? '?' : '.';
        for (int k = 0; k < n_ / 2; ++k) { // harder, the farther out
            const double part = n_ < 4 ? 1.0 : static_cast<double>(k) / (n_ / 2 - 1);
            const double turn = hard + (soft - hard) * (n_ < 4 ? 0.0 : part);
            if (other == '.' && k + 1 < n_ && dice_.chance(0.85)) {
                std::string two = marks(n_, k, other);
                two[static_cast<std::size_t>(k + 1)] = '#';
                if (two[static_cast<std::size_t>(n_ - 1 - k)] == '.' || n_ % 2 == 1) {
                    rules_ += fmt::format("    [{}] mirrored -> bend({:.1f}, {:.1f})\n", two, 0.8 * turn, speed_);
                }
            }
            rules_ += fmt::format("    [{}] mirrored -> bend({:.1f}, {:.1f})\n", marks(n_, k, other), turn,
                                  dice_.chance(0.3) ? speed_ * 0.7 : speed_);
        }
        if (n_ % 2 == 1) {
            rules_ += fmt::format("    [{}] -> ahead({:.1f})\n", marks(n_, n_ / 2, other), speed_);
        } else if (dice_.chance(0.9)) {
            std::string two = marks(n_, n_ / 2 - 1, other);
            two[static_cast<std::size_t>(n_ / 2)] = '#';
            rules_ += fmt::format("    [{}] -> ahead({:.1f})\n", two, speed_);
        }
        if (dice_.chance(0.55)) {
            rules_ += "    else -> keep\n";
        }
    }

    Dice& dice_;
    int n_;
    double speed_;
    bool plates_;
    bool knows_plates_ = false;
    std::string head_;
    std::string before_;
    std::string rules_;
    std::string after_;
};

Vec2 array_middle_at(const Scene& scene, const LookRecord& look) {
    return from_robot(look.at, direction(static_cast<double>(look.heading_deg)), scene.array_middle());
}

/// Follows the array along the line it was made from.
struct Progress {
    std::vector<double> along;
    std::vector<double> away;
};

Progress progress_of(const World& world, const Scene& scene, const Run& run) {
    const Line& line = world.line;
    Progress out;
    std::size_t at = 0;
    for (const LookRecord& look : run.looks) {
        const Vec2 array = array_middle_at(scene, look);
        double best = std::numeric_limits<double>::infinity();
        const std::size_t middle = at;
        const std::size_t first = middle > 90 ? middle - 90 : 0; // points are up to 2 mm apart
        const std::size_t last = std::min(line.path.size(), middle + 91);
        for (std::size_t i = first; i < last; ++i) {
            const double away = length(line.path[i] - array);
            if (away < best) {
                best = away;
                at = i;
            }
        }
        double anywhere = best;
        for (std::size_t i = 0; best > 10.0 && i < line.path.size(); ++i) {
            anywhere = std::min(anywhere, length(line.path[i] - array));
        }
        out.along.push_back(line.along[at]);
        out.away.push_back(anywhere);
    }
    return out;
}

class Judge {
public:
    Judge(const World& world, const Scene& scene, const Run& run)
        : world_(world), run_(run), progress_(progress_of(world, scene, run)) {
        reach_ = 0.5 * world.course.tapes.front().width_mm;
        double outermost = 0.0;
        for (const LineSensor& sensor : world.robot.sensors) {
            outermost = std::max(outermost, std::abs(sensor.at_mm.y) + 0.5 * sensor.spot_mm);
        }
        reach_ += outermost;
        while (looks_ < run.looks.size() && progress_.along[looks_] < world.line.along.back() - 40.0) {
            ++looks_;
        }
        for (const RunEvent& event : run.events) {
            if (event.event.kind == EventKind::note) {
                (world.plan.texts()[event.event.what] == "amber" ? ambers_ : searches_).push_back(event.t_s);
            }
        }
    }

    void into(Happened& out) const {
        out.bends += lost_at_bend() ? 1 : 0;
        double farthest = 0.0;
        for (std::size_t i = 0; i < looks_; ++i) {
            farthest = progress_.away[i] <= reach_ ? std::max(farthest, progress_.along[i]) : farthest;
        }
        const auto past = [&](const std::vector<Line::Piece>& list) {
            return !list.empty() && farthest > list.back().to_mm + 30.0;
        };
        out.past_bends = out.past_bends || past(world_.line.bends);
        out.past_gaps = out.past_gaps || past(world_.line.gaps);
        out.past_plates = out.past_plates || past(world_.line.plates);
        for (const Line::Piece& gap : world_.line.gaps) {
            gap_of(gap, out);
        }
        if (!world_.plan.markers().empty()) {
            for (const Line::Piece& plate : world_.line.plates) {
                plate_of(plate, out);
            }
        }
        out.unanswered += run_.unanswered > 0 ? 1 : 0;
    }

private:
    bool lost_at_bend() const {
        int off = 0;
        double last_on = -1e9;
        for (std::size_t i = 0; i < looks_; ++i) {
            off = progress_.away[i] > reach_ ? off + 1 : 0;
            if (off == 0) {
                last_on = progress_.along[i];
            }
            if (off == 3 && last_on < world_.line.along.back() - 40.0) {
                for (const Line::Piece& gap : world_.line.gaps) {
                    if (last_on > gap.from_mm - 20.0 && last_on < gap.to_mm + 60.0) {
                        return false; // lost for the gap, and whatever comes after
                    }
                }
                for (const Line::Piece& bend : world_.line.bends) {
                    if (last_on > bend.from_mm - 40.0 && last_on < bend.to_mm + 120.0) {
                        return true;
                    }
                }
            }
        }
        return false;
    }

    void gap_of(const Line::Piece& gap, Happened& out) const {
        std::size_t in = 0;
        while (in < looks_ && !(progress_.along[in] > gap.from_mm - 6.0 && progress_.along[in] < gap.to_mm &&
                                progress_.away[in] <= reach_)) {
            ++in;
        }
        if (in + 1 >= looks_ || run_.time_s - run_.looks[in].t_s < 1.0) {
            return;
        }
        std::size_t over = in;
        while (over < looks_ && !(progress_.along[over] > gap.to_mm + 20.0 && progress_.away[over] <= reach_ &&
                                  run_.looks[over].line_bits != 0)) {
            ++over;
        }
        const bool crossed = over < looks_;
        const double until = crossed ? run_.looks[over].t_s : run_.time_s;
        const bool searched = std::any_of(searches_.begin(), searches_.end(),
                                          [&](double t) { return t > run_.looks[in].t_s && t < until; });
        out.gaps += !crossed || searched ? 1 : 0;
    }

    void plate_of(const Line::Piece& plate, Happened& out) const {
        const double nose = world_.robot.colour_sensors.front().at_mm.x - world_.robot.sensors.front().at_mm.x;
        const double middle = 0.5 * (plate.from_mm + plate.to_mm) - nose;
        for (std::size_t i = 1; i < looks_; ++i) {
            if (progress_.along[i - 1] < middle && progress_.along[i] >= middle && progress_.away[i] < 8.0) {
                const double t = run_.looks[i].t_s;
                const double around = (0.5 * (plate.to_mm - plate.from_mm) + 40.0) / 20.0; // seconds, at a crawl
                const bool noted = std::any_of(ambers_.begin(), ambers_.end(),
                                               [&](double at) { return std::abs(at - t) < std::min(around, 1.0); });
                out.plates += noted ? 0 : 1;
                return;
            }
        }
    }

    const World& world_;
    const Run& run_;
    Progress progress_;
    std::size_t looks_ = 0; ///< until it has come to the end of the line: behind it there is no way to follow
    double reach_ = 0.0;
    std::vector<double> ambers_;
    std::vector<double> searches_;
};

RunOptions options_of(const World& world, const Pose& start, int drive) {
    RunOptions options;
    options.seed = static_cast<std::uint64_t>(7001 + drive);
    options.start = "door";
    const double stride = 0.4 * world.robot.top_speed_mm_s * world.robot.look_ms / 1000.0;
    options.pose = start;
    options.pose->at = start.at - (stride * (drive + 0.4) / 5.0) * direction(start.heading_deg);
    options.time_limit_s = 40.0;
    options.button_s = {{0.0, 0.35}};
    return options;
}

} // namespace

World make_world(unsigned number) {
    Dice dice(591'000 + number);
    Robot robot = any_robot(dice);
    Line line;
    while (true) {
        Line tried;
        if (LineMaker(dice).make(tried)) {
            line = std::move(tried);
            break;
        }
    }
    Course course = course_of(dice, robot, line);
    std::string text = PlanMaker(dice, robot, !line.plates.empty()).make();
    Plan plan = fixtures::compiled(text);
    return {std::move(robot), std::move(course), std::move(line), std::move(text), std::move(plan)};
}

Happened drive_world(const World& world, int drives) {
    Happened out;
    const Scene scene(world.course, world.robot);
    for (int i = 0; i < drives; ++i) {
        std::vector<bool> open;
        Mind mind(world.plan);
        const Decide decide([&](const Look& in, Answer& answer) {
            mind(in, answer);
            bool unanswered = false;
            for (int k = 0; k < answer.events; ++k) {
                unanswered = unanswered || answer.event[k].kind == EventKind::unanswered;
            }
            open.push_back(unanswered);
        });
        const Run run = drive(scene, world.plan, decide, options_of(world, world.course.starts.front().pose, i));
        Judge(world, scene, run).into(out);
        for (std::size_t k = 0; k < run.looks.size(); ++k) {
            if (run.looks[k].left_pct != 0.0F || run.looks[k].right_pct != 0.0F) {
                break;
            }
            if (open[k]) {
                ++out.start;
                break;
            }
        }
    }
    return out;
}

double swing_of(const World& world) {
    Course aisle;
    aisle.name = "aisle";
    aisle.width_mm = 3300.0;
    aisle.height_mm = 500.0;
    aisle.palette = world.course.palette;
    Tape tape;
    tape.path = {{30.0, 250.0}, {3270.0, 250.0}};
    tape.width_mm = world.course.tapes.front().width_mm;
    aisle.tapes = {tape};
    paint_surface(aisle, 1.0);
    const Scene scene(aisle, world.robot);
    RunOptions options = options_of(world, {{120.0, 254.0}, 1.5}, 3);
    const Run run = drive(scene, world.plan, options);
    std::vector<double> y;
    bool saw = false;
    int off = 0;
    int crossed = 0;
    double before = 250.0;
    for (const LookRecord& look : run.looks) {
        const Vec2 array = array_middle_at(scene, look);
        saw = saw || look.line_bits != 0;
        crossed += (array.y - 250.0) * (before - 250.0) < 0.0 ? 1 : 0;
        before = array.y;
        off = std::abs(array.y - 250.0) > scene.array_outermost_mm() + 0.5 * tape.width_mm ? off + 1 : 0;
        if (array.x > 3200.0) {
            break; // what it does behind the end of the line is another matter
        }
        if (saw && off >= 3) {
            return crossed > 1 ? std::numeric_limits<double>::infinity() : -1.0;
        }
        if (array.x > 1350.0 && array.x < 3100.0) {
            y.push_back(array.y);
        }
    }
    if (y.size() < 20) {
        return -1.0;
    }
    double mean = 0.0;
    for (const double v : y) {
        mean += v / static_cast<double>(y.size());
    }
    // The farthest point between two crossings of the middle.
    double sum = 0.0;
    int peaks = 0;
    double farthest = 0.0;
    for (std::size_t i = 1; i < y.size(); ++i) {
        farthest = std::max(farthest, std::abs(y[i] - mean));
        if ((y[i] - mean) * (y[i - 1] - mean) < 0.0) {
            if (farthest > 0.4) {
                sum += farthest;
                ++peaks;
            }
            farthest = 0.0;
        }
    }
    return peaks > 1 ? sum / peaks : farthest;
}

} // namespace foreign
