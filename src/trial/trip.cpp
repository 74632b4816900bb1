#include "vast_turn/trial/trip.hpp"

#include <algorithm>

namespace vast_turn {

const char* name_of(PlateMeaning meaning) {
    switch (meaning) {
    case PlateMeaning::left: return "left";
    case PlateMeaning::straight: return "straight";
    case PlateMeaning::right: return "right";
    case PlateMeaning::back: return "back";
    case PlateMeaning::end: return "end";
    case PlateMeaning::side: return "side";
    }
    return "";
}

std::vector<std::string> starts_of(const Trip& trip) {
    std::vector<std::string> starts{trip.from};
    starts.insert(starts.end(), trip.also_from.begin(), trip.also_from.end());
    return starts;
}

std::vector<std::string> variants_of(const Course& course, const Trip& trip) {
    if (!trip.variants.empty()) {
        return trip.variants;
    }
    std::vector<std::string> all{as_drawn};
    for (const Variant& variant : course.variants) {
        all.push_back(variant.name);
    }
    return all;
}

std::vector<std::string> variants_of(const Course& course, const std::vector<Trip>& trips) {
    std::vector<std::string> asked;
    for (const Trip& trip : trips) {
        const std::vector<std::string> own = variants_of(course, trip);
        asked.insert(asked.end(), own.begin(), own.end());
    }
    std::vector<std::string> list;
    for (const std::string& variant : variants_of(course, Trip{})) {
        if (std::find(asked.begin(), asked.end(), variant) != asked.end()) {
            list.push_back(variant);
        }
    }
    return list;
}

Trip with_laps_written_out(const Trip& trip) {
    Trip whole = trip;
    whole.laps = 1;
    for (int lap = 1; lap < trip.laps; ++lap) {
        whole.visits.insert(whole.visits.end(), trip.visits.begin(), trip.visits.end());
        whole.choices.insert(whole.choices.end(), trip.choices.begin(), trip.choices.end());
    }
    return whole;
}

} // namespace vast_turn
