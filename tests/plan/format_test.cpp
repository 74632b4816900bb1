#include "vast_turn/plan/format.hpp"

#include <algorithm>
#include <filesystem>

#include <doctest/doctest.h>

#include "plan/reference/model.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/plan/plan.hpp"

using namespace vast_turn;

namespace {

std::string laid_out(const std::string& text) { return format_plan(text, "plan").text; }

/// Blanks, tabs and blank lines put where they may stand.
std::string mangled(const std::string& text) {
    std::string out;
    bool comment = false;
    bool quoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        comment = c == '\n' ? false : comment || text.compare(i, 2, "//") == 0;
        quoted = c == '"' && !comment ? !quoted : quoted;
        out += c;
        if (c == ' ' && !comment && !quoted) {
            out += "\t ";
        } else if (c == '\n') {
            out += "\n   ";
        } else if (c == ',' && !comment && !quoted) {
            out += "\n\n  ";
        }
    }
    return out;
}

} // namespace

TEST_CASE("the canonical layout of a plan with everything in it") {
    const std::string wild =
        "// top\n\n\nplan   \"t\"  // name\nsensors 2\n  let a=  -4 //four\nlet longer = a*( 2+3 )\n"
        "guard   range<9 cm->hold\nhabit   f{ // it\n\n [# .]  mirrored->wheels( -1,a ) ,note(\"x  y\")\n"
        "seen>0 and\n  not button -> do  e( left ) // go\n// own\n else->keep\n\n}\n\n\nerrand e(way){\n"
        "ahead( 40 )over 60 mm\n}\n";
    CHECK(laid_out(wild) == "// top\n\nplan \"t\"    // name\nsensors 2\nlet a = -4  //four\nlet longer = a * (2 + 3)\n"
                            "guard range < 9cm -> hold\n\nhabit f {  // it\n"
                            "    [#.] mirrored           -> wheels(-1, a), note(\"x  y\")\n"
                            "    seen > 0 and not button -> do e(left)  // go\n    // own\n"
                            "    else                    -> keep\n}\n\nerrand e(way) { ahead(40) over 60mm }\n");
}

TEST_CASE("a comma behind a block goes on in the next line") {
    const std::string text =
        laid_out("plan \"t\"\nsensors 1\nerrand e {\n note(\"a\"), loop 2 { ahead(3) over 1mm }, note(\"b\")\n\n"
                 " if seen > 0 {\n still over 1s\n still over 2s\n }, halt\n}\n");
    CHECK(text ==
          "plan \"t\"\nsensors 1\n\nerrand e {\n    note(\"a\"), loop 2 { ahead(3) over 1mm },\n    note(\"b\")\n\n"
          "    if seen > 0 {\n        still over 1s\n        still over 2s\n    },\n    halt\n}\n");
    CHECK(laid_out(text) == text);
}

TEST_CASE("a line that is too long is parted where it may be, and a comment within a line stays there") {
    const std::string rule = "    [##] lasting 3 looks and sensor(1) > 0.25 and sensor(2) > 0.25 and travelled > 1.25m "
                             "or button -> note(\"long\"), halt\n    else -> keep\n";
    const std::string text = laid_out("plan \"t\"\nsensors 2\nhabit f {\n" + rule + "}\n");
    std::size_t longest = 0;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = text.find('\n', at);
        longest = std::max(longest, end - at);
        at = end + 1;
    }
    CHECK(longest <= 100);
    CHECK(laid_out(text) == text);
    const std::string inner = "plan \"t\"\nsensors 2\n\nhabit f {\n    seen > 0 and  // one\n        button -> halt\n"
                              "    else -> keep\n}\n";
    CHECK(laid_out(inner).find("seen > 0 and  // one\n") != std::string::npos);
    CHECK(laid_out(laid_out(inner)) == laid_out(inner));
}

TEST_CASE("laying out keeps the program and comments, and twice is once: model plans and random ones, as written and "
          "mangled") {
    std::vector<std::string> texts;
    for (const auto& entry : std::filesystem::directory_iterator("data/fern-house/plans")) {
        texts.push_back(read_file(entry.path().string()));
        CHECK(laid_out(texts.back()) == texts.back());
    }
    for (std::uint32_t seed = 7001; seed <= 7000 + static_cast<std::uint32_t>(fixtures::rounds(200, 120, 20)); ++seed) {
        texts.push_back(reference::written(reference::make(seed)));
    }
    for (const std::string& text : texts) {
        CAPTURE(text);
        const std::string once = laid_out(text);
        REQUIRE_FALSE(once.empty());
        CHECK(laid_out(once) == once);
        CHECK(fixtures::compiled(once).tables() == fixtures::compiled(text).tables());
        const std::string again = laid_out(mangled(text));
        CHECK(fixtures::compiled(again).tables() == fixtures::compiled(text).tables());
        CHECK(laid_out(again) == again);
        CHECK(std::count(once.begin(), once.end(), '/') == std::count(text.begin(), text.end(), '/'));
    }
}

TEST_CASE("a plan with errors is left alone and told of; format --check and format through the command line") {
    CHECK(format_plan("plan \"t\"\nsensors 2\nhabit f {\n", "plan").text.empty());
    fixtures::Folder folder;
    const std::string path = folder.file("a.plan");
    write_file(path, "plan \"t\"\nsensors 1\nhabit f {\n else->keep\n}\n");
    CHECK(fixtures::call_vturn({"format", "--check", path}).status == 1);
    CHECK(read_file(path).find("else->keep") != std::string::npos);
    CHECK(fixtures::call_vturn({"format", path}).status == 0);
    CHECK(read_file(path) == "plan \"t\"\nsensors 1\n\nhabit f {\n    else -> keep\n}\n");
    CHECK(fixtures::call_vturn({"format", "--check", path}).status == 0);
    const std::string bad = folder.file("b.plan");
    write_file(bad, "plan \"t\"\n");
    write_file(path, "plan \"t\"\nsensors 1\nhabit f {\n else->keep\n}\n");
    CHECK(fixtures::call_vturn({"format", path, bad}).status == 2);
    CHECK(read_file(path).find("else->keep") != std::string::npos); // nothing is half done
}

TEST_CASE("draw writes the graph in every form") {
    const std::string plan = "data/fern-house/plans/search.plan";
    const fixtures::Called dot = fixtures::call_vturn({"draw", plan});
    CHECK(dot.status == 0);
    CHECK(dot.out.find("b0 -> b2 [label=\" [.....] lasting 3 looks \\l\"]") != std::string::npos);
    CHECK(dot.out.find("b0 -> halt") != std::string::npos);
    fixtures::Folder folder;
    for (const auto& [name, begin] : std::vector<std::pair<std::string, std::string>>{
             {"a.svg", "<?xml"}, {"a.png", "\x89PNG"}, {"a.pdf", "%PDF"}, {"a.dot", "digraph"}}) {
        CHECK(fixtures::call_vturn({"draw", plan, "-o", folder.file(name)}).status == 0);
        CHECK(read_file(folder.file(name)).starts_with(begin));
    }
    CHECK(fixtures::call_vturn({"draw", plan, "-o", folder.file("a.txt")}).status == 2);
}
