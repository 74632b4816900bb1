#include "watch/page_server.hpp"

#include <filesystem>

#include <dlfcn.h>
#include <fmt/format.h>

#include "data_folders.hpp"
#include "vast_turn/base/problem.hpp"

namespace vturn {

using vast_turn::InputError;

namespace {

namespace fs = std::filesystem;

BeginToServe* loaded_module() {
    std::error_code fault;
    const fs::path beside = fs::read_symlink("/proc/self/exe", fault).parent_path();
    std::string tried;
    for (const fs::path& path : {beside / "vturn-pages.so", beside / modules_from_program / "vturn-pages.so"}) {
        if (!fs::exists(path, fault)) {
            tried += (tried.empty() ? "" : ", ") + path.lexically_normal().string();
            continue;
        }
        void* module = ::dlopen(path.c_str(), RTLD_NOW | RTLD_LOCAL);
        void* begin = module == nullptr ? nullptr : ::dlsym(module, "vturn_begin_to_serve");
        if (begin == nullptr) {
            throw InputError(path.string(), fmt::format("this part of vturn cannot be used: {}", ::dlerror()),
                             "install vturn again");
        }
        return reinterpret_cast<BeginToServe*>(begin);
    }
    throw InputError("vturn-pages.so", fmt::format("this part of vturn is not where it belongs: {}", tried),
                     "install vturn again");
}

} // namespace

std::unique_ptr<PageServer> serve_pages(int port) {
    BeginToServe* const begin = loaded_module();
    std::string fault;
    std::unique_ptr<PageServer> server(begin(port, &fault));
    if (!server) {
        throw InputError("", fault, "name another one, or none: any that is free is taken then");
    }
    return server;
}

} // namespace vturn
