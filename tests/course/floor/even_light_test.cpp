#include "vast_turn/course/floor/even_light.hpp"

#include <algorithm>
#include <cmath>

#include <doctest/doctest.h>

#include "course/graph/random_course.hpp"
#include "support/rounds.hpp"
#include "vast_turn/base/noise.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

using namespace vast_turn;

namespace {

enum class LightKind { slope, lamp, shadow };

/// A photograph of the course: light that is 1 at its brightest and `darkest` at its darkest, and noise of the camera.
Course photographed(const Course& course, LightKind kind, double darkest, double noise, std::uint32_t seed) {
    Course photo = course;
    Surface& surface = photo.surface;
    const NormalQuantile& normal = NormalQuantile::table();
    for (int y = 0; y < surface.rows; ++y) {
        for (int x = 0; x < surface.columns; ++x) {
            const double across = (x + 0.5) / surface.columns;
            const double down = (y + 0.5) / surface.rows;
            double dark = 0.0; // 0 .. 1
            switch (kind) {
            case LightKind::slope: dark = 0.6 * across + 0.4 * down; break;
            case LightKind::lamp: dark = std::min(1.0, 2.0 * std::hypot(across - 0.4, down - 0.5) * 0.8); break;
            case LightKind::shadow: { // of something above: 60 mm from light to shade
                const double mm = x * surface.cell_mm - 0.45 * course.width_mm - 0.3 * y * surface.cell_mm;
                dark = std::clamp(mm / 60.0, 0.0, 1.0);
                break;
            }
            }
            const std::size_t at =
                static_cast<std::size_t>(y) * static_cast<std::size_t>(surface.columns) + static_cast<std::size_t>(x);
            const double shake = noise * normal(random_draw(seed, Stream::line_sensors, at)[0]);
            const std::uint32_t cell = surface.cells[at];
            std::uint32_t seen = 0;
            for (const unsigned shift : {16U, 8U, 0U}) {
                const double value = (1.0 - dark * (1.0 - darkest)) * static_cast<double>((cell >> shift) & 255U);
                seen |= static_cast<std::uint32_t>(std::lround(std::clamp(value + shake, 0.0, 255.0))) << shift;
            }
            surface.cells[at] = seen;
        }
    }
    return photo;
}

bool same_graph(const RouteGraph& a, const RouteGraph& b) {
    if (a.nodes.size() != b.nodes.size() || a.stretches.size() != b.stretches.size()) {
        return false;
    }
    return std::all_of(a.nodes.begin(), a.nodes.end(), [&](const Node& node) {
        return std::any_of(b.nodes.begin(), b.nodes.end(), [&](const Node& other) {
            return node.exits.size() == other.exits.size() && length(node.at - other.at) < 10.0;
        });
    });
}

/// Of so many random courses, how many show the same graph in the photograph, as it is and evened out.
struct Found {
    int as_it_is = 0;
    int evened = 0;
};

Found found_under(LightKind kind, double darkest, int courses) {
    Found found;
    for (int i = 0; i < courses; ++i) {
        const Course course = fixtures::random_course(static_cast<std::uint32_t>(1000 + i)).course;
        const RouteGraph truth = find_route_graph(course);
        Course photo = photographed(course, kind, darkest, 4.0, static_cast<std::uint32_t>(i));
        found.as_it_is += same_graph(find_route_graph(photo), truth) ? 1 : 0;
        even_out_light(photo.surface);
        found.evened += same_graph(find_route_graph(photo), truth) ? 1 : 0;
    }
    return found;
}

} // namespace

TEST_CASE("uneven light on photographed courses: the graph is found again once it is evened out" *
          doctest::skip(fixtures::sanitized())) {
    const int courses = fixtures::rounds(5, 1, 1);
    const auto measure = [&](const std::string& light, LightKind kind, double darkest) {
        const Found found = found_under(kind, darkest, courses);
        MESSAGE(light << ", darkest " << darkest << ": same graph as it is " << found.as_it_is << ", evened "
                      << found.evened << " of " << courses);
        return found;
    };
    const Found slope = measure("slope", LightKind::slope, 0.25);
    CHECK(slope.evened == courses);
    CHECK(slope.as_it_is < courses);
    CHECK(measure("lamp", LightKind::lamp, 0.25).evened == courses);
    CHECK(measure("shadow", LightKind::shadow, 0.7).evened == courses);
    CHECK(measure("shadow", LightKind::shadow, 0.5).evened == courses);
}

TEST_CASE("evenness of light: what lies on the floor does not count, light and dark lines alike") {
    Course course = fixtures::random_course(1001).course;
    CHECK(light_evenness(course.surface) > 0.97);
    Course slope = photographed(course, LightKind::slope, 0.4, 0.0, 1);
    CHECK(light_evenness(slope.surface) == doctest::Approx(0.42).epsilon(0.1));
    even_out_light(slope.surface);
    CHECK(light_evenness(slope.surface) > 0.95);
    for (std::uint32_t& cell : course.surface.cells) {
        cell = ~cell & 0xFFFFFFU;
    }
    CHECK(light_evenness(course.surface) > 0.9);
    CHECK(light_evenness(Surface{}) == 1.0);
    Surface one;
    one.columns = one.rows = 1;
    one.cells = {0x808080U};
    even_out_light(one);
    CHECK(one.cells[0] == 0x808080U);
}
