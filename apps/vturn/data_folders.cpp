#include "data_folders.hpp"

namespace vturn {

const char* const data_beside_sources = VTURN_SOURCE_DATA;
const char* const data_installed = VTURN_INSTALLED_DATA;
const char* const modules_from_program = VTURN_MODULES_FROM_PROGRAM;

} // namespace vturn
