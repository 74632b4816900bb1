#include "loaded_module.hpp"

#include <filesystem>

#include <dlfcn.h>
#include <fmt/format.h>

#include "data_folders.hpp"
#include "vast_turn/base/problem.hpp"

namespace vturn {

using vast_turn::InputError;

namespace fs = std::filesystem;

void* function_of_module(const std::string& module, const char* function, const std::string& cure) {
    std::error_code fault;
    const fs::path beside = fs::read_symlink("/proc/self/exe", fault).parent_path();
    std::string tried;
    for (const fs::path& path : {beside / module, beside / modules_from_program / module}) {
        if (!fs::exists(path, fault)) {
            tried += (tried.empty() ? "" : ", ") + path.lexically_normal().string();
            continue;
        }
        void* loaded = ::dlopen(path.c_str(), RTLD_NOW | RTLD_LOCAL);
        void* found = loaded == nullptr ? nullptr : ::dlsym(loaded, function);
        if (found == nullptr) {
            throw InputError(path.string(), fmt::format("this part of vturn cannot be used: {}", ::dlerror()), cure);
        }
        return found;
    }
    throw InputError(module, fmt::format("this part of vturn is not where it belongs: {}", tried), cure);
}

} // namespace vturn
