#include "vast_turn/recorded/log_way.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <deque>
#include <numbers>

#include <fmt/format.h>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/robot/wheel_speeds.hpp"

namespace vast_turn {

namespace {

constexpr double rad = std::numbers::pi / 180.0;

/// How the guesses err. As parts of what is moved; a little more than robots do, since a guess that errs too little is
/// lost where the robot slips.
constexpr double wheel_error = 0.02;  ///< of each wheel's size, the whole run through
constexpr double track_error = 0.04;  ///< of the track
constexpr double gyro_error = 0.01;   ///< of the gyro's scale
constexpr double power_error = 0.08;  ///< of each motor's speed, where only powers are known
constexpr double way_noise = 0.03;    ///< of each look's way
constexpr double turn_noise = 0.04;   ///< of each look's turn
constexpr double any_way_mm = 0.04;   ///< and so much at each look
constexpr double wander_rad = 0.0007; ///< by the root of each millimetre
constexpr double rough_mm = 0.8;      ///< what copies of a guess differ by
constexpr double rough_rad = 0.004;
constexpr double rough_part = 0.002;
/// How far a reading may be from the map's, 0..1, and what a wilder one costs at most.
constexpr double reading_off = 0.16;
constexpr double most_off = 3.0;
/// A second in which less than this of what is seen is so on the map is none on this way.
constexpr double least_alike = 0.7;
/// Looks for which all guesses are kept, at most.
constexpr std::size_t longest_open = 1500;

/// As direction() has it: y goes down the board.
Vec2 ahead_of(double heading_rad) { return {std::cos(heading_rad), -std::sin(heading_rad)}; }

/// One guess.
struct Guess {
    Vec2 at;
    double heading_rad = 0.0;
    double left = 1.0; ///< times what each wheel seems to go
    double right = 1.0;
    double turn = 1.0;      ///< times what it seems to turn
    double left_mm_s = 0.0; ///< where only powers are known
    double right_mm_s = 0.0;
};

/// What moved between two looks, as the log has it.
struct Step {
    double left_mm = 0.0;
    double right_mm = 0.0;
    double turned_rad = 0.0; ///< by the gyro
    double s = 0.0;
};

/// Standard normal numbers in a row.
class Chance {
public:
    explicit Chance(std::uint64_t seed) : seed_(seed) {}

    double normal() {
        if (at_ == draw_.size()) {
            draw_ = random_draw(seed_, Stream::log_way, index_++);
            at_ = 0;
        }
        return NormalQuantile::table()(draw_[at_++]);
    }
    double uniform() {
        const Draw draw = random_draw(seed_, Stream::log_way, index_++);
        return (draw[0] + draw[1] / 65536.0) / 65536.0;
    }

private:
    std::uint64_t seed_;
    std::uint64_t index_ = 0;
    Draw draw_{};
    std::size_t at_ = std::tuple_size_v<Draw>;
};

/// What a sensor would read on the map.
class SeenOnMap {
public:
    explicit SeenOnMap(const Scene& scene) : scene_(scene), channels_(channels_of(scene.robot(), {})) {}

    double reading(std::size_t k, Vec2 at, Vec2 ahead) const {
        const SpotMap& map = scene_.seen_by(k);
        const double light = SpotMap::value(map.locate(from_robot(at, ahead, scene_.robot().sensors[k].at_mm)));
        const SensorLevels& levels = scene_.own_calibration().sensors[k];
        const double apart = levels.line_counts - levels.floor_counts;
        const double share = std::abs(apart) > 0.0 ? (channels_[k].counts(light) - levels.floor_counts) / apart : 0.0;
        return std::clamp(share, 0.0, 1.0);
    }

private:
    const Scene& scene_;
    std::vector<Channel> channels_;
};

bool any_of(const std::vector<LoggedLook>& log, double Look::*field) {
    return std::any_of(log.begin(), log.end(), [&](const LoggedLook& one) { return std::abs(one.look.*field) > 0.0; });
}

WayBy way_by(const Robot& robot, const std::vector<LoggedLook>& log) {
    const bool wheels = any_of(log, &Look::left_deg) || any_of(log, &Look::right_deg);
    const bool gyro = robot.gyro.fitted && any_of(log, &Look::heading_by_gyro_deg);
    if (wheels) {
        return gyro ? WayBy::wheels_and_gyro : WayBy::wheels;
    }
    const bool powers =
        std::any_of(log.begin(), log.end(), [](const LoggedLook& one) { return one.left_pct && one.right_pct; });
    if (!powers) {
        throw InputError("", "the log tells neither of wheels nor of powers, so there is no way in it",
                         "log left_deg and right_deg, or left_pct and right_pct");
    }
    return WayBy::powers;
}

/// One start tried.
class WayFilter {
public:
    WayFilter(const Scene& scene, const std::vector<LoggedLook>& log, const LogWayOptions& options, WayBy by,
              double errs)
        : robot_(scene.robot()), log_(log), options_(options), by_(by), map_(scene), errs_(errs),
          chance_(options.seed) {}

    /// All looks.
    LogWay run(const Pose& start) {
        go(start, log_.size());
        return told();
    }

    /// How likely the first looks are from there.
    double evidence_of(const Pose& start, std::size_t looks) {
        go(start, std::min(looks, log_.size()));
        return evidence_;
    }

    /// The logarithm of how likely what was seen is from there.
    double evidence() const { return evidence_; }

private:
    void go(const Pose& start, std::size_t looks) {
        begin(start);
        for (std::size_t i = 0; i < looks; ++i) {
            if (i > 0) {
                move(step_before(i));
            }
            weigh(log_[i].look);
            keep();
            resample();
            if (places_.size() >= longest_open) {
                settle();
            }
        }
    }

    void begin(const Pose& start) {
        guesses_.clear();
        for (int n = 0; n < options_.guesses; ++n) {
            Guess guess;
            guess.at = start.at + Vec2{options_.off_mm * chance_.normal(), options_.off_mm * chance_.normal()};
            guess.heading_rad = rad * (start.heading_deg + options_.off_deg * chance_.normal());
            const double wheels = errs_ * (by_ == WayBy::powers ? power_error : wheel_error);
            guess.left = 1.0 + wheels * chance_.normal();
            guess.right = 1.0 + wheels * chance_.normal();
            guess.turn = 1.0 + errs_ * (by_ == WayBy::wheels_and_gyro ? gyro_error : track_error) * chance_.normal();
            guesses_.push_back(guess);
        }
        logs_.assign(guesses_.size(), 0.0);
    }

    Step step_before(std::size_t i) const {
        const Look& now = log_[i].look;
        const Look& last = log_[i - 1].look;
        const double mm_per_deg = robot_.wheel_mm * std::numbers::pi / 360.0;
        return {(now.left_deg - last.left_deg) * mm_per_deg, (now.right_deg - last.right_deg) * mm_per_deg,
                rad * (now.heading_by_gyro_deg - last.heading_by_gyro_deg),
                std::max(0.0, now.clock_ms - last.clock_ms) / 1000.0};
    }

    /// What the motors have: powers reach them after the delay.
    WheelSpeeds targets(double now_ms) const {
        const double asked_ms = now_ms - robot_.delay_ms;
        std::size_t at = powers_at_;
        while (at + 1 < log_.size() && log_[at + 1].look.clock_ms <= asked_ms) {
            ++at;
        }
        powers_at_ = at;
        return wheel_targets(robot_, {}, log_[at].left_pct.value_or(0.0), log_[at].right_pct.value_or(0.0));
    }

    void move(const Step& step) {
        const bool by_powers = by_ == WayBy::powers;
        const WheelSpeeds target = by_powers ? targets(time_ms_) : WheelSpeeds{};
        time_ms_ += 1000.0 * step.s;
        const double lag_s = std::max(1e-4, robot_.motors.lag_ms / 1000.0);
        const double kept = std::exp(-step.s / lag_s);
        for (Guess& guess : guesses_) {
            double left = step.left_mm * guess.left;
            double right = step.right_mm * guess.right;
            if (by_powers) {
                left = rolled(guess.left_mm_s, guess.left * target.left_mm_s, step.s, lag_s, kept);
                right = rolled(guess.right_mm_s, guess.right * target.right_mm_s, step.s, lag_s, kept);
            }
            const double way = 0.5 * (left + right);
            const double size = std::abs(way) + 0.1 * std::abs(right - left);
            double turned = by_ == WayBy::wheels_and_gyro ? step.turned_rad * guess.turn
                                                          : (right - left) / robot_.skid_track_mm() * guess.turn;
            turned += errs_ * (turn_noise * std::abs(turned) * chance_.normal() +
                               wander_rad * std::sqrt(size) * chance_.normal());
            const double went = way + errs_ * (way_noise * std::abs(way) + any_way_mm) * chance_.normal();
            const double middle = guess.heading_rad + 0.5 * turned;
            guess.at = guess.at + went * ahead_of(middle);
            guess.heading_rad += turned;
        }
    }

    /// The way of a wheel whose speed follows its target, and its speed behind it.
    static double rolled(double& speed, double target, double s, double lag_s, double kept) {
        const double way = target * s + (speed - target) * lag_s * (1.0 - kept);
        speed = target + (speed - target) * kept;
        return way;
    }

    void weigh(const Look& look) {
        const std::size_t sensors = robot_.sensors.size();
        double best = -1e300;
        for (std::size_t n = 0; n < guesses_.size(); ++n) {
            const Guess& guess = guesses_[n];
            const Vec2 ahead = ahead_of(guess.heading_rad);
            double sum = 0.0;
            for (std::size_t k = 0; k < sensors; ++k) {
                const double off = (look.sensor[k] - map_.reading(k, guess.at, ahead)) / reading_off;
                sum -= 0.5 * std::min(off * off, most_off * most_off);
            }
            // What one look sees it sees in the next again, a millimetre on: neighbours are no news of their own.
            logs_[n] += 0.35 * sum;
            best = std::max(best, logs_[n]);
        }
        double total = 0.0;
        for (double& one : logs_) {
            total += std::exp(one - best);
        }
        const double level = best + std::log(total);
        evidence_ += level;
        for (double& one : logs_) {
            one -= level;
        }
    }

    /// Follows all guesses back: where they have one past in common, that is settled, and only it is kept.
    void settle() {
        std::vector<std::uint32_t> alive;
        if (parents_.empty()) {
            for (std::size_t n = 0; n < guesses_.size(); ++n) {
                alive.push_back(static_cast<std::uint32_t>(n));
            }
        } else {
            alive = parents_;
        }
        for (std::size_t i = places_.size(); i-- > 0;) {
            std::sort(alive.begin(), alive.end());
            alive.erase(std::unique(alive.begin(), alive.end()), alive.end());
            if (alive.size() == 1) {
                settle_to(i, alive.front());
                return;
            }
            for (std::uint32_t& one : alive) {
                one = from_[i][one];
            }
        }
        // They have none in common: as in a log of a robot that stands. The best one's is taken.
        settle_to(places_.size() / 2, ancestor(places_.size() / 2));
    }

    /// The number of the best guess's past in a look that is still open.
    std::uint32_t ancestor(std::size_t look) const {
        auto at = static_cast<std::uint32_t>(best_);
        for (std::size_t i = places_.size() - 1; i > look; --i) {
            at = from_[i][at];
        }
        return at;
    }

    void settle_to(std::size_t last, std::uint32_t at) {
        std::vector<std::array<float, 3>> past(last + 1);
        for (std::size_t i = last + 1; i-- > 0;) {
            past[i] = places_[i][at];
            at = from_[i][at];
        }
        settled_.insert(settled_.end(), past.begin(), past.end());
        const auto done = static_cast<std::ptrdiff_t>(last + 1);
        places_.erase(places_.begin(), places_.begin() + done);
        from_.erase(from_.begin(), from_.begin() + done);
    }

    /// A look's guesses, and of which guess of the look before each is.
    void keep() {
        best_ = static_cast<std::size_t>(std::max_element(logs_.begin(), logs_.end()) - logs_.begin());
        std::vector<std::uint32_t> parents = parents_;
        if (parents.empty()) {
            parents.resize(guesses_.size());
            for (std::size_t n = 0; n < parents.size(); ++n) {
                parents[n] = static_cast<std::uint32_t>(n);
            }
        }
        from_.push_back(std::move(parents));
        std::vector<std::array<float, 3>> places;
        places.reserve(guesses_.size());
        double weight = 0.0;
        Vec2 mean;
        for (std::size_t n = 0; n < guesses_.size(); ++n) {
            const Guess& guess = guesses_[n];
            places.push_back({static_cast<float>(guess.at.x), static_cast<float>(guess.at.y),
                              static_cast<float>(guess.heading_rad)});
            const double w = std::exp(logs_[n]);
            weight += w;
            mean = mean + w * guess.at;
        }
        mean = (1.0 / weight) * mean;
        double off = 0.0;
        for (std::size_t n = 0; n < guesses_.size(); ++n) {
            const Vec2 from = guesses_[n].at - mean;
            off += std::exp(logs_[n]) * (from.x * from.x + from.y * from.y);
        }
        spread_.push_back(std::sqrt(off / weight));
        places_.push_back(std::move(places));
    }

    /// Those that fit best several times, others not at all, when few carry all the weight.
    void resample() {
        double squares = 0.0;
        for (const double one : logs_) {
            squares += std::exp(2.0 * one);
        }
        const auto count = static_cast<double>(guesses_.size());
        if (1.0 / squares > 0.5 * count) {
            parents_.clear();
            return;
        }
        std::vector<Guess> next;
        parents_.clear();
        next.reserve(guesses_.size());
        const double from = chance_.uniform();
        double sum = 0.0;
        for (std::size_t n = 0; n < guesses_.size(); ++n) {
            sum += std::exp(logs_[n]);
            while (next.size() < guesses_.size() && (static_cast<double>(next.size()) + from) / count < sum) {
                next.push_back(roughened(guesses_[n]));
                parents_.push_back(static_cast<std::uint32_t>(n));
            }
        }
        while (next.size() < guesses_.size()) { // of rounding
            next.push_back(guesses_.back());
            parents_.push_back(static_cast<std::uint32_t>(guesses_.size() - 1));
        }
        guesses_ = std::move(next);
        std::fill(logs_.begin(), logs_.end(), -std::log(count));
    }

    /// A copy that is not quite the same, so that copies of one guess do not all share its errors.
    Guess roughened(Guess guess) {
        guess.at = guess.at + Vec2{rough_mm * chance_.normal(), rough_mm * chance_.normal()};
        guess.heading_rad += rough_rad * chance_.normal();
        guess.left += rough_part * chance_.normal();
        guess.right += rough_part * chance_.normal();
        guess.turn += rough_part * chance_.normal();
        return guess;
    }

    LogWay told() {
        LogWay way;
        way.by = by_;
        way.spread_mm = spread_;
        if (!places_.empty()) {
            settle_to(places_.size() - 1, static_cast<std::uint32_t>(best_));
        }
        for (const std::array<float, 3>& place : settled_) {
            way.poses.push_back(
                {{static_cast<double>(place[0]), static_cast<double>(place[1])}, static_cast<double>(place[2]) / rad});
        }
        judge(way);
        return way;
    }

    /// Line and floor along the way as the map has them, and where they are so no longer.
    void judge(LogWay& way) const {
        std::vector<double> alike(log_.size());
        for (std::size_t i = 0; i < log_.size(); ++i) {
            const Vec2 ahead = direction(way.poses[i].heading_deg);
            int same = 0;
            for (std::size_t k = 0; k < robot_.sensors.size(); ++k) {
                const double read = map_.reading(k, way.poses[i].at, ahead);
                // At an edge either is so.
                const bool is_line = ((log_[i].look.line_bits >> k) & 1) != 0;
                same += (is_line ? read > 0.3 : read < 0.7) ? 1 : 0;
            }
            alike[i] = same / static_cast<double>(robot_.sensors.size());
        }
        const double second_ms = 1000.0;
        std::deque<std::size_t> window;
        double sum = 0.0;
        way.alike_worst = 1.0;
        for (std::size_t i = 0; i < log_.size(); ++i) {
            window.push_back(i);
            sum += alike[i];
            while (log_[i].look.clock_ms - log_[window.front()].look.clock_ms > second_ms) {
                sum -= alike[window.front()];
                window.pop_front();
            }
            const double share = sum / static_cast<double>(window.size());
            const bool is_whole = log_[i].look.clock_ms - log_[window.front()].look.clock_ms > 0.8 * second_ms;
            if (is_whole && !way.lost) {
                way.alike_worst = std::min(way.alike_worst, share);
                if (share < least_alike) {
                    way.lost = window.front();
                }
            }
        }
        const std::size_t end = std::max<std::size_t>(way.lost.value_or(log_.size()), 1);
        double total = 0.0;
        for (std::size_t i = 0; i < end; ++i) {
            total += alike[i];
        }
        way.alike = total / static_cast<double>(end);
    }

    const Robot& robot_;
    const std::vector<LoggedLook>& log_;
    const LogWayOptions& options_;
    WayBy by_;
    SeenOnMap map_;
    double errs_; ///< times what guesses err otherwise
    Chance chance_;
    double time_ms_ = 0.0;
    mutable std::size_t powers_at_ = 0;
    double evidence_ = 0.0;
    std::vector<Guess> guesses_;
    std::vector<double> logs_;           ///< of their weights
    std::vector<std::uint32_t> parents_; ///< of each among those of the look before; empty: its own number
    std::vector<std::vector<std::uint32_t>> from_;
    std::vector<std::vector<std::array<float, 3>>> places_;
    std::size_t best_ = 0;                      ///< guess of the last look
    std::vector<std::array<float, 3>> settled_; ///< places of the looks before those that are open
    std::vector<double> spread_;
};

/// Of the starts those from which the first looks are no less likely than a little less than from the best.
void keep_likely(const Scene& scene, const std::vector<LoggedLook>& log, const LogWayOptions& options, WayBy by,
                 std::vector<StartPose>& starts) {
    constexpr double hardly = 40.0;
    const std::size_t looks = std::max<std::size_t>(300, log.size() / 5);
    std::vector<double> evidence;
    evidence.reserve(starts.size());
    for (const StartPose& start : starts) {
        evidence.push_back(WayFilter(scene, log, options, by, 1.0).evidence_of(start.pose, looks));
    }
    const double best = *std::max_element(evidence.begin(), evidence.end());
    std::vector<StartPose> likely;
    for (std::size_t i = 0; i < starts.size(); ++i) {
        if (evidence[i] > best - hardly) {
            likely.push_back(starts[i]);
        }
    }
    starts = std::move(likely);
}

} // namespace

const char* words_of(WayBy by) {
    switch (by) {
    case WayBy::wheels: return "the wheels' turns";
    case WayBy::wheels_and_gyro: return "the wheels' turns and the gyro";
    case WayBy::powers: return "powers and the robot file";
    }
    return "";
}

LogWay log_way(const Scene& scene, const std::vector<LoggedLook>& log, const LogWayOptions& options) {
    if (log.empty()) {
        throw InputError("", "the log has no look in it", "give it one row a look");
    }
    std::vector<StartPose> starts;
    if (options.pose) {
        starts.push_back({options.start, *options.pose});
    } else {
        std::vector<std::string> names;
        for (const StartPose& start : scene.course().starts) {
            names.push_back(start.name);
            if (options.start.empty() || options.start == start.name) {
                starts.push_back(start);
            }
        }
        if (starts.empty()) {
            const std::string near = nearest(options.start, names);
            throw InputError(
                scene.course().file,
                names.empty() ? "the course has no start" : fmt::format("the course has no start `{}`", options.start),
                near.empty() ? "give it one, or say where the run began" : fmt::format("did you mean {}?", near));
        }
    }
    const WayBy by = way_by(scene.robot(), log);
    if (starts.size() > 1) {
        keep_likely(scene, log, options, by, starts);
    }
    std::optional<LogWay> best;
    double evidence = 0.0;
    const StartPose* from = nullptr;
    for (const StartPose& start : starts) {
        WayFilter filter(scene, log, options, by, 1.0);
        LogWay way = filter.run(start.pose);
        if (!best || filter.evidence() > evidence) {
            evidence = filter.evidence();
            way.start = start.name;
            best = std::move(way);
            from = &start;
        }
    }
    if (best->lost) { // more guesses, which err more, may find where it went on
        LogWayOptions wider = options;
        wider.guesses *= 3;
        LogWay again = WayFilter(scene, log, wider, by, 1.8).run(from->pose);
        if (!again.lost || *again.lost > *best->lost) {
            again.start = from->name;
            best = std::move(again);
        }
    }
    return *best;
}

} // namespace vast_turn
