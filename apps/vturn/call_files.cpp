#include "call_files.hpp"

#include "vast_turn/base/crew.hpp"

#include <algorithm>
#include <filesystem>
#include <ostream>
#include <sys/stat.h>

#include <fmt/format.h>

#include "cli.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/write/text_file.hpp"

namespace vturn {

namespace {

/// Whether two names are of one file that is or would be a regular one.
bool same_file(const std::string& a, const std::string& b) {
    struct stat one {};
    struct stat other {};
    const bool one_is = ::stat(a.c_str(), &one) == 0;
    const bool other_is = ::stat(b.c_str(), &other) == 0;
    if (one_is && other_is) {
        return S_ISREG(one.st_mode) && one.st_dev == other.st_dev && one.st_ino == other.st_ino;
    }
    std::error_code fault;
    const auto whole = [&fault](const std::string& path) {
        return std::filesystem::weakly_canonical(std::filesystem::absolute(path, fault), fault);
    };
    return one_is == other_is && whole(a) == whole(b);
}

} // namespace

bool is_standard_output(const std::string& path) { return path == "-" || path.starts_with("-."); }

void CallFiles::reads(const std::string& name) {
    const std::size_t equals = name.find('=');
    struct stat there {};
    const bool is_whole = equals == std::string::npos || ::stat(name.c_str(), &there) == 0;
    if (!name.empty() && name != "-") {
        read_.push_back(is_whole ? name : name.substr(equals + 1));
    }
}

void CallFiles::writes(const std::string& path) {
    if (!path.empty()) {
        written_.push_back(path);
    }
}

std::size_t CallFiles::to_standard_output() const {
    return static_cast<std::size_t>(std::count_if(written_.begin(), written_.end(), is_standard_output));
}

void CallFiles::check() const {
    if (to_standard_output() > 1) {
        throw vast_turn::InputError("", "two outputs would go to standard output", "name a file for one of them");
    }
    for (std::size_t i = 0; i < written_.size(); ++i) {
        if (is_standard_output(written_[i])) {
            continue;
        }
        const std::string folder = std::filesystem::path(written_[i]).parent_path();
        std::error_code fault;
        const std::filesystem::file_type there = std::filesystem::status(folder, fault).type();
        if (!folder.empty() &&
            (there == std::filesystem::file_type::not_found || there == std::filesystem::file_type::regular)) {
            throw vast_turn::InputError(written_[i], fmt::format("cannot be written: there is no folder {}", folder),
                                        "make the folder, or write elsewhere");
        }
        for (const std::string& name : read_) {
            if (same_file(written_[i], name)) {
                throw vast_turn::InputError(written_[i],
                                            name == written_[i]
                                                ? "is read in the same call, so it is not written over"
                                                : fmt::format("would be written over what is read from {}", name),
                                            "name another file to write to");
            }
        }
        for (std::size_t k = 0; k < i; ++k) {
            if (!is_standard_output(written_[k]) && same_file(written_[i], written_[k])) {
                throw vast_turn::InputError(written_[i], "would be written twice in this call",
                                            "give each output a file of its own");
            }
        }
    }
}

void write_output(const Streams& streams, const std::string& path, std::string_view bytes) {
    if (streams.crew != nullptr && !streams.crew->is_first()) {
        return;
    }
    if (!is_standard_output(path)) {
        vast_turn::write_file(path, bytes);
        return;
    }
    streams.err.flush();
    streams.raw_out().write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    streams.raw_out().flush();
}

void say_next(const Streams& streams, const std::string& call, const std::string& what_for, bool same_files) {
    if (streams.out_is_terminal && !streams.quiet && streams.files != nullptr && !streams.files->is_within) {
        const std::string files = same_files ? streams.files->words : "";
        streams.out << fmt::format("\nnext: vturn {}{}{}   {}\n", call, files.empty() ? "" : " ", files, what_for);
    }
}

void also_reads(const Streams& streams, const std::string& path) {
    if (streams.files != nullptr && !path.empty()) {
        streams.files->reads(path);
        streams.files->check();
    }
}

} // namespace vturn
