#pragma once

/// The course, robot and plans that a call is about: those that it names, in any order, and in place of those that it
/// leaves out what the folder means (docs/files.md#a-folder).

#include <string>
#include <vector>

#include "vast_turn/formats/read/folder_file.hpp"

namespace vturn {

struct Streams;

/// A place for a file, or for files, of one kind.
struct WantedFile {
    vast_turn::FolderKind kind;
    std::string* one = nullptr;               ///< or
    std::vector<std::string>* many = nullptr; ///< where there may be several
    /// Its words stand in the call without an option in front, and the call cannot do without.
    bool is_needed = false;

    bool is_empty() const { return one != nullptr ? one->empty() : many->empty(); }
};

/// The file of a kind that a folder means, the first of several plans. Throws InputError with what to do when it means
/// none.
std::string meant_file(const vast_turn::FolderMeaning& folder, vast_turn::FolderKind kind);

/// Puts each word of the call into the place of its kind, by the ending of its name, also into one that an option would
/// fill, else by its order. Throws
/// InputError when one place is given two.
void sort_words(const std::vector<std::string>& words, const std::vector<WantedFile>& wanted);

/// Fills the empty places with what the folder of the first word (else the present folder) means, and tells that on the
/// error stream. Places that are not needed are filled only when none of them is: who names one of these says what
/// belongs to the call. Calibration and days are those of the folder's robot. Throws InputError when something needed
/// is still missing.
void fill_from_folder(const std::vector<std::string>& words, const std::vector<WantedFile>& wanted,
                      const Streams& streams);

} // namespace vturn
