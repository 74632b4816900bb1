#include "data_folders.hpp"

namespace vturn {

const char* const data_beside_sources = VTURN_SOURCE_DATA;
const char* const data_installed = VTURN_INSTALLED_DATA;

} // namespace vturn
