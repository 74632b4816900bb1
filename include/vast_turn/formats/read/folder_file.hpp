#pragma once

/// What a folder means: which course, robot, calibration, days and plans are meant by who names none (docs/files.md).

#include <array>
#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace vast_turn {

/// A kind of file that a folder can mean.
enum class FolderKind : std::size_t { course, robot, calibration, days, plan };
inline constexpr std::size_t folder_kinds = 5;

/// "course", "robot", "calibration", "days", "plan".
std::string_view name_of(FolderKind kind);

/// What names of such files end with: ".course.toml".
std::string_view ending_of(FolderKind kind);

/// What a folder means. Paths begin with the folder's own, as the caller wrote it, so that they can be opened.
struct FolderMeaning {
    /// Of one kind.
    struct Part {
        /// What is meant: the file says so, or it is the only one there. No more than one but for plans; of plans the
        /// first is meant where one is wanted.
        std::vector<std::string> meant;
        std::vector<std::string> there; ///< all of that kind in the folder, by name
        bool told = false;              ///< the folder's file says it, also that none is meant
    };

    std::string path; ///< of the folder itself
    std::string file; ///< its `vturn.toml`; empty where there is none, and what is there decides
    std::array<Part, folder_kinds> parts;

    const Part& operator[](FolderKind kind) const { return parts[static_cast<std::size_t>(kind)]; }
};

/// Name of the file that says what a folder means.
inline constexpr std::string_view folder_file_name = "vturn.toml";

/// What a folder means ("" for the present one). Its `vturn.toml` says so, or that of the nearest folder above that has
/// one; without any, what is there when there is one of a kind. Files below a folder are named by its `vturn.toml`
/// only. A folder that cannot be read means nothing. Throws InputError with every fault of the `vturn.toml`: unknown
/// keys, names that do not end as their kind does, that lead out of the folder, that are not there.
FolderMeaning read_folder(const std::string& path);

/// What a `vturn.toml` of this text would mean at this place; its folder is looked at. Throws InputError as
/// read_folder().
FolderMeaning parse_folder(std::string_view text, const std::string& file);

} // namespace vast_turn
