#define DOCTEST_CONFIG_IMPLEMENT
#include <cairo.h>
#include <doctest/doctest.h>

int main(int argc, char** argv) {
    const int status = doctest::Context(argc, argv).run();
    cairo_debug_reset_static_data(); // its caches would count as leaks
    return status;
}
