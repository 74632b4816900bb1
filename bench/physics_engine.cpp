#include <cmath>

#include <box2d/box2d.h>

#include "robot_loop.hpp"
#include "vast_turn/base/noise.hpp"

namespace bench {

using namespace vast_turn;

namespace {

/// Metres and y up, as the engine likes it.
class EngineWorld {
public:
    explicit EngineWorld(const Scene& scene) : scene_(scene), world_(b2Vec2(0.0F, 0.0F)) {
        const Pose& pose = scene.course().starts[0].pose;
        b2BodyDef definition;
        definition.type = b2_dynamicBody;
        definition.position.Set(static_cast<float>(pose.at.x / 1000.0), static_cast<float>(-pose.at.y / 1000.0));
        definition.angle = static_cast<float>(to_radians(pose.heading_deg));
        definition.allowSleep = false;
        body_ = world_.CreateBody(&definition);
        b2CircleShape disc;
        disc.m_radius = static_cast<float>(0.5 * scene.robot().track_mm / 1000.0);
        body_->CreateFixture(&disc, 1.0F);
    }

    double reflectance(std::size_t i) const {
        const b2Vec2 ahead = body_->GetWorldVector(b2Vec2(1.0F, 0.0F));
        return scene_.seen_by(i).at(from_robot(at(), {ahead.x, -ahead.y}, scene_.robot().sensors[i].at_mm));
    }

    double noise(int look, std::size_t i) {
        if (i == 0) {
            draw_ = random_draw(1, Stream::line_sensors, static_cast<std::uint64_t>(look));
        }
        return NormalQuantile::table()(draw_[i]);
    }

    void step(double left_target, double right_target) {
        const double dt = step_ms / 1000.0;
        const double rest = decay_;
        left_ = left_target + (left_ - left_target) * rest;
        right_ = right_target + (right_ - right_target) * rest;
        const double speed = 0.5 * (left_ + right_);
        const b2Vec2 ahead = body_->GetWorldVector(b2Vec2(1.0F, 0.0F));
        body_->SetLinearVelocity(static_cast<float>(speed / 1000.0) * ahead);
        body_->SetAngularVelocity(static_cast<float>((right_ - left_) / scene_.robot().track_mm));
        world_.Step(static_cast<float>(dt), 8, 3);
        way_ += speed * dt;
    }

    Vec2 at() const {
        const b2Vec2 p = body_->GetPosition();
        return {1000.0 * p.x, -1000.0 * p.y};
    }
    double way() const { return way_; }

private:
    const Scene& scene_;
    b2World world_;
    b2Body* body_ = nullptr;
    double left_ = 0.0;
    double right_ = 0.0;
    double way_ = 0.0;
    double decay_ = std::exp(-step_ms / scene_.robot().motors.lag_ms);
    Draw draw_{};
};

} // namespace

Outcome run_physics_engine(const Scene& scene, const Plan& plan) {
    EngineWorld world(scene);
    return run_loop(scene, plan, world);
}

} // namespace bench
