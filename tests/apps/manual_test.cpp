/// Manual pages and completion: what --help tells, in other forms.
#include <set>
#include <sstream>

#include <doctest/doctest.h>

#include "commands/commands.hpp"
#include "manual/man_pages.hpp"
#include "manual/reference_page.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using fixtures::Called;

namespace {

std::vector<std::string> proposed_words(std::vector<std::string> words) {
    words.insert(words.begin(), "--complete");
    const Called called = fixtures::call_vturn(words);
    CHECK(called.status == 0);
    CHECK(called.err.empty());
    std::istringstream lines(called.out);
    std::vector<std::string> list;
    for (std::string line; std::getline(lines, line);) {
        list.push_back(line);
    }
    return list;
}

using Words = std::vector<std::string>;
const std::string fern_files = "data/fern-house/";

/// What bash proposes for a line that is typed so far.
std::string in_bash(const std::string& words, int typed) {
    return fixtures::program("bash -c 'PATH=\"" + fixtures::built("apps/vturn") +
                             ":$PATH\"; source apps/vturn/completion/vturn.bash; COMP_WORDS=(" + words +
                             "); COMP_CWORD=" + std::to_string(typed) +
                             "; _vturn; printf \"%s\\n\" \"${COMPREPLY[@]}\"'")
        .out;
}

} // namespace

TEST_CASE("manual pages: one for each command, with every option of its help, and none that roff would complain of" *
          doctest::skip(fixtures::sanitized())) {
    std::istringstream in;
    std::ostringstream out;
    vturn::Streams streams{in, out, out};
    const auto commands = vturn::facts_of(vturn::all_commands(), streams);
    const auto pages = vturn::man_pages(commands);
    REQUIRE(pages.size() == commands.size() + 1);
    const fixtures::Folder folder;
    for (const auto& page : pages) {
        const std::string& name = page.first;
        const std::string& text = page.second;
        CAPTURE(name);
        vast_turn::write_file(folder.file(name), text);
        const Called shown =
            fixtures::program("MANWIDTH=200 LC_ALL=C.UTF-8 man --warnings -E UTF-8 -l " + folder.file(name) + " ");
        CHECK(shown.err.empty());
        CHECK(text.find(".SH NAME\n") != std::string::npos);
    }
    for (std::size_t i = 0; i < commands.size(); ++i) {
        CAPTURE(commands[i].name);
        const std::string shown =
            fixtures::program("MANWIDTH=200 LC_ALL=C.UTF-8 man -E UTF-8 -l " + folder.file(pages[i + 1].first)).out;
        for (const vturn::OptionFacts& option : commands[i].options) {
            const std::string first = option.names.substr(option.names.rfind(',') + 1);
            CAPTURE(first);
            CHECK(shown.find(first) != std::string::npos);
        }
        CHECK((shown.find("EXIT STATUS") == std::string::npos) ==
              (commands[i].footer.find("Exit status") == std::string::npos));
        CHECK(pages[0].second.find("vturn\\-" + commands[i].name.substr(0, 3)) != std::string::npos);
    }
}

TEST_CASE("page of commands: each of them, with every option, what it takes and its examples") {
    std::istringstream in;
    std::ostringstream out;
    vturn::Streams streams{in, out, out};
    const auto commands = vturn::facts_of(vturn::all_commands(), streams);
    const std::string page = vturn::reference_page(commands);
    std::size_t at = 0;
    for (const vturn::CommandFacts& command : commands) {
        CAPTURE(command.name);
        at = page.find("\n### vturn " + command.name + "\n", at);
        REQUIRE(at != std::string::npos); // in the order of the help
        const std::string section = page.substr(at + 1, page.find("\n### ", at + 1) - at);
        for (const vturn::OptionFacts& option : command.options) {
            CAPTURE(option.names);
            CHECK(section.find("\n`" + option.names + "`") != std::string::npos);
        }
        CHECK(section.find(command.footer) != std::string::npos);
    }
    CHECK(page.find("patterns without a rule") != std::string::npos);
}

TEST_CASE("completion: commands, options, files by their kinds, names that stand in files") {
    CHECK(proposed_words({"tr"}) == Words{"trips"});
    CHECK(proposed_words({""}).size() == vturn::all_commands().size());
    CHECK(proposed_words({"vet", "--ro"}) == Words{"--robot"});
    CHECK(proposed_words({"run", fern_files + "fern"}) == Words{fern_files + "fern-house.course.toml"});
    CHECK(proposed_words({"run", "dat"}) == Words{"data/"});
    CHECK(proposed_words({"run", fern_files + "fern-house.course.toml", "--start", ""}) == Words{"potting bench"});
    CHECK(proposed_words({"trips", fern_files + "fern-house.course.toml", "--filter", "fe"}) == Words{"fetch pots"});
    CHECK(proposed_words({"table", fern_files + "rounds.plan", "--habit", ""}) == Words{"follow", "line"});
    CHECK(proposed_words({"vet", "--robot", fern_files + "sprig-2."}) == Words{fern_files + "sprig-2.robot.toml"});
    CHECK(proposed_words({"run", "--numbers", ""}) == Words{"double", "float"});
    CHECK(proposed_words({"vet", "--explain", "plate-m"}) == Words{"plate-missed"});
    for (const Words& nothing : {Words{}, Words{"nothing", ""}, Words{"run", "/nowhere/x"},
                                 Words{"run", "/nowhere/x.course.toml", "--start", ""}}) {
        CHECK(proposed_words(nothing).empty());
    }
}

TEST_CASE("completion in bash: words with blanks are covered, also while they are typed") {
    CHECK(in_bash("vturn tri", 1) == "trips\n");
    const std::string call_so_far = "vturn run " + fern_files + "fern-house.course.toml --start ";
    CHECK(in_bash(call_so_far + "pot", 4) == "potting\\ bench\n");
    CHECK(in_bash(call_so_far + "\"potting\\\\ b\"", 4) == "potting\\ bench\n");
}
