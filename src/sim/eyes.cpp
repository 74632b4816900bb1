#include "sim/eyes.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/robot/array.hpp"

namespace vast_turn {

namespace {

/// How long before a look channel `k` of some is read.
double read_before_s(const Robot& robot, std::size_t k) {
    return robot.apart_ms / 1000.0 * static_cast<double>(robot.sensors.size() - 1 - k);
}

/// The mean age of the light that each channel tells at a look.
std::vector<double> mean_ages_s(const Robot& robot, const Faults& faults) {
    std::vector<double> ages;
    for (const Channel& channel : channels_of(robot, faults)) {
        ages.push_back(read_before_s(robot, ages.size()) + robot.sensors[channel.source].response_ms / 1000.0);
    }
    return ages;
}

} // namespace

Eyes::Eyes(const Scene& scene, const Calibration& calibration, std::uint64_t seed, const Faults& faults,
           const CourseDay& day, runtime::NumberKind numbers)
    : reader_(array_reader(scene.robot(), calibration, numbers)), seed_(seed), track_mm_(scene.robot().skid_track_mm()),
      floor_(scene, day, seed), light_(scene.course().lights, seed, mean_ages_s(scene.robot(), faults)) {
    const Robot& robot = scene.robot();
    const std::vector<LineSensor>& sensors = robot.sensors;
    noisy_ = std::any_of(sensors.begin(), sensors.end(), [](const LineSensor& s) { return s.noise > 0.0; });
    for (const Channel& channel : channels_of(robot, faults)) {
        const LineSensor& sensor = sensors[channel.source];
        Eye eye{sensor.at_mm,       channel, floor_.view(channel.source), 0.0, sensor.response_ms / 1000.0, 0.0,
                sensor.drift / 60.0};
        eye.before_s = read_before_s(robot, eyes_.size());
        eye.outside = scene.course().lights.empty() ? 0.0 : sensor.outside;
        perfect_ = perfect_ && floor_.is_as_drawn() &&
                   !(eye.before_s + eye.response_s + eye.outside + std::abs(eye.drift_a_s) > 0.0);
        for (const ColourSensor& colours : robot.colour_sensors) {
            if (colours.line_sensor == channel.source && colours.blind_ms > 0.0) {
                doubles_.push_back({eyes_.size(), colours.rate_ms, colours.blind_ms / 1000.0});
            }
        }
        eye.curve = curve_of(channel.curve);
        eyes_.push_back(eye);
    }
}

/// Sensors with the same curve share its table.
std::size_t Eyes::curve_of(double power) {
    if (!(power < 1.0) && !(power > 1.0)) {
        return no_curve;
    }
    const auto known = std::find_if(curves_.begin(), curves_.end(), [power](const PowerCurve& one) {
        return !(one.power() < power) && !(one.power() > power);
    });
    if (known != curves_.end()) {
        return static_cast<std::size_t>(known - curves_.begin());
    }
    curves_.emplace_back(power);
    return curves_.size() - 1;
}

/// As Channel::counts().
double Eyes::counts_of(const Eye& eye, double light) const {
    return eye.channel.always + eye.channel.scale * (eye.curve == no_curve ? light : curves_[eye.curve](light));
}

void Eyes::noise(std::uint64_t look_number, double* counts) const {
    static_assert(std::tuple_size_v<Draw> >= max_sensors);
    const NormalQuantile& normal = NormalQuantile::table();
    const Draw draw = random_draw(seed_, Stream::line_sensors, look_number);
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        counts[i] = eyes_[i].channel.noise * normal(draw[i]);
    }
}

/// The past that a first-order lag tells: the mean of it weighted by exp(-s / lag), by Gauss-Laguerre quadrature
/// (Abramowitz and Stegun, "Handbook of Mathematical Functions", 1964, 25.4.45), with as many points as tell from the
/// spot what went by: `went` is the way in a lag, in spots.
const Eyes::Past& Eyes::past_for(double went) {
    static constexpr Past now{1, {{{1.0, 1.0}}}};
    static constexpr Past two{2, {{{0.585786437627, 0.853553390593}, {3.414213562373, 0.146446609407}}}};
    static constexpr Past three{
        3, {{{0.415774556783, 0.711093009929}, {2.294280360279, 0.278517733569}, {6.289945082937, 0.010389256502}}}};
    constexpr double hardly = 0.06;
    constexpr double somewhat = 0.25;
    return went < hardly ? now : (went < somewhat ? two : three);
}

/// Where an eye looks, now and before: its spots are located first, so that memory is there when it is asked.
void Eyes::looks_at(const Eye& eye, const Lately& lately, Looked& looked) const {
    const Lately::Way way = lately.way_of(eye.at_mm);
    looked.mean_place = way.place(eye.before_s + eye.response_s);
    const Vec2 off = floor_.off(looked.mean_place);
    looked.past = &past_for(eye.response_s > 0.0 ? eye.response_s * way.speed() / eye.view.spot_mm : 0.0);
    for (std::size_t k = 0; k < looked.past->points; ++k) {
        const bool is_mean = looked.past->points == 1;
        looked.at[k] =
            (is_mean ? looked.mean_place : way.place(eye.before_s + looked.past->point[k].at * eye.response_s)) - off;
        looked.spots[k] = eye.view.surface->locate(looked.at[k]);
    }
}

/// The light that it has of the floor there, its lag and light from outside in it.
double Eyes::light_seen(std::size_t number, const Looked& looked, double t_s) const {
    const Eye& eye = eyes_[number];
    double seen = 0.0;
    for (std::size_t k = 0; k < looked.past->points; ++k) {
        const double shade =
            floor_.is_as_laid() ? SpotMap::value(looked.spots[k]) : floor_.shade(eye.view, looked.at[k]);
        seen += looked.past->point[k].weight * shade;
    }
    seen = floor_.faded(eye.view, seen);
    if (eye.outside > 0.0) { // it changes less from place to place than the floor does: once, at the lag's mean
        seen *= 1.0 + eye.outside * light_.at(number, looked.mean_place);
    }
    return seen * std::max(0.0, 1.0 + eye.drift_a_s * t_s);
}

void Eyes::imperfect_counts(const Body& body, double t_s, std::uint64_t look_number, double* counts) const {
    std::array<Looked, max_sensors> looked;
    const Lately lately(body, track_mm_);
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        looks_at(eyes_[i], lately, looked[i]);
    }
    std::array<double, max_sensors> noise_counts{};
    if (noisy_) {
        noise(look_number, noise_counts.data());
    }
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        const Eye& eye = eyes_[i];
        const double value = counts_of(eye, light_seen(i, looked[i], t_s)) + noise_counts[i];
        counts[i] = static_cast<int>(std::clamp(value, 0.0, eye.channel.most) + 0.5);
    }
}

void Eyes::raw_counts(const Body& body, double t_s, std::uint64_t look_number, double* counts) const {
    if (!perfect_) {
        imperfect_counts(body, t_s, look_number, counts);
        return;
    }
    Spots spots;
    const Vec2 at = body.at;
    const Vec2 ahead = body.ahead;
    const std::size_t n = eyes_.size();
    for (std::size_t i = 0; i < n; ++i) {
        spots[i] = eyes_[i].view.surface->locate(from_robot(at, ahead, eyes_[i].at_mm));
    }
    count(spots, look_number, counts);
}

void Eyes::held_over(const std::vector<Vec2>& points, std::uint64_t look_number, double* counts) const {
    Spots spots;
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        spots[i] = eyes_[i].view.surface->locate(points[eyes_[i].channel.source]);
    }
    count(spots, look_number, counts);
}

void Eyes::count(const Spots& spots, std::uint64_t look_number, double* counts) const {
    std::array<double, max_sensors> noise_counts{};
    if (noisy_) {
        noise(look_number, noise_counts.data());
    }
    const Eye* eye = eyes_.data();
    const std::size_t n = eyes_.size();
    for (std::size_t i = 0; i < n; ++i, ++eye) {
        const double value = counts_of(*eye, SpotMap::value(spots[i])) + noise_counts[i];
        const double above = value > 0.0 ? value : 0.0;
        counts[i] = static_cast<int>((above < eye->channel.most ? above : eye->channel.most) + 0.5);
    }
}

/// A sensor that is busy with colours tells what it told before. At the first look nothing was.
void Eyes::hold_blind(double t_s, double* counts) {
    constexpr double all_but_s = 1e-9;
    const bool is_first = told_.empty();
    told_.resize(eyes_.size());
    for (Double& one : doubles_) {
        if (one.blind_until_s.is_over(t_s, one.rate_ms)) {
            one.blind_until_s.value = t_s + one.blind_s;
        }
        if (!is_first && t_s + all_but_s < one.blind_until_s.value) {
            counts[one.eye] = told_[one.eye];
        }
    }
    std::copy_n(counts, eyes_.size(), told_.begin());
}

void Eyes::look(const Body& body, double t_s, std::uint64_t look_number, Look& out, LookRecord& record) {
    if (!perfect_) {
        floor_.around(body.at);
        light_.at_time(t_s);
    }
    raw_counts(body, t_s, look_number, out.raw);
    if (!doubles_.empty()) {
        hold_blind(t_s, out.raw);
    }
    before_ = reader_.past();
    reader_.from_counts(out);
    record.line_bits = out.line_bits;
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        record.raw[i] = static_cast<std::uint16_t>(out.raw[i]);
    }
}

void Eyes::read_anew(Look& look, LookRecord& record) {
    reader_.recall(before_);
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        look.raw[i] = std::round(std::clamp(look.raw[i], 0.0, eyes_[i].channel.most));
        record.raw[i] = static_cast<std::uint16_t>(look.raw[i]);
    }
    reader_.from_counts(look);
    record.line_bits = look.line_bits;
}

void Eyes::go_on_from(const Eyes& other) {
    reader_.recall(other.reader_.past());
    before_ = other.before_;
    told_ = other.told_;
    for (std::size_t i = 0; i < doubles_.size() && i < other.doubles_.size(); ++i) {
        doubles_[i].blind_until_s = other.doubles_[i].blind_until_s;
    }
}

} // namespace vast_turn
