#include "watch/page_server.hpp"

#include "loaded_module.hpp"
#include "vast_turn/base/problem.hpp"

namespace vturn {

using vast_turn::InputError;

std::unique_ptr<PageServer> serve_pages(int port) {
    auto* const begin = reinterpret_cast<BeginToServe*>(
        function_of_module("vturn-pages.so", "vturn_begin_to_serve", "install vturn again"));
    std::string fault;
    std::unique_ptr<PageServer> server(begin(port, &fault));
    if (!server) {
        throw InputError("", fault, "name another one, or none: any that is free is taken then");
    }
    return server;
}

} // namespace vturn
