/// The order of the rooms, kept: a file includes only its own room and those below it.
#include <algorithm>
#include <filesystem>
#include <fstream>
#include <map>
#include <set>
#include <string>
#include <vector>

#include <doctest/doctest.h>

namespace {

using Names = std::set<std::string>;

struct Room {
    std::string name; ///< its folder under src/ and include/vast_turn/
    Names may_use;    ///< other rooms
};

const Names up_to_plan = {"base",       "runtime",      "sense", "plan/text",
                          "plan/check", "plan/compile", "plan",  "plan/explain"};

Names with(Names names, const Names& more) {
    names.insert(more.begin(), more.end());
    return names;
}

/// From the bottom up. What a room may use stands above it in this list, so there is no circle.
const std::vector<Room> rooms = {
    {"base", {}},
    {"runtime", {}},
    {"sense", {"base", "runtime"}},
    {"plan/text", {"base", "runtime", "sense"}},
    {"plan/check", {"base", "runtime", "sense", "plan/text"}},
    {"plan/compile", {"base", "runtime", "sense", "plan/text", "plan/check"}},
    {"plan", {"base", "runtime", "sense", "plan/text", "plan/check", "plan/compile"}},
    {"plan/explain", {"base", "runtime", "sense", "plan/text", "plan/check", "plan/compile", "plan"}},
    {"course/floor", {"base"}},
    {"course/board", {"base", "course/floor"}},
    {"course/graph", {"base", "course/floor", "course/board"}},
    {"course/pieces", {"base", "course/floor", "course/board"}},
    {"robot", {"base", "runtime", "sense"}},
    {"assist", with(up_to_plan, {"robot"})},
    {"settings", with(up_to_plan, {"robot"})},
    {"emit", with(up_to_plan, {"robot"})},
    {"sim", with(up_to_plan, {"course/floor", "course/board", "course/graph", "robot"})},
    {"recorded", with(up_to_plan, {"course/floor", "course/board", "course/graph", "robot", "sim"})},
    {"fit", with({"base", "runtime", "sense"}, {"robot", "sim", "recorded"})},
    {"many", with(up_to_plan, {"course/floor", "course/board", "course/graph", "robot", "sim"})},
    {"step", with(up_to_plan, {"course/floor", "course/board", "course/graph", "robot", "sim"})},
    {"vet", with(up_to_plan, {"course/floor", "course/board", "course/graph", "robot", "emit", "sim"})},
    {"trial", with(up_to_plan, {"course/floor", "course/board", "course/graph", "robot", "sim", "many"})},
    {"sweep",
     with(up_to_plan, {"course/floor", "course/board", "course/graph", "robot", "settings", "sim", "many", "trial"})},
    {"tune", with(up_to_plan, {"robot", "settings", "sim", "many", "trial", "sweep", "course/floor", "course/board",
                               "course/graph"})},
    {"wire", with(up_to_plan, {"robot", "emit", "fit"})},
    {"formats/read", with(up_to_plan, {"course/floor", "course/board", "course/graph", "course/pieces", "robot",
                                       "settings", "emit", "sim", "fit", "vet", "trial"})},
    {"bench", with(up_to_plan, {"course/floor", "course/board", "course/graph", "robot", "settings", "emit", "sim",
                                "fit", "wire", "formats/read"})},
    {"formats/write", with(up_to_plan, {"course/floor", "course/board", "course/graph", "robot", "settings", "sim",
                                        "recorded", "fit", "vet", "trial", "sweep", "tune", "wire"})},
    {"paint",
     {"base", "sense", "course/floor", "course/board", "course/graph", "course/pieces", "robot", "sim", "trial",
      "formats/read"}},
    {"page", with(up_to_plan,
                  {"course/floor", "course/board", "course/graph", "robot", "sim", "step", "trial", "formats/write"})},
    {"view", with(up_to_plan, {"course/floor", "course/board", "course/graph", "robot", "settings", "sim", "step",
                               "recorded", "trial", "sweep", "tune", "paint"})},
};

/// The room that a path lies in, its folder as written here; the innermost that is known, or nothing.
std::string room_of(const std::string& path) {
    std::string found;
    for (const Room& room : rooms) {
        if (path.starts_with(room.name + "/") && room.name.size() > found.size()) {
            found = room.name;
        }
    }
    return found;
}

const Names& may_use(const std::string& name) {
    return std::find_if(rooms.begin(), rooms.end(), [&](const Room& r) { return r.name == name; })->may_use;
}

/// All files of the library with the room that each lies in.
struct LibraryFile {
    std::string path;
    std::string room;
};

std::vector<LibraryFile> library_files() {
    std::vector<LibraryFile> files;
    for (const std::string root : {"src/", "include/vast_turn/"}) {
        for (const auto& entry : std::filesystem::recursive_directory_iterator(root)) {
            const std::string path = entry.path().string();
            if (entry.is_regular_file() && (path.ends_with(".hpp") || path.ends_with(".cpp"))) {
                files.push_back({path, room_of(path.substr(root.size()))});
            }
        }
    }
    return files;
}

/// What a file includes.
std::vector<std::string> includes_of(const std::string& path) {
    const std::string word = "#include ";
    std::vector<std::string> list;
    std::ifstream in(path);
    for (std::string line; std::getline(in, line);) {
        if (line.starts_with(word) && line.size() > word.size() + 2) {
            const std::size_t from = word.size() + 1;
            list.push_back(line.substr(from, line.find_first_of(">\"", from) - from));
        }
    }
    return list;
}

/// The room of an include of ours, or nothing.
std::string room_of_include(const std::string& include) {
    const std::string prefix = "vast_turn/";
    return room_of(include.starts_with(prefix) ? include.substr(prefix.size()) : include);
}

} // namespace

TEST_CASE("every include points to the same room or one below, and no rooms use each other in a circle") {
    Names below;
    for (const Room& room : rooms) {
        for (const std::string& used : room.may_use) {
            CHECK_MESSAGE(below.contains(used), room.name << " may use " << used << ", which is not below it");
        }
        below.insert(room.name);
    }
    const auto files = library_files();
    CHECK(files.size() > 200);
    int checked = 0;
    for (const LibraryFile& file : files) {
        const std::string& path = file.path;
        const std::string& room = file.room;
        REQUIRE_MESSAGE(!room.empty(), path << " lies in no room that this test knows");
        for (const std::string& include : includes_of(path)) {
            const std::string other = room_of_include(include);
            const bool ours = include.starts_with("vast_turn/") && include != "vast_turn/version.hpp";
            CHECK_MESSAGE((!ours || !other.empty()), path << " includes " << include << ", which is in no room");
            CHECK_MESSAGE((other.empty() || other == room || may_use(room).contains(other)),
                          path << " includes " << include);
            checked += other.empty() ? 0 : 1;
        }
    }
    CHECK(checked > 500);
}

TEST_CASE("the map of CONTRIBUTING.md has a line for every room") {
    std::ifstream in("CONTRIBUTING.md");
    std::string text((std::istreambuf_iterator<char>(in)), std::istreambuf_iterator<char>());
    for (const Room& room : rooms) {
        CHECK_MESSAGE(text.find("| `" + room.name + "` |") != std::string::npos, room.name);
    }
}

TEST_CASE("the core neither prints nor opens files nor draws, and formats do not draw") {
    const Names drawing = {"cairo.h", "librsvg/rsvg.h", "CLI/CLI.hpp"};
    const Names forbidden = with(drawing, {"iostream", "fstream", "cstdio", "stdio.h", "print", "filesystem"});
    for (const LibraryFile& file : library_files()) {
        const std::string& path = file.path;
        const std::string& room = file.room;
        const bool core = room != "paint" && room != "view" && !room.starts_with("formats/");
        for (const std::string& include : includes_of(path)) {
            CHECK_MESSAGE(!(core && forbidden.contains(include)), path << " includes " << include);
            CHECK_MESSAGE(!(room.starts_with("formats/") && drawing.contains(include)),
                          path << " includes " << include);
        }
    }
}

TEST_CASE("the runtime is freestanding") {
    const Names allowed = {"cstddef", "cstdint"};
    int checked = 0;
    for (const LibraryFile& file : library_files()) {
        if (file.room != "runtime") {
            continue;
        }
        const std::string& path = file.path;
        for (const std::string& include : includes_of(path)) {
            const bool ours = include.starts_with("vast_turn/runtime/") || include.starts_with("runtime/");
            CHECK_MESSAGE((ours || allowed.contains(include)), path << " includes " << include);
            ++checked;
        }
    }
    CHECK(checked > 20);
}
