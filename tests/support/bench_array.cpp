#include "support/bench_array.hpp"

#include <algorithm>
#include <cmath>
#include <string>

namespace fixtures {

using namespace vast_turn;

namespace {

constexpr int held_looks = 40;
constexpr int swept_looks = 240;
constexpr int all_looks = 5 * held_looks + swept_looks;

} // namespace

BenchArray::BenchArray(std::uint64_t seed, int least) : random_(seed) {
    const int n = std::uniform_int_distribution<int>(least, max_sensors)(random_);
    const bool dark_line = between(0.0, 1.0) < 0.7;
    const double light = between(0.55, 0.88);
    const double dark = between(0.06, 0.26);
    const double noise = (light - dark) / between(20.0, 110.0);
    const double gap = between(7.5, 16.0);
    const double range = between(0.0, 1.0) < 0.6 ? 1023.0 : 4095.0;
    for (int i = 0; i < n; ++i) {
        Sensor sensor;
        sensor.adc_max = range;
        const double gain = range * between(0.94, 1.06);
        sensor.floor = gain * (dark_line ? light : dark);
        sensor.line = gain * (dark_line ? dark : light);
        sensor.floor_noise = sensor.line_noise = range * noise * between(0.8, 1.25);
        sensor.left_mm = gap * (0.5 * (n - 1) - i);
        sensors.push_back(sensor);
        wires.push_back(i);
        facts_.adc_max.push_back(range);
        facts_.left_mm.push_back(sensor.left_mm);
    }
}

double BenchArray::between(double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random_);
}

BenchArray::Sensor& BenchArray::any() {
    return sensors[std::uniform_int_distribution<std::size_t>(0, sensors.size() - 1)(random_)];
}

double BenchArray::counts(const Sensor& sensor, double on_line, double progress) {
    const double noise = sensor.floor_noise + on_line * (sensor.line_noise - sensor.floor_noise);
    const double level = sensor.floor + on_line * (sensor.line - sensor.floor) + drift * progress * sensor.contrast();
    const double value = level + noise * std::normal_distribution<double>()(random_);
    return std::round(std::clamp(value, 0.0, sensor.adc_max));
}

void BenchArray::hold(BenchReadings& out, const char* what, double on_line, int looks) {
    for (int i = 0; i < looks; ++i) {
        BenchLook look;
        look.under = what;
        const double progress = static_cast<double>(out.looks.size()) / all_looks;
        for (std::size_t k = 0; k < wires.size(); ++k) {
            look.counts[k] = counts(sensors[static_cast<std::size_t>(wires[k])], on_line, progress);
        }
        out.looks.push_back(look);
    }
}

/// A hand slides at a pace that wavers by some 8 %. Tape 19 mm wide, spots 6 mm wide.
void BenchArray::slide(BenchReadings& out) {
    const double half = 0.5 * 19.0;
    const double edge = sensors.front().left_mm + 30.0;
    const double step = 2.0 * edge / swept_looks;
    const double waver = between(10.0, 40.0);
    double tape = edge; // its middle, to the left of the array's
    for (int i = 0; i < swept_looks; ++i) {
        tape -= step * (1.0 + 0.08 * std::sin(i / waver));
        BenchLook look;
        look.under = under::sweep;
        const double progress = static_cast<double>(out.looks.size()) / all_looks;
        for (std::size_t k = 0; k < wires.size(); ++k) {
            const Sensor& sensor = sensors[static_cast<std::size_t>(wires[k])];
            const double inside = half + 3.0 - std::abs(sensor.left_mm - tape);
            look.counts[k] = counts(sensor, std::clamp(inside / 6.0, 0.0, 1.0), progress);
        }
        out.looks.push_back(look);
    }
}

BenchReadings BenchArray::readings() {
    BenchReadings out;
    for (std::size_t i = 0; i < sensors.size(); ++i) {
        out.channels.push_back("C" + std::to_string(i + 1));
    }
    hold(out, under::floor, 0.0, held_looks);
    hold(out, under::line, 1.0, held_looks);
    slide(out);
    hold(out, under::line, 1.0, held_looks);
    hold(out, under::floor, 0.0, held_looks);
    if (with_marker) {
        hold(out, "teal", shade, held_looks);
    }
    return out;
}

} // namespace fixtures
