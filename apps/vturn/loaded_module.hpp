#pragma once

/// Parts of vturn that are loaded when they are needed.

#include <string>

namespace vturn {

/// A function of a module that lies beside the program or where modules are installed ("vturn-pages.so"). Throws
/// InputError with `cure` when it is not there, or cannot be used.
void* function_of_module(const std::string& module, const char* function, const std::string& cure);

} // namespace vturn
