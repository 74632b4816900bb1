#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/base/problem.hpp"

using namespace vast_turn;

TEST_CASE("a file is written whole and replaces an older one") {
    const fixtures::Folder folder;
    const std::string bytes("a\0b\n", 4);
    write_file(folder.file("x"), "old");
    write_file(folder.file("x"), bytes);
    CHECK(read_file(folder.file("x")) == bytes);
    CHECK(folder.names() == std::vector<std::string>{"x"});
}

TEST_CASE("when a file cannot be written nothing is left behind") {
    const fixtures::Folder folder;
    CHECK_THROWS_AS(write_file(folder.file("no/such/folder"), "x"), InputError);
    CHECK_THROWS_AS(write_file(folder.path(), "x"), InputError); // a folder stands there
    CHECK(folder.names().empty());
}

TEST_CASE("what cannot be read says why") {
    const fixtures::Folder folder;
    const auto message = [](const std::string& path, std::size_t largest) {
        try {
            read_file(path, largest);
        } catch (const InputError& error) {
            return std::string(error.what());
        }
        return std::string();
    };
    CHECK(message(folder.file("none"), 100).find("cannot be read: No such file or directory") != std::string::npos);
    CHECK(message(folder.path(), 100).find("is a folder") != std::string::npos);
    write_file(folder.file("big"), std::string(101, 'x'));
    CHECK(message(folder.file("big"), 100).find("is larger than") != std::string::npos);
    CHECK(message(folder.file("big"), 101).empty());
    CHECK(message("/dev/zero", 1000).find("is larger than") != std::string::npos);
}
