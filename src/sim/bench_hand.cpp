#include "vast_turn/sim/bench_hand.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "sim/bench_places.hpp"
#include "sim/eyes.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

struct BenchHand::Held {
    Held(const Scene& over, std::uint64_t seed, const Faults& faults)
        : scene(over), places(over, seed), eyes(over, over.own_calibration(), seed, faults),
          floor(places.free_floor()) {}

    std::vector<Vec2> points(const HeldOver& held) {
        switch (held.what) {
        case HeldOver::What::line: return places.over_line();
        case HeldOver::What::sweep: {
            const double edge = places.beyond_mm();
            const double share = std::clamp(held.share, 0.0, 1.0);
            return places.across(edge * (held.backwards ? 1.0 - 2.0 * share : 2.0 * share - 1.0));
        }
        case HeldOver::What::plate: return over_plate(held.colour);
        case HeldOver::What::card: return over_cards(held.cards);
        case HeldOver::What::floor: break;
        }
        return places.over_floor(floor);
    }

    std::vector<Vec2> over_plate(const std::string& colour) {
        const std::vector<const Marker*> plates = places.plates(colour);
        const Marker& plate = *plates[looks % plates.size()];
        std::vector<Vec2> all;
        for (const LineSensor& sensor : scene.robot().sensors) {
            all.push_back(places.on_marker(plate, sensor.spot_mm));
        }
        return all;
    }

    /// The card is a piece of the tape; the rest of the array stays over the floor.
    std::vector<Vec2> over_cards(unsigned cards) {
        std::vector<Vec2> all = places.over_floor(floor);
        for (std::size_t k = 0; k < all.size(); ++k) {
            all[k] = ((cards >> k) & 1U) != 0 ? places.on_strip(scene.robot().sensors[k].spot_mm) : all[k];
        }
        return all;
    }

    const Scene& scene;
    BenchPlaces places;
    Eyes eyes;
    Pose floor;
    std::uint64_t looks = 0;
};

BenchHand::BenchHand(const Scene& scene, std::uint64_t seed, const Faults& faults)
    : held_(std::make_unique<Held>(scene, seed, faults)) {}
BenchHand::~BenchHand() = default;
BenchHand::BenchHand(BenchHand&& other) noexcept = default;
BenchHand& BenchHand::operator=(BenchHand&& other) noexcept = default;

void BenchHand::check(const HeldOver& held) const {
    const Course& course = held_->scene.course();
    if (held.what == HeldOver::What::plate && held_->places.plates(held.colour).empty()) {
        std::vector<std::string> colours;
        for (const auto& [name, rgb] : course.palette) {
            if (!held_->places.plates(name).empty()) {
                colours.push_back(name);
            }
        }
        const std::string near = nearest(held.colour, colours);
        throw InputError(course.file, fmt::format("no {} plate lies on the course", held.colour),
                         near.empty() ? "hold the array over floor or line" : fmt::format("there is one of {}", near));
    }
    const std::size_t sensors = held_->scene.robot().sensors.size();
    if (held.what == HeldOver::What::card && (held.cards >> sensors) != 0) {
        throw InputError("", "the card is under a sensor that the robot has not",
                         fmt::format("it has {}, numbered from 1 at the left", sensors));
    }
}

void BenchHand::look(const HeldOver& held, double* counts) {
    held_->eyes.held_over(held_->points(held), held_->looks++, counts);
}

} // namespace vast_turn
