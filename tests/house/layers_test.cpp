/// The order of the layers, kept: a file includes only its own layer and those below it.
#include <filesystem>
#include <fstream>
#include <map>
#include <set>

#include <doctest/doctest.h>

namespace {

using Names = std::set<std::string>;

const std::map<std::string, Names> may_include = {
    {"base", {}},
    {"sense", {"base"}},
    {"plan", {"base", "sense"}},
    {"course", {"base"}},
    {"robot", {"base", "sense"}},
    {"sim", {"base", "sense", "plan", "course", "robot"}},
    {"trial", {"base", "sense", "plan", "course", "robot", "sim"}},
    {"vet", {"base", "sense", "plan", "course", "robot", "sim"}},
    {"files", {"base", "sense", "plan", "course", "robot", "sim", "trial", "vet"}},
    {"view", {"base", "sense", "plan", "course", "robot", "sim", "trial"}},
};

/// All files of the library with the layer that each lies in.
std::map<std::string, std::string> library_files() {
    std::map<std::string, std::string> files;
    for (const std::string root : {"src/", "include/vast_turn/"}) {
        for (const auto& entry : std::filesystem::recursive_directory_iterator(root)) {
            const std::string path = entry.path().string();
            if (entry.is_regular_file() && (path.ends_with(".hpp") || path.ends_with(".cpp"))) {
                files[path] = path.substr(root.size(), path.find('/', root.size()) - root.size());
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

/// The layer of an include of ours, or nothing.
std::string layer_of(std::string include) {
    const std::string prefix = "vast_turn/";
    include = include.starts_with(prefix) ? include.substr(prefix.size()) : include;
    const std::string first = include.substr(0, include.find('/'));
    return include.find('/') != std::string::npos && may_include.contains(first) ? first : "";
}

} // namespace

TEST_CASE("every include points to the same layer or one below") {
    const auto files = library_files();
    CHECK(files.size() > 60);
    int checked = 0;
    for (const auto& [path, layer] : files) {
        REQUIRE_MESSAGE(may_include.contains(layer), path);
        for (const std::string& include : includes_of(path)) {
            const std::string other = layer_of(include);
            CHECK_MESSAGE((other.empty() || other == layer || may_include.at(layer).contains(other)),
                          path << " includes " << include);
            checked += other.empty() ? 0 : 1;
        }
    }
    CHECK(checked > 100);
}

TEST_CASE("the core neither prints nor opens files nor draws") {
    const Names forbidden = {"iostream", "fstream",    "cstdio",  "stdio.h",
                             "print",    "filesystem", "cairo.h", "CLI/CLI.hpp"};
    for (const auto& [path, layer] : library_files()) {
        if (layer == "files" || layer == "view") {
            continue;
        }
        for (const std::string& include : includes_of(path)) {
            CHECK_MESSAGE(!forbidden.contains(include), path << " includes " << include);
        }
    }
}

TEST_CASE("the runtime is freestanding") {
    const Names allowed = {"cstddef", "cstdint"};
    for (const auto& [path, layer] : library_files()) {
        if (path.find("plan/runtime/") == std::string::npos) {
            continue;
        }
        for (const std::string& include : includes_of(path)) {
            const bool ours = include.starts_with("vast_turn/plan/runtime/") || include.starts_with("plan/runtime/") ||
                              include == "vast_turn/runtime/line_position.hpp";
            CHECK_MESSAGE((ours || allowed.contains(include)), path << " includes " << include);
        }
    }
    CHECK(includes_of("include/vast_turn/runtime/line_position.hpp") == std::vector<std::string>{"cstdint"});
}
