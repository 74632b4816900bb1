/// Arrays that hold once what is alike in them.
#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/base/page_array.hpp"
#include "vast_turn/paint/course_file.hpp"

#include <fstream>
#include <unistd.h>

using vast_turn::PageArray;

TEST_CASE("arrays that share keep their values, and a change of one is not seen in the other") {
    PageArray<std::uint32_t> base;
    base.resize(50'003);
    for (std::size_t i = 0; i < base.size(); ++i) {
        base[i] = static_cast<std::uint32_t>(7 * i);
    }
    PageArray<std::uint32_t> other = base;
    other[3] = 1;
    other[49'999] = 2;
    const PageArray<std::uint32_t> before = other;
    other.share_with(base);
    CHECK(other == before);
    other.rest();
    base.rest();
    CHECK(other == before);
    base[4] = 9; // in a page that is alike, and in one that is not
    base[30'000] = 9;
    CHECK(other == before);
    other[20'000] = 5;
    CHECK(base[20'000] == 140'000);
    CHECK(base[4] == 9);

    base.rest(); // nothing, since it was written to
    CHECK(base[30'000] == 9);

    PageArray<std::uint32_t> third = before;
    third.share_with(base); // which has changed since it was first shared
    CHECK(third == before);
    third.share_with(third);
    PageArray<std::uint32_t> copy = third;
    CHECK(copy == before);
    base = PageArray<std::uint32_t>{}; // whose memory others still have
    CHECK(third == before);
    PageArray<std::uint32_t> smaller{1, 2, 3};
    smaller.share_with(third);
    CHECK(smaller == PageArray<std::uint32_t>{1, 2, 3});
}

namespace {

/// Pages of the process that are in memory, in bytes.
std::size_t in_memory() {
    std::ifstream statm("/proc/self/statm");
    std::size_t all = 0;
    std::size_t resident = 0;
    statm >> all >> resident;
    return resident * static_cast<std::size_t>(sysconf(_SC_PAGESIZE));
}

} // namespace

TEST_CASE("forty variants of a course take little more memory than one" *
          doctest::skip(fixtures::sanitized())) { // they keep what is freed
    std::string text =
        "name = \"many\"\nsize_mm = [1210, 830]\ncell_mm = 0.5\npalette = { amber = \"#D9822B\" }\n"
        "[[tape]]\npath = \"M 60 400 H 1150\"\nwidth_mm = 19\n"
        "[[marker]]\nname = \"plate\"\ncolour = \"amber\"\nat_mm = [600, 400]\n"
        "[[start]]\nname = \"west\"\nat_mm = [130, 400]\nheading_deg = 0\n"
        "[[trip]]\nname = \"along\"\nfrom = \"west\"\nends = \"time over\"\nwithin_s = 1.1\nvisits = [\"mid\"]\n"
        "[[place]]\nname = \"mid\"\nat_mm = [160, 400]\n";
    for (int i = 0; i < 40; ++i) {
        text += "[[variant]]\nname = \"v" + std::to_string(i) + "\"\nwithout = [\"plate\"]\n";
    }
    const fixtures::Folder folder;
    std::ofstream(folder.file("many.course.toml")) << text;
    const vast_turn::Robot robot = fixtures::ideal_robot(2);
    const std::size_t before = in_memory();
    const auto ground = vast_turn::load_trip_ground(folder.file("many.course.toml"), robot);
    CHECK(ground.cases().size() == 41);
    const std::size_t surface = 2420 * 1660 * sizeof(std::uint32_t);
    CHECK(in_memory() - before < 9 * surface); // each by itself would be 60 times that
}
