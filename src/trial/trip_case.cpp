#include "vast_turn/trial/trip_case.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/trial/plate_route.hpp"

namespace vast_turn {

namespace {

Trip one_of_it(const Trip& trip, const std::string& from, const std::string& variant, bool many_variants) {
    Trip one = trip;
    one.from = from;
    one.also_from.clear();
    one.variants = {variant};
    one.name += trip.also_from.empty() ? "" : ", from " + from;
    one.name += many_variants ? ", " + variant : "";
    return one;
}

} // namespace

std::vector<TripCase> cases_of(const std::vector<const Scene*>& scenes, const std::vector<Trip>& trips) {
    std::vector<TripCase> cases;
    for (const Trip& trip : trips) {
        for (const std::string& from : starts_of(trip)) {
            const std::vector<std::string> variants = variants_of(scenes.at(0)->course(), trip);
            for (const std::string& variant : variants) {
                const auto scene = std::find_if(scenes.begin(), scenes.end(),
                                                [&](const Scene* s) { return s->course().variant == variant; });
                if (scene == scenes.end()) {
                    throw InputError(
                        trip.file,
                        fmt::format("trip \"{}\" is driven over \"{}\", which is not at hand", trip.name, variant),
                        "make a scene of each variant that the trips name");
                }
                cases.push_back({told_by_plates(**scene, one_of_it(trip, from, variant, variants.size() > 1)), *scene});
            }
        }
    }
    return cases;
}

std::vector<TripCase> cases_of(const Scene& scene, const std::vector<Trip>& trips) {
    std::vector<Trip> own;
    for (Trip trip : trips) {
        const std::vector<std::string> variants = variants_of(scene.course(), trip);
        if (std::find(variants.begin(), variants.end(), scene.course().variant) != variants.end()) {
            trip.variants = {scene.course().variant};
            own.push_back(std::move(trip));
        }
    }
    return cases_of(std::vector<const Scene*>{&scene}, own);
}

} // namespace vast_turn
