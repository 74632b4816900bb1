#include "support/golden.hpp"

#include <cstdlib>
#include <filesystem>
#include <sstream>

#include <doctest/doctest.h>

#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

namespace golden {

bool collecting() { return std::getenv("VTURN_COLLECT") != nullptr; }

void check(const std::string& name, const std::string& text) {
    const std::string path = "tests/golden/" + name;
    if (collecting()) {
        std::filesystem::create_directories("tests/golden");
        vast_turn::write_file(path, text);
        return;
    }
    REQUIRE_MESSAGE(std::filesystem::exists(path), path);
    const std::string expected = vast_turn::read_file(path);
    CHECK(text == expected);
}

std::vector<Case> catalogue(const std::string& path) {
    std::istringstream in(vast_turn::read_file(path));
    std::vector<Case> cases;
    std::string* part = nullptr;
    for (std::string line; std::getline(in, line);) {
        if (line.starts_with("=== ")) {
            cases.push_back({line.substr(4), "", ""});
            part = &cases.back().input;
        } else if (line == "---" && part != nullptr) {
            part = &cases.back().expected;
        } else if (part != nullptr) {
            *part += line + "\n";
        }
    }
    return cases;
}

void check_catalogue(const std::string& path, std::string (*message)(const std::string&)) {
    std::string written;
    for (const Case& one : catalogue(path)) {
        CAPTURE(one.title);
        const std::string seen = message(one.input);
        written += "=== " + one.title + "\n" + one.input + "---\n" + seen;
        if (!collecting()) {
            CHECK_FALSE(seen.empty());
            CHECK(seen == one.expected);
        }
    }
    if (collecting()) {
        vast_turn::write_file(path, written);
    }
}

} // namespace golden
