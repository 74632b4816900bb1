#include "vast_turn/formats/read/text_file.hpp"

#include <cerrno>
#include <cstring>
#include <filesystem>
#include <fstream>
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
    std::string bytes(largest + 1, '\0');
    in.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    bytes.resize(static_cast<std::size_t>(in.gcount()));
    if (bytes.size() > largest) {
        throw InputError(path, fmt::format("is larger than {} MiB", largest >> 20U),
                         "check that this is the right file");
    }
    return bytes;
}

} // namespace vast_turn
