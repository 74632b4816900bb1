#include "vast_turn/view/picture.hpp"

#include <doctest/doctest.h>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/view/parting_picture.hpp"

using namespace vast_turn;

namespace {

struct FernHouse : fixtures::FernHouse {
    Run run = drive(scene, plan);
};

/// Width and height in the header of a PNG.
std::pair<int, int> png_size(const std::string& bytes) {
    const auto number = [&](std::size_t at) {
        int value = 0;
        for (std::size_t i = 0; i < 4; ++i) {
            value = value * 256 + static_cast<unsigned char>(bytes.at(at + i));
        }
        return value;
    };
    return {number(16), number(20)};
}

} // namespace

TEST_CASE("the format follows the end of the name") {
    CHECK(picture_format("a.png") == PictureFormat::png);
    CHECK(picture_format("a.b/c.svg") == PictureFormat::svg);
    CHECK(picture_format("c.pdf") == PictureFormat::pdf);
    CHECK_FALSE(picture_format("c.jpeg").has_value());
    CHECK_FALSE(picture_format("png").has_value());
}

TEST_CASE("pictures are files of their kind, and the same run draws the same bytes") {
    const FernHouse f;
    const std::string png = draw_run(f.scene, &f.plan, f.run, PictureFormat::png);
    CHECK(png.starts_with("\x89PNG"));
    CHECK(png_size(png) == std::pair{1280, 800});
    CHECK(draw_run(f.scene, &f.plan, f.run, PictureFormat::png) == png);
    CHECK(draw_course(f.course, find_route_graph(f.course), PictureFormat::png) != png);
    const std::string pdf = draw_course(f.course, find_route_graph(f.course), PictureFormat::pdf);
    CHECK(pdf.starts_with("%PDF"));
    CHECK(draw_course(f.course, find_route_graph(f.course), PictureFormat::pdf) == pdf);
    const std::string svg = draw_run(f.scene, &f.plan, f.run, PictureFormat::svg);
    CHECK(svg.find("<svg") != std::string::npos);
    CHECK(svg.ends_with("</svg>\n"));
    CHECK((draw_run(f.scene, &f.plan, f.run, PictureFormat::svg) == svg)); // too much to print
}

TEST_CASE("a run of own code and a run without looks can be drawn") {
    const FernHouse f;
    RunOptions options;
    options.keep_looks = false;
    options.time_limit_s = 0.2;
    const Run run = drive(f.scene, Decide([](const Look&, Answer& answer) { answer = Answer{}; }), options);
    CHECK(draw_run(f.scene, nullptr, run, PictureFormat::png).starts_with("\x89PNG"));
}

TEST_CASE("what a run touched is framed, and notes at one place do not print over one another") {
    const auto count = [](const std::string& text, const std::string& word) {
        int n = 0;
        for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + word.size())) {
            ++n;
        }
        return n;
    };
    FernHouse f;
    f.course.things = {{"can", f.run.end_at + Vec2{70.0, 0.0}, {30.0, 40.0}}};
    const auto drawn = [&](const Run& run) { return draw_run(f.scene, &f.plan, run, PictureFormat::svg); };
    Run touched = f.run;
    touched.events.clear();
    touched.ending = Ending::touched;
    Run far_off = touched;
    far_off.end_at = {20.0, 20.0};
    CHECK(count(drawn(touched), "stroke-width:") == count(drawn(far_off), "stroke-width:") + 1);

    Run talks = f.run;
    REQUIRE(talks.events.size() == 1);
    const int letters = count(drawn(talks), "<use") - count(drawn(touched), "<use");
    talks.events.assign(40, talks.events.front());
    CHECK(count(drawn(talks), "<use") < count(drawn(f.run), "<use") + 10 * std::max(letters, 20));
}

TEST_CASE("the place that a failed trip expected is ringed, or pointed to from the rim") {
    FernHouse f;
    Trip trip;
    trip.name = "as far as the dock";
    trip.from = f.course.starts.front().name;
    trip.visits = {f.course.places.front().name};
    trip.within_s = 0.4; // it comes nowhere
    const auto drawn = [&](Vec2 place_at) {
        f.course.places.front().at = place_at;
        const Scene scene(f.course, f.robot);
        const TripResult failed = take_trip(scene, f.plan, trip, {});
        REQUIRE(failed.parting);
        return draw_parting(scene, f.plan, failed, nullptr, {}, PictureFormat::svg);
    };
    const Vec2 start = f.course.starts.front().pose.at;
    const std::string near = drawn(start + Vec2{90.0, -60.0});
    const std::string far = drawn({start.x, start.y - 600.0});
    trip.visits.clear();
    const std::string none = drawn(start + Vec2{90.0, -60.0});
    const auto fern_strokes = [](const std::string& svg) {
        std::size_t count = 0;
        for (std::size_t at = svg.find("stroke:rgb(14.901961%,43.9"); at != std::string::npos;
             at = svg.find("stroke:rgb(14.901961%,43.9", at + 1)) {
            ++count;
        }
        return count;
    };
    CHECK(fern_strokes(near) == fern_strokes(none) + 1);
    CHECK(fern_strokes(far) == fern_strokes(none) + 2);
}

TEST_CASE("a name that is no UTF-8 is drawn with marks") {
    FernHouse f;
    const RouteGraph graph = find_route_graph(f.course);
    f.course.name = "\xff\x1b";
    const std::string marked = draw_course(f.course, graph, PictureFormat::png);
    f.course.name = "<FF>\u241B";
    CHECK(marked == draw_course(f.course, graph, PictureFormat::png));
}
