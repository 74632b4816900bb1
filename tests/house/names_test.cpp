/// Two types of one name in one namespace break a program in ways that no compiler tells: each object file may take the
/// functions of the other.
#include <filesystem>
#include <map>
#include <regex>
#include <sstream>
#include <string>

#include <doctest/doctest.h>

#include "vast_turn/formats/read/text_file.hpp"

TEST_CASE("no two headers define types of one name in one namespace") {
    // Types of a namespace begin at the first column, those within others do not.
    const std::regex begins("^(?:struct|class|enum class) (\\w+)(?: :.*|<.*)? \\{.*");
    const std::regex space("^namespace ([\\w:]+) \\{.*");
    std::map<std::string, std::string> defined;
    for (const char* folder : {"include", "src", "apps"}) {
        for (const auto& entry : std::filesystem::recursive_directory_iterator(folder)) {
            if (entry.path().extension() != ".hpp") {
                continue;
            }
            std::istringstream text(vast_turn::read_file(entry.path().string()));
            std::string within;
            for (std::string line; std::getline(text, line);) {
                std::smatch found;
                if (std::regex_match(line, found, space)) {
                    within = found[1];
                } else if (std::regex_match(line, found, begins)) {
                    const auto made = defined.emplace(within + "::" + found[1].str(), entry.path().string());
                    const auto& first = *made.first;
                    CHECK_MESSAGE(made.second,
                                  first.first << " stands in " << first.second << " and " << entry.path().string());
                }
            }
        }
    }
    CHECK(defined.size() > 100);
    CHECK(defined.contains("vast_turn::Course"));
    CHECK(defined.contains("vast_turn::runtime::Machine"));
}
