# Everything beyond the library is built only when this is the project itself, not a guest in another.
option(VAST_TURN_BUILD_APPS "Build the vturn command" ${PROJECT_IS_TOP_LEVEL})
option(VAST_TURN_BUILD_EXAMPLES "Build the examples" ${PROJECT_IS_TOP_LEVEL})
option(VAST_TURN_BUILD_TESTS "Build the tests" ${PROJECT_IS_TOP_LEVEL})
option(VAST_TURN_BUILD_BENCH "Build the benchmark" OFF)
option(VAST_TURN_BUILD_PYTHON "Build the Python module (needs pybind11 and Python's headers; with static libraries they become position independent)" OFF)
set(VAST_TURN_SOURCE_DATA "${PROJECT_SOURCE_DIR}/data/fern-house" CACHE STRING "Where the command finds its demo data before it is installed; empty for a package")
option(VAST_TURN_WERROR "Treat warnings as errors" ${PROJECT_IS_TOP_LEVEL})
option(VAST_TURN_SANITIZE_THREADS "Build with the thread sanitizer; in place of TBB plain threads share out the work" OFF)
option(VAST_TURN_SANITIZE "Build with the address and undefined behaviour sanitizers" OFF)
option(VAST_TURN_FUZZ "Build coverage-guided fuzzers (needs clang and its runtime)" OFF)

# Pictures, pages and drawings need Cairo, librsvg, libjpeg, Poppler, Eigen, GLib, libpng and zlib. The command and the tests cannot do without; the libraries below can.
find_package(PkgConfig)
if(PKG_CONFIG_FOUND)
  pkg_check_modules(cairo IMPORTED_TARGET cairo)
  pkg_check_modules(rsvg IMPORTED_TARGET librsvg-2.0)
  pkg_check_modules(jpeg IMPORTED_TARGET libjpeg)
  pkg_check_modules(poppler IMPORTED_TARGET poppler-glib)
  pkg_check_modules(glib IMPORTED_TARGET glib-2.0)
  pkg_check_modules(gobject IMPORTED_TARGET gobject-2.0)
  pkg_check_modules(png IMPORTED_TARGET libpng)
  pkg_check_modules(zlib IMPORTED_TARGET zlib)
  pkg_check_modules(eigen eigen3) # headers only
endif()
if(cairo_FOUND AND rsvg_FOUND AND jpeg_FOUND AND poppler_FOUND AND eigen_FOUND AND glib_FOUND AND gobject_FOUND AND png_FOUND AND zlib_FOUND)
  set(can_paint ON)
else()
  set(can_paint OFF)
endif()
option(VAST_TURN_BUILD_PAINT "Build the libraries paint, view and page (need Cairo, librsvg, libjpeg, Poppler, Eigen, GLib, libpng and zlib)" ${can_paint})
if(VAST_TURN_BUILD_PAINT AND NOT can_paint)
  message(FATAL_ERROR "The libraries paint, view and page need Cairo, librsvg, libjpeg, Poppler, Eigen, GLib, libpng and zlib, and pkg-config "
                      "does not find all of them: install libcairo2-dev, librsvg2-dev, libjpeg-dev, libpoppler-glib-dev, libeigen3-dev, libglib2.0-dev, libpng-dev and zlib1g-dev, or set VAST_TURN_BUILD_PAINT to OFF")
endif()
if(NOT VAST_TURN_BUILD_PAINT)
  if(VAST_TURN_BUILD_APPS OR VAST_TURN_BUILD_EXAMPLES OR VAST_TURN_BUILD_TESTS OR VAST_TURN_BUILD_BENCH)
    message(FATAL_ERROR "The command, the examples, the tests and the benchmark paint courses, which needs Cairo, "
                        "librsvg, libjpeg, Poppler, Eigen, GLib, libpng and zlib: install libcairo2-dev, librsvg2-dev, libjpeg-dev, libpoppler-glib-dev, libeigen3-dev, libglib2.0-dev, libpng-dev and zlib1g-dev, or set VAST_TURN_BUILD_APPS, _EXAMPLES, "
                        "_TESTS and _BENCH to OFF")
  endif()
  message(STATUS "Vast Turn without its libraries paint, view and page")
endif()
if(PKG_CONFIG_FOUND)
  pkg_check_modules(nlopt IMPORTED_TARGET nlopt_cxx)
endif()
if(nlopt_FOUND AND eigen_FOUND)
  set(can_tune ON)
else()
  set(can_tune OFF)
endif()
option(VAST_TURN_BUILD_TUNING "Build the library tuning (needs NLopt and Eigen)" ${can_tune})
if((VAST_TURN_BUILD_TUNING OR VAST_TURN_BUILD_APPS OR VAST_TURN_BUILD_TESTS) AND NOT can_tune)
  message(FATAL_ERROR "The library tuning needs NLopt and Eigen, and so do the command and the tests: install libnlopt-cxx-dev and libeigen3-dev, or set VAST_TURN_BUILD_TUNING, _APPS and _TESTS to OFF")
endif()
option(BUILD_SHARED_LIBS "Build shared libraries" OFF)
if(BUILD_SHARED_LIBS OR VAST_TURN_BUILD_PYTHON)
  set(CMAKE_POSITION_INDEPENDENT_CODE ON)
endif()

if(PROJECT_IS_TOP_LEVEL)
  find_program(CCACHE ccache)
  if(CCACHE AND NOT CMAKE_CXX_COMPILER_LAUNCHER)
    # What it must be told to work with precompiled headers, and to know a source again in another clone.
    set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime CCACHE_BASEDIR=${CMAKE_SOURCE_DIR} CCACHE_NOHASHDIR=1 ${CCACHE})
  endif()
endif()

if(PROJECT_IS_TOP_LEVEL AND NOT CMAKE_BUILD_TYPE)
  set(CMAKE_BUILD_TYPE Release)
endif()
set(CMAKE_CXX_EXTENSIONS OFF)
set(CMAKE_EXPORT_COMPILE_COMMANDS ${PROJECT_IS_TOP_LEVEL})

# What every target of ours is compiled with; never part of what a user of the library inherits.
add_library(vast_turn_build INTERFACE)
target_compile_features(vast_turn_build INTERFACE cxx_std_20)
# A fused multiply-add rounds once where two operations round twice; without it a result depends on
# neither the optimisation level nor the processor.
# Names of files stand in what is compiled as from the top of the tree, so that each clone compiles the same.
target_compile_options(vast_turn_build INTERFACE -fmacro-prefix-map=${PROJECT_SOURCE_DIR}=. -ffp-contract=off -Wall -Wextra -Wpedantic -Wconversion -Wshadow)
if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU" AND CMAKE_CXX_COMPILER_VERSION VERSION_LESS 13)
  # GCC 12 sees overlaps in std::string that are not there (GCC bug 105651).
  target_compile_options(vast_turn_build INTERFACE -Wno-restrict)
endif()
if(VAST_TURN_WERROR)
  target_compile_options(vast_turn_build INTERFACE -Werror)
endif()
if(VAST_TURN_SANITIZE)
  # Left out: questions at every access through a pointer that double the time to compile and to run; the address
  # sanitizer finds what is null or out of bounds, and nothing here casts pointers.
  # A target with the property VAST_TURN_PLAIN is compiled without them.
  target_compile_options(vast_turn_build INTERFACE
                         $<$<NOT:$<BOOL:$<TARGET_PROPERTY:VAST_TURN_PLAIN>>>:-fsanitize=address,undefined;-fno-sanitize=null,alignment,object-size,vptr,pointer-overflow;-fno-sanitize-recover=all>
                         -fno-omit-frame-pointer)
  target_compile_definitions(vast_turn_build INTERFACE VAST_TURN_SANITIZED)
  target_link_options(vast_turn_build INTERFACE -fsanitize=address,undefined)
endif()
if(VAST_TURN_SANITIZE_THREADS)
  target_compile_options(vast_turn_build INTERFACE -fsanitize=thread)
  target_compile_definitions(vast_turn_build INTERFACE VAST_TURN_PLAIN_THREADS)
  target_link_options(vast_turn_build INTERFACE -fsanitize=thread)
endif()
if(VAST_TURN_FUZZ)
  target_compile_options(vast_turn_build INTERFACE -fsanitize=fuzzer-no-link)
endif()
