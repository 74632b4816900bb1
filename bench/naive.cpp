#include <cmath>
#include <random>

#include "robot_loop.hpp"

namespace bench {

using namespace vast_turn;

namespace {

class NaiveWorld {
public:
    explicit NaiveWorld(const Scene& scene) : scene_(scene) {
        const Pose& pose = scene.course().starts[0].pose;
        at_ = pose.at;
        heading_ = to_radians(pose.heading_deg);
    }

    double reflectance(std::size_t i) const {
        const LineSensor& sensor = scene_.robot().sensors[i];
        const Surface& surface = scene_.course().surface;
        const double c = std::cos(heading_);
        const double s = std::sin(heading_);
        const Vec2 p{at_.x + c * sensor.at_mm.x - s * sensor.at_mm.y, at_.y - s * sensor.at_mm.x - c * sensor.at_mm.y};
        const double r = 0.5 * sensor.spot_mm / surface.cell_mm;
        const double x = p.x / surface.cell_mm;
        const double y = p.y / surface.cell_mm;
        double sum = 0.0;
        int cells = 0;
        for (int j = static_cast<int>(std::floor(y - r)); j <= static_cast<int>(std::ceil(y + r)); ++j) {
            for (int k = static_cast<int>(std::floor(x - r)); k <= static_cast<int>(std::ceil(x + r)); ++k) {
                const double dx = k + 0.5 - x;
                const double dy = j + 0.5 - y;
                if (dx * dx + dy * dy <= r * r) {
                    const bool inside = k >= 0 && j >= 0 && k < surface.columns && j < surface.rows;
                    sum += vast_turn::reflectance(inside ? surface.at(k, j) : surface.beyond, sensor.light);
                    ++cells;
                }
            }
        }
        return sum / cells;
    }

    double noise(int, std::size_t) { return normal_(generator_); }

    void step(double left_target, double right_target) {
        const double dt = step_ms / 1000.0;
        const double lag = scene_.robot().motors.lag_ms / 1000.0;
        const double decay = std::exp(-dt / lag);
        left_ = left_target + (left_ - left_target) * decay;
        right_ = right_target + (right_ - right_target) * decay;
        const double speed = 0.5 * (left_ + right_);
        const double turn = (right_ - left_) / scene_.robot().track_mm;
        const double middle = heading_ + 0.5 * turn * dt;
        at_.x += speed * dt * std::cos(middle);
        at_.y -= speed * dt * std::sin(middle);
        heading_ += turn * dt;
        way_ += speed * dt;
    }

    Vec2 at() const { return at_; }
    double way() const { return way_; }

private:
    const Scene& scene_;
    Vec2 at_;
    double heading_ = 0.0;
    double left_ = 0.0;
    double right_ = 0.0;
    double way_ = 0.0;
    std::mt19937_64 generator_{1};
    std::normal_distribution<double> normal_;
};

} // namespace

Outcome run_naive(const Scene& scene, const Plan& plan) {
    NaiveWorld world(scene);
    return run_loop(scene, plan, world);
}

} // namespace bench
