#pragma once

/// What was found of a course against what is true of it.

#include <string>
#include <vector>

#include "support/mixed_course.hpp"

namespace fixtures {

/// How often what was found is what is there.
struct MapRates {
    struct Rate {
        int all = 0;
        int right = 0;
    };
    Rate nodes;   ///< found within 5 mm, with their degree
    Rate found;   ///< found nodes that are there
    Rate lengths; ///< between their nodes within 2 %
    Rate gaps;    ///< within 3 mm, place and length
    Rate plates;  ///< within 3 mm
    Rate bends;   ///< radius within 10 %

    void add(const MapRates& other);
    std::string text() const;
};

/// What of a course was found, nodes within `slack_mm`. `told` gets a line for each thing that is not right.
MapRates compare(const MixedCourse& truth, const vast_turn::Course& course, const vast_turn::RouteGraph& graph,
                 std::vector<std::string>* told = nullptr, double slack_mm = 5.0);

} // namespace fixtures
