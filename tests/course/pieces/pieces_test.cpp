#include <algorithm>
#include <cmath>
#include <set>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/course/pieces/lay_out.hpp"
#include "vast_turn/course/pieces/shuffle.hpp"
#include "vast_turn/formats/read/pieces_file.hpp"

using namespace vast_turn;
using fixtures::message_of;

namespace {

/// A door, an aisle with a plate and a can, a bend, a crossing, a stub and a dock.
const std::string small_set = R"(name = "small"
side_mm = 200
[palette]
amber = "#E69A17"
[[piece]]
name = "door"
role = "start"
ways = ["east"]
tape = [{ path = "M 40,100 H 200" }]
start = [{ name = "door", at_mm = [60, 100], heading_deg = 0 }]
[[piece]]
name = "aisle"
ways = ["west", "east"]
tape = [{ path = "M 0,100 H 200" }]
marker = [{ colour = "amber", at_mm = [50, 100], size_mm = [30, 20] }]
thing = [{ name = "can", at_mm = [150, 90], size_mm = [40, 20] }]
place = [{ name = "bench", at_mm = [100, 100] }]
[[piece]]
name = "bend"
often = 3
ways = ["west", "north"]
tape = [{ path = "M 0,100 A 100,100 0 0 0 100,0" }]
[[piece]]
name = "crossing"
ways = ["west", "north", "east", "south"]
leads = { west = "north", south = "south" }
tape = [{ path = "M 0,100 H 200" }, { path = "M 100,0 V 200" }]
[[piece]]
name = "stub"
role = "stub"
ways = ["west"]
tape = [{ path = "M 0,100 H 90" }]
[[piece]]
name = "dock"
role = "end"
ways = ["west"]
tape = [{ path = "M 0,100 H 120" }]
)";

std::string with(std::string text, const std::string& from, const std::string& to) {
    const std::size_t at = text.find(from);
    REQUIRE(at != std::string::npos);
    return text.replace(at, from.size(), to);
}

PieceSet small() {
    return parse_pieces(with(small_set, "leads = { west = \"north\", south = \"south\" }",
                             "leads = { west = \"north\", south = \"north\", north = \"south\" }"),
                        "small.pieces.toml");
}

Layout laid(const std::string& text, const PieceSet& set) {
    std::optional<Problem> problem;
    Layout layout = parse_layout(text, set, problem);
    REQUIRE_FALSE(problem);
    return layout;
}

std::string problem_of(const std::string& text) {
    std::optional<Problem> problem;
    const Layout layout = parse_layout(text, small(), problem);
    CHECK(layout.cells.empty());
    REQUIRE(problem);
    return std::to_string(problem->place.line) + ":" + std::to_string(problem->place.column) + " " + problem->message +
           " | " + problem->cure;
}

} // namespace

TEST_CASE("a layout is text: what is read is written back, in columns") {
    const PieceSet set = small();
    const Layout layout = laid("door aisle/180   bend/270\n\n .  crossing/90\n", set);
    CHECK(layout.columns == 3);
    CHECK(layout.rows == 2);
    CHECK(layout.at(0, 1).has_value() == false);
    CHECK(layout.at(2, 1).has_value() == false);
    CHECK(layout.at(-1, 0).has_value() == false);
    CHECK(layout.at(2, 0)->quarters == 3);
    const std::string text = text_of(layout, set);
    CHECK(text == "door  aisle/180    bend/270\n.     crossing/90  .\n");
    CHECK(text_of(laid(text, set), set) == text);
}

TEST_CASE("a layout that cannot be read says where and what would be right") {
    CHECK(problem_of("door aisle\n.  bendd") ==
          "2:4 \"bendd\" is no piece of the set (did you mean `bend`?) | pieces are "
          "door, aisle, bend, crossing, stub or dock; . is bare floor");
    CHECK(problem_of("door bend/45").starts_with("1:6 a piece cannot lie turned by \"45\" | write /90"));
    std::string wide;
    for (int i = 0; i <= most_layout_side; ++i) {
        wide += " aisle";
    }
    CHECK(problem_of(wide).find("at most 60 columns") != std::string::npos);
    std::string high;
    for (int i = 0; i <= most_layout_side; ++i) {
        high += "aisle\n";
    }
    CHECK(problem_of(high).find("at most 60 columns") != std::string::npos);
}

TEST_CASE("pieces come to lie side by side, turned counter-clockwise, with all that is on them") {
    const PieceSet set = small();
    const Course course = lay_out(set, laid("door  aisle     bend/180\n.     aisle/90  .", set));
    CHECK(course.width_mm == 600.0);
    CHECK(course.height_mm == 400.0);
    REQUIRE(course.markers.size() == 2);
    CHECK(course.markers[0].at == Vec2{250.0, 100.0});
    CHECK(course.markers[0].heading_deg == 0.0);
    CHECK(course.markers[1].at == Vec2{300.0, 350.0}); // 50 mm before the middle, from below
    CHECK(course.markers[1].heading_deg == 90.0);
    REQUIRE(course.things.size() == 2);
    CHECK(course.things[0].name == "can");
    CHECK(course.things[1].name == "can 2");
    CHECK(course.things[1].at == Vec2{290.0, 250.0});
    CHECK(course.things[1].heading_deg == 90.0);
    CHECK(course.find_place("bench 2")->at == Vec2{300.0, 300.0});
    REQUIRE(course.find_start("door") != nullptr);
    CHECK(course.find_start("door")->pose.at == Vec2{60.0, 100.0});
    // The bend turned by 180 degrees leads from the east to the south.
    const Tape& bend = course.tapes[2];
    CHECK(length(bend.path.front() - Vec2{600.0, 100.0}) < 1e-9);
    CHECK(length(bend.path.back() - Vec2{500.0, 200.0}) < 1e-9);
}

TEST_CASE("a line that runs against a neighbour without a way is told") {
    const PieceSet set = small();
    const Course wrong = lay_out(set, laid("aisle  bend", set));
    CHECK(wrong.warnings.empty()); // they meet
    const Course against = lay_out(set, laid("aisle  bend/180", set));
    REQUIRE(against.warnings.size() == 1);
    CHECK(against.warnings[0].message ==
          "the line of aisle in column 1 of row 1 runs east against bend, which has no way there");
}

TEST_CASE("a file of pieces says what is wrong with them") {
    const auto told = [](const std::string& from, const std::string& to) {
        return message_of([&] { parse_pieces(with(small_set, from, to), "p.pieces.toml"); });
    };
    const std::string leads = told("side_mm = 200", "side_mm = 200");
    CHECK(leads.find("p.pieces.toml:26:") != std::string::npos);
    CHECK(leads.find("no way leads from south to south") != std::string::npos);
    CHECK(told("ways = [\"west\", \"north\"]", "ways = [\"west\", \"norht\"]")
              .find("\"norht\" is no side (did you mean `north`?)") != std::string::npos);
    CHECK(told("M 0,100 H 90", "M 0,104 H 90").find("no tape ends at the middle of its west side, 0,100 mm") !=
          std::string::npos);
    CHECK(told("leads = { west = \"north\", south = \"south\" }", "").find("nothing says where the way leads") !=
          std::string::npos);
    CHECK(told("start = [{ name = \"door\", at_mm = [60, 100], heading_deg = 0 }]", "").find("a start has a pose") !=
          std::string::npos);
    CHECK(told("name = \"bend\"", "name = \"b/d\"").find("a layout could not name this piece") != std::string::npos);
    CHECK(told("name = \"dock\"", "name = \"stub\"").find("two pieces called \"stub\"") != std::string::npos);
    CHECK(told("role = \"end\"", "role = \"edn\"").find("did you mean `end`") != std::string::npos);
    CHECK(told("tape = [{ path = \"M 0,100 H 120\" }]", "drawing = \"dock.svg\"").find("takes no drawings") !=
          std::string::npos);
    CHECK(message_of([] {
              parse_pieces("name = \"n\"\nsize_mm = [3, 4]\n", "c.toml");
          }).find("this is a course, expected a file of pieces") != std::string::npos);
}

namespace {

/// Walks a layout by what its pieces lead to, and says what does not fit; empty when all does.
std::string misfit(const PieceSet& set, const Layout& layout, int wanted) {
    GridCell at{-1, -1};
    for (int row = 0; row < layout.rows; ++row) {
        for (int column = 0; column < layout.columns; ++column) {
            const auto& one = layout.at(column, row);
            for (const Side side : all_sides) {
                const GridCell next = beyond({column, row}, side);
                const auto& other = layout.at(next.column, next.row);
                const bool leads = has_way(set, one, side);
                if (one && leads && !other) {
                    return "a line ends on bare floor";
                }
                if (one && other && leads != has_way(set, other, opposite(side))) {
                    return "a line runs against an edge";
                }
            }
            if (one && set.pieces[one->piece].role == PieceRole::start) {
                at = {column, row};
            }
        }
    }
    if (at.column < 0) {
        return "there is no start";
    }
    Side out = turned(set.pieces[layout.at(at.column, at.row)->piece].ways[0], layout.at(at.column, at.row)->quarters);
    std::set<GridCell> seen{at};
    for (int steps = 0; steps < 5000; ++steps) {
        at = beyond(at, out);
        seen.insert(at);
        const LaidPiece& laid = *layout.at(at.column, at.row);
        const Piece& piece = set.pieces[laid.piece];
        if (piece.role == PieceRole::end) {
            return static_cast<int>(seen.size()) == wanted ? "" : "the way has another length";
        }
        if (piece.role != PieceRole::way) {
            return "the way leads onto what is no way";
        }
        const Side in = turned(opposite(out), -laid.quarters);
        if (piece.leads.count(in) > 0) {
            out = turned(piece.leads.at(in), laid.quarters);
        } else if (piece.leads.empty() && piece.ways.size() == 2) {
            out = turned(piece.ways[0] == in ? piece.ways[1] : piece.ways[0], laid.quarters);
        } else {
            return "the way leads into a piece that leads nowhere";
        }
    }
    return "the way does not end";
}

} // namespace

TEST_CASE("every shuffled layout fits: its way leads from the start over so many pieces to the end") {
    const PieceSet demo = load_pieces("data/fern-house/fern-house.pieces.toml");
    const PieceSet few = small();
    std::set<std::string> different;
    const auto layouts = static_cast<std::uint64_t>(fixtures::rounds(1500, 150, 25));
    for (std::uint64_t seed = 1; seed <= layouts; ++seed) {
        CAPTURE(seed);
        const Layout layout = shuffle_pieces(demo, {.pieces = 24}, seed);
        CHECK(misfit(demo, layout, 24) == "");
        CHECK(misfit(few, shuffle_pieces(few, {.pieces = 9}, seed), 9) == "");
        const auto cans = std::count_if(layout.cells.begin(), layout.cells.end(),
                                        [&](const auto& one) { return one && demo.pieces[one->piece].name == "can"; });
        CHECK(cans <= 2); // at_most
        different.insert(text_of(layout, demo));
        CHECK(text_of(shuffle_pieces(demo, {.pieces = 24}, seed), demo) == text_of(layout, demo));
    }
    CHECK(different.size() == layouts);
    CHECK(misfit(demo, shuffle_pieces(demo, {.pieces = 120}, 3), 120) == "");
    const Layout narrow = shuffle_pieces(demo, {.pieces = 8, .columns = 4, .rows = 5}, 4);
    CHECK(narrow.columns <= 4);
    CHECK(narrow.rows <= 5);
}

TEST_CASE("pieces that cannot be shuffled are refused, after a bounded search") {
    const PieceSet set = small();
    if (!fixtures::sanitized()) { // millions of candidates
        CHECK(message_of([&] {
                  shuffle_pieces(set, {.pieces = 30, .columns = 3, .rows = 3}, 1);
              }).find("no layout of 30 pieces that fit in 3 columns and 3 rows was found (seed 1)") !=
              std::string::npos);
    }
    PieceSet endless = set;
    std::erase_if(endless.pieces, [](const Piece& piece) { return piece.role == PieceRole::end; });
    CHECK(message_of([&] {
              shuffle_pieces(endless, {.pieces = 5}, 1);
          }).find("no piece of the set has the role \"end\"") != std::string::npos);
}
