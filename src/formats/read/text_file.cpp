#include "vast_turn/formats/read/text_file.hpp"

#include <cerrno>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <istream>
#include <system_error>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

std::string read_file(const std::string& path, std::size_t largest) {
    std::error_code fault;
    if (std::filesystem::is_directory(path, fault)) {
        throw InputError(path, "is a folder, expected a file", "name a file in it");
    }
    std::ifstream in(path, std::ios::binary);
    if (!in) {
        throw InputError(path, fmt::format("cannot be read: {}", std::strerror(errno)),
                         "check the name and the folder");
    }
    return read_stream(in, path, largest);
}

std::string read_stream(std::istream& in, const std::string& name, std::size_t largest) {
    std::string bytes;
    constexpr std::size_t piece = std::size_t{1} << 16U;
    while (in && bytes.size() <= largest) {
        const std::size_t before = bytes.size();
        bytes.resize(before + piece);
        in.read(bytes.data() + before, static_cast<std::streamsize>(piece));
        bytes.resize(before + static_cast<std::size_t>(in.gcount()));
    }
    if (bytes.size() > largest) {
        throw InputError(name, fmt::format("is larger than {} MiB", largest >> 20U),
                         "check that this is the right file");
    }
    return bytes;
}

} // namespace vast_turn
