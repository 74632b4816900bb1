// Any text is read as a file of pieces; what is one is shuffled and laid out.
#include <cstdint>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/course/pieces/lay_out.hpp"
#include "vast_turn/course/pieces/shuffle.hpp"
#include "vast_turn/formats/read/pieces_file.hpp"

std::vector<std::string_view> fuzz_words() {
    return {"name",        "side_mm", "cell_mm", "floor", "line",    "width_mm", "[palette]", "amber",  "[[piece]]",
            "role",        "start",   "end",     "stub",  "ways",    "leads",    "west",      "east",   "north",
            "south",       "often",   "at_most", "tape",  "path",    "gaps_mm",  "marker",    "colour", "at_mm",
            "heading_deg", "thing",   "place",   "wall",  "drawing", "M",        "H",         "V",      "A"};
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace vast_turn;
    try {
        const PieceSet set = parse_pieces({reinterpret_cast<const char*>(data), size}, "fuzz");
        for (const std::uint64_t seed : {1U, 2U}) {
            lay_out(set, shuffle_pieces(set, {.pieces = 5, .columns = 6, .rows = 6}, seed));
        }
    } catch (const InputError&) { // NOLINT(bugprone-empty-catch): refused with a reason
    }
    return 0;
}
