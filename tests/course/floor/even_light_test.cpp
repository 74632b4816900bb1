#include "vast_turn/course/floor/even_light.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <functional>

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

/// A floor of 900 x 600 mm with a strip of tape, 21 mm, that bends round a bench at 560,90 of 290 x 230 mm.
Surface floor_with_bench(const std::function<double(double, double)>& light) {
    Surface surface;
    surface.columns = 900;
    surface.rows = 600;
    surface.cells.resize(900 * 600);
    for (int y = 0; y < surface.rows; ++y) {
        for (int x = 0; x < surface.columns; ++x) {
            const bool bench = x >= 560 && x < 850 && y >= 90 && y < 320;
            const bool tape = (std::abs(y - 430) < 10.5 && x > 60 && x < 860) || (std::abs(x - 410) < 10.5 && y < 430);
            const std::array<double, 3> colour = bench  ? std::array{110.0, 92.0, 70.0}
                                                 : tape ? std::array{32.0, 30.0, 28.0}
                                                        : std::array{231.0, 226.0, 214.0};
            std::uint32_t cell = 0;
            for (const double channel : colour) {
                cell = (cell << 8U) | static_cast<std::uint32_t>(std::lround(channel * light(x, y)));
            }
            surface.cells[static_cast<std::size_t>(y) * 900 + static_cast<std::size_t>(x)] = cell;
        }
    }
    return surface;
}

void shows_all_as_it_is(const Surface& evened, double bench_error = 0.15) {
    struct Place {
        int x;
        int y;
        double light; ///< of green
        double error;
    };
    constexpr double floor = 226.0;
    constexpr double bench = 92.0;
    constexpr double tape = 30.0;
    for (const Place& place :
         {Place{30, 30, floor, 0.06}, Place{500, 200, floor, 0.06}, Place{300, 550, floor, 0.06},
          Place{870, 580, floor, 0.06}, Place{880, 200, floor, 0.06}, Place{700, 370, floor, 0.06},
          Place{590, 110, bench, bench_error}, Place{700, 200, bench, bench_error}, Place{820, 300, bench, bench_error},
          Place{120, 430, tape, 0.15}, Place{780, 430, tape, 0.15}, Place{410, 180, tape, 0.15}}) {
        CAPTURE(place.x);
        CAPTURE(place.y);
        CHECK(evened.at(place.x, place.y).g == doctest::Approx(place.light).epsilon(place.error));
    }
}

} // namespace

TEST_CASE("light is taken from the floor: a bench in it stays as dark as it is") {
    Surface slope = floor_with_bench([](double x, double y) { return 1.0 - 0.5 * x / 900.0 - 0.15 * y / 600.0; });
    CHECK(light_evenness(slope) == doctest::Approx(0.36).epsilon(0.1));
    even_out_light(slope);
    shows_all_as_it_is(slope);
    Surface lamp = floor_with_bench([](double x, double y) {
        return 0.35 + 0.65 * std::exp(-std::pow(std::hypot(x - 250.0, y - 420.0) / 500.0, 2));
    });
    even_out_light(lamp);
    shows_all_as_it_is(lamp);
    const Surface even = floor_with_bench([](double, double) { return 1.0; });
    CHECK(light_evenness(even) > 0.98); // a bench is no shade
}

TEST_CASE("the shade of a window is floor, a bench that is as dark is none") {
    Surface sun = floor_with_bench([](double x, double y) { // its rim is 7 mm wide
        const double from_rim = std::abs(0.8 * (x - 480.0) + 0.6 * (y - 300.0)) - 140.0;
        return 1.0 - 0.45 * std::clamp(from_rim / 7.0 + 0.5, 0.0, 1.0);
    });
    CHECK(light_evenness(sun) == doctest::Approx(0.55).epsilon(0.05));
    even_out_light(sun);
    shows_all_as_it_is(sun, 0.6); // nobody knows where on the bench the shade begins
}

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
