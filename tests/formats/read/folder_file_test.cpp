/// What a folder means: its file, else what is there.
#include <filesystem>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/folder_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using namespace vast_turn;

namespace {

void put(const fixtures::Folder& folder, const std::string& name) { write_file(folder.file(name), "x\n"); }

} // namespace

TEST_CASE("a folder means what is there when there is one of a kind") {
    const fixtures::Folder folder;
    put(folder, "aisle.course.toml");
    put(folder, "sprig-3.robot.toml");
    put(folder, "a.plan");
    put(folder, "b.plan");
    put(folder, ".hidden.robot.toml");
    put(folder, "a.plan~");
    std::filesystem::create_directory(folder.file("old.course.toml"));
    const FolderMeaning meant = read_folder(folder.path());
    CHECK(meant.file.empty());
    CHECK(meant[FolderKind::course].meant == std::vector{folder.file("aisle.course.toml")});
    CHECK(meant[FolderKind::robot].meant == std::vector{folder.file("sprig-3.robot.toml")});
    CHECK(meant[FolderKind::plan].meant.empty());
    CHECK(meant[FolderKind::plan].there == std::vector{folder.file("a.plan"), folder.file("b.plan")});
    CHECK(meant[FolderKind::calibration].meant.empty());
    CHECK(read_folder(folder.file("nowhere")).parts[0].there.empty());
}

TEST_CASE("the file of a folder says what is meant, also in the folders below it") {
    const fixtures::Folder folder;
    std::filesystem::create_directories(folder.file("plans/old"));
    put(folder, "aisle.course.toml");
    put(folder, "noon.course.toml");
    put(folder, "sprig-3.robot.toml");
    put(folder, "sprig-3.calibration.toml");
    put(folder, "plans/b.plan");
    put(folder, "plans/a.plan");
    write_file(folder.file("vturn.toml"), "course = \"noon.course.toml\"\n"
                                          "calibration = \"\"\n"
                                          "plans = [\"plans/b.plan\", \"plans/a.plan\"]\n");
    for (const std::string& from : {folder.path(), folder.file("plans"), folder.file("plans/old/")}) {
        CAPTURE(from);
        const FolderMeaning meant = read_folder(from);
        CHECK(std::filesystem::equivalent(meant.file, folder.file("vturn.toml")));
        REQUIRE(meant[FolderKind::course].meant.size() == 1);
        CHECK(std::filesystem::equivalent(meant[FolderKind::course].meant[0], folder.file("noon.course.toml")));
        CHECK(meant[FolderKind::robot].meant.size() == 1);   // the only one, of which the file says nothing
        CHECK(meant[FolderKind::calibration].meant.empty()); // the only one, and not meant
        REQUIRE(meant[FolderKind::plan].meant.size() == 2);
        CHECK(std::filesystem::equivalent(meant[FolderKind::plan].meant[0], folder.file("plans/b.plan")));
    }
}

TEST_CASE("faults of a folder's file are told at their places") {
    const fixtures::Folder folder;
    put(folder, "aisle.course.toml");
    write_file(folder.file("vturn.toml"), "course = \"aisel.course.toml\"\n"
                                          "robot = \"sprig.toml\"\n"
                                          "plan = \"a.plan\"\n"
                                          "days = \"../ordinary.days.toml\"\n"
                                          "calibration = \"/etc/x.calibration.toml\"\n");
    const std::string told = fixtures::message_of([&] { read_folder(folder.path()); });
    CAPTURE(told);
    for (const char* part :
         {"vturn.toml:1:", "there is no file `aisel.course.toml` here (did you mean `aisle.course.toml`?)",
          "name one that is there: aisle.course.toml", "vturn.toml:2:", "such names end with .robot.toml",
          "vturn.toml:3:", "plans", "vturn.toml:4:", "leads out of this folder", "vturn.toml:5:"}) {
        CAPTURE(part);
        CHECK(told.find(part) != std::string::npos);
    }
}
