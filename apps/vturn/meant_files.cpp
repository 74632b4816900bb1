#include "meant_files.hpp"

#include <algorithm>
#include <filesystem>
#include <optional>
#include <ostream>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "cli.hpp"
#include "vast_turn/base/problem.hpp"

namespace vturn {

using vast_turn::FolderKind;
using vast_turn::FolderMeaning;
using vast_turn::InputError;

namespace {

void put(const WantedFile& place, const std::string& word) {
    if (place.one != nullptr) {
        *place.one = word;
    } else {
        place.many->push_back(word);
    }
}

bool has_room(const WantedFile& place) { return place.many != nullptr || place.one->empty(); }

/// What an option names may stand without it too, where the ending of its name says what it is.
const WantedFile* place_by_ending(const std::string& word, const std::vector<WantedFile>& wanted) {
    for (const bool needed : {true, false}) {
        for (const WantedFile& place : wanted) {
            if (place.is_needed == needed && word.ends_with(ending_of(place.kind)) && has_room(place)) {
                return &place;
            }
        }
    }
    return nullptr;
}

/// For a word whose ending says nothing: the first place that is free. In a call that leaves files out, what is no TOML
/// is a plan.
const WantedFile* place_by_order(const std::string& word, const std::vector<WantedFile>& wanted, bool is_whole) {
    for (const WantedFile& place : wanted) {
        const bool fits = is_whole || place.kind == FolderKind::plan || word.ends_with(".toml");
        if (place.is_needed && fits && has_room(place)) {
            return &place;
        }
    }
    return nullptr;
}

std::string file_name(const std::string& path) { return std::filesystem::path(path).filename().string(); }

/// What to do where a folder does not say which file of a kind is meant.
InputError missing(const FolderMeaning& folder, FolderKind kind) {
    const FolderMeaning::Part& part = folder[kind];
    const std::string_view what = name_of(kind);
    const std::string where = folder.path.empty() ? "this folder" : folder.path;
    const std::string form = fmt::format("name a {} file (*{})", what, ending_of(kind));
    if (part.there.empty()) {
        return InputError("", fmt::format("no {} is named, and {} has none", what, where),
                          form + ", or begin a folder with all that is needed: vturn new FOLDER");
    }
    std::vector<std::string> names;
    constexpr std::size_t most = 4;
    for (std::size_t i = 0; i < std::min(most, part.there.size()); ++i) {
        names.push_back(file_name(part.there[i]));
    }
    const std::string more = part.there.size() > most ? ", ..." : "";
    const std::string line = kind == FolderKind::plan ? fmt::format("plans = [\"{}\"]", names.front())
                                                      : fmt::format("{} = \"{}\"", what, names.front());
    return InputError("",
                      part.told ? fmt::format("no {} is named, and {} says that none is meant", what, folder.file)
                                : fmt::format("no {} is named, and {} has {} of them", what, where, part.there.size()),
                      fmt::format("name one ({}{}), or write which is meant into {}: {}", fmt::join(names, ", "), more,
                                  vast_turn::folder_file_name, line));
}

/// "course practice.course.toml, plans a.plan and b.plan".
std::string told_part(FolderKind kind, const std::vector<std::string>& taken) {
    std::vector<std::string> names;
    for (const std::string& path : taken) {
        names.push_back(file_name(path));
    }
    return fmt::format("{}{} {}", name_of(kind), names.size() > 1 ? "s" : "", fmt::join(names, ", "));
}

/// Fills one place; what was taken, for the line that tells it.
std::optional<std::string> fill(const WantedFile& place, const FolderMeaning& folder) {
    std::vector<std::string> taken = folder[place.kind].meant;
    if (taken.empty()) {
        return std::nullopt;
    }
    if (place.one != nullptr) {
        taken.resize(1);
    }
    for (const std::string& path : taken) {
        put(place, path);
    }
    return told_part(place.kind, taken);
}

bool goes_with_the_robot(FolderKind kind) { return kind == FolderKind::calibration || kind == FolderKind::days; }

} // namespace

std::string meant_file(const FolderMeaning& folder, FolderKind kind) {
    if (folder[kind].meant.empty()) {
        throw missing(folder, kind);
    }
    return folder[kind].meant.front();
}

void sort_words(const std::vector<std::string>& words, const std::vector<WantedFile>& wanted) {
    const auto places =
        std::count_if(wanted.begin(), wanted.end(), [](const WantedFile& place) { return place.is_needed; });
    const bool is_whole = words.size() >= static_cast<std::size_t>(places);
    std::vector<std::string> others;
    for (const std::string& word : words) {
        if (const WantedFile* place = place_by_ending(word, wanted)) {
            put(*place, word);
        } else {
            others.push_back(word);
        }
    }
    for (const std::string& word : others) {
        const WantedFile* place = place_by_order(word, wanted, is_whole);
        if (place == nullptr) {
            throw InputError(word, "is a file more than this command takes",
                             "name one of each kind, course, robot and plan, as its --help says");
        }
        put(*place, word);
    }
}

void fill_from_folder(const std::vector<std::string>& words, const std::vector<WantedFile>& wanted,
                      const Streams& streams) {
    const auto is_asked = [](const WantedFile& place) { return !place.is_needed && !goes_with_the_robot(place.kind); };
    const bool takes_more = std::none_of(wanted.begin(), wanted.end(),
                                         [&](const WantedFile& place) { return is_asked(place) && !place.is_empty(); });
    const bool lacks = std::any_of(wanted.begin(), wanted.end(), [&](const WantedFile& place) {
        return place.is_empty() && (place.is_needed || (takes_more && is_asked(place)));
    });
    if (!lacks) {
        return;
    }
    const FolderMeaning folder =
        vast_turn::read_folder(words.empty() ? "" : std::filesystem::path(words.front()).parent_path().string());
    std::vector<std::string> told;
    bool took_robot = false;
    for (const WantedFile& place : wanted) {
        const bool wants = place.is_needed || (goes_with_the_robot(place.kind) ? took_robot : takes_more);
        if (!place.is_empty() || !wants) {
            continue;
        }
        if (const auto taken = fill(place, folder)) {
            told.push_back(*taken);
            took_robot = took_robot || place.kind == FolderKind::robot;
        } else if (place.is_needed) {
            throw missing(folder, place.kind);
        }
    }
    if (!told.empty() && !streams.quiet) {
        const std::string where = folder.path.empty() ? "this folder has" : folder.path + " has";
        streams.err << fmt::format("vturn: {}, as {}\n", fmt::join(told, ", "),
                                   folder.file.empty() ? where : folder.file + " says");
    }
}

} // namespace vturn
