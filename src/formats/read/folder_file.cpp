#include "vast_turn/formats/read/folder_file.hpp"

#include <algorithm>
#include <filesystem>
#include <optional>
#include <system_error>

#include <fmt/format.h>

#include "formats/read/toml_reader.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace vast_turn {

namespace {

namespace fs = std::filesystem;

constexpr std::array<FolderKind, folder_kinds> all_kinds = {
    FolderKind::course, FolderKind::robot, FolderKind::calibration, FolderKind::days, FolderKind::plan};

/// A name in a folder, as it is opened from where the caller stands.
std::string beside(const std::string& folder, const std::string& name) {
    return folder.empty() ? name : (fs::path(folder) / name).string();
}

void list_what_is_there(FolderMeaning& folder) {
    std::error_code fault;
    fs::directory_iterator entries(folder.path.empty() ? "." : folder.path, fault);
    for (; !fault && entries != fs::directory_iterator(); entries.increment(fault)) {
        const std::string name = entries->path().filename().string();
        std::error_code unknown;
        if (name.starts_with('.') || !entries->is_regular_file(unknown)) {
            continue;
        }
        for (const FolderKind kind : all_kinds) {
            if (name.ends_with(ending_of(kind))) {
                folder.parts[static_cast<std::size_t>(kind)].there.push_back(beside(folder.path, name));
            }
        }
    }
    for (FolderMeaning::Part& part : folder.parts) {
        std::sort(part.there.begin(), part.there.end());
    }
}

/// The nearest folder, from this one upwards, that has a file of its own.
std::optional<std::string> folder_with_file(const std::string& path) {
    std::error_code fault;
    const fs::path from = fs::absolute(path.empty() ? "." : path, fault).lexically_normal();
    std::string up = path;
    fs::path whole = from.has_filename() ? from : from.parent_path();
    while (!fault) {
        if (fs::is_regular_file(beside(up, std::string(folder_file_name)), fault)) {
            return up;
        }
        fault.clear();
        if (whole == whole.root_path()) {
            break;
        }
        whole = whole.parent_path();
        up = beside(up, "..");
    }
    return std::nullopt;
}

/// Reads the `vturn.toml` of a folder.
class FolderFile {
public:
    FolderFile(FolderMeaning& folder, std::string_view text)
        : folder_(folder), text_(text, folder.file), root_(text_.root()) {}

    void read() {
        for (const FolderKind kind : all_kinds) {
            const std::string key = kind == FolderKind::plan ? "plans" : std::string(name_of(kind));
            root_.mention(key.c_str());
            if (!root_.has(key.c_str())) {
                continue;
            }
            FolderMeaning::Part& part = folder_.parts[static_cast<std::size_t>(kind)];
            part.told = true;
            for (const std::string& name : names_under(key, kind)) {
                if (is_good(key, kind, name)) {
                    part.meant.push_back(beside(folder_.path, name));
                }
            }
        }
        root_.done();
        text_.finish();
    }

private:
    std::vector<std::string> names_under(const std::string& key, FolderKind kind) {
        if (kind == FolderKind::plan) {
            return root_.texts(key.c_str());
        }
        const std::string name = root_.text(key.c_str());
        return name.empty() ? std::vector<std::string>{} : std::vector{name}; // none is meant
    }

    bool is_good(const std::string& key, FolderKind kind, const std::string& name) {
        const auto fault = [&](std::string message, std::string cure) {
            root_.fault(key.c_str(), std::move(message), std::move(cure));
            return false;
        };
        if (!name.ends_with(ending_of(kind))) {
            return fault(fmt::format("`{}` is not the name of a {} file", name, name_of(kind)),
                         fmt::format("such names end with {}", ending_of(kind)));
        }
        const fs::path path = fs::path(name).lexically_normal();
        if (path.is_absolute() || *path.begin() == "..") {
            return fault(fmt::format("`{}` leads out of this folder", name),
                         "name a file of this folder or of one below it");
        }
        std::error_code unknown;
        if (!fs::is_regular_file(beside(folder_.path, name), unknown)) {
            std::vector<std::string> there;
            for (const std::string& one : folder_[kind].there) {
                there.push_back(fs::path(one).filename().string());
            }
            return fault(fmt::format("there is no file `{}` here{}", name, did_you_mean(name, there)),
                         there.empty() ? "name one that is there"
                                       : fmt::format("name one that is there: {}", one_of(there)));
        }
        return true;
    }

    FolderMeaning& folder_;
    TomlText text_;
    TomlTable root_;
};

void take_the_only_ones(FolderMeaning& folder) {
    for (FolderMeaning::Part& part : folder.parts) {
        if (!part.told && part.there.size() == 1) {
            part.meant = part.there;
        }
    }
}

} // namespace

std::string_view name_of(FolderKind kind) {
    constexpr std::array<std::string_view, folder_kinds> names = {"course", "robot", "calibration", "days", "plan"};
    return names[static_cast<std::size_t>(kind)];
}

std::string_view ending_of(FolderKind kind) {
    constexpr std::array<std::string_view, folder_kinds> endings = {".course.toml", ".robot.toml", ".calibration.toml",
                                                                    ".days.toml", ".plan"};
    return endings[static_cast<std::size_t>(kind)];
}

FolderMeaning read_folder(const std::string& path) {
    FolderMeaning folder;
    const std::optional<std::string> with_file = folder_with_file(path);
    folder.path = with_file.value_or(path);
    list_what_is_there(folder);
    if (with_file) {
        folder.file = beside(folder.path, std::string(folder_file_name));
        FolderFile(folder, read_file(folder.file)).read();
    }
    take_the_only_ones(folder);
    return folder;
}

FolderMeaning parse_folder(std::string_view text, const std::string& file) {
    FolderMeaning folder;
    folder.path = fs::path(file).parent_path().string();
    folder.file = file;
    list_what_is_there(folder);
    FolderFile(folder, text).read();
    take_the_only_ones(folder);
    return folder;
}

} // namespace vast_turn
