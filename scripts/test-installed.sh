#!/usr/bin/env bash
# Installs the library from a build folder into a scratch folder and builds and runs programs that find it there, as
# users' projects would: one for each component, by find_package and by pkg-config. Those that need no Cairo are built
# where pkg-config finds none. Static or shared libraries, as the folder was built; CXX and CXXFLAGS are those it was
# built with.
set -euo pipefail
cd "$(dirname "$0")/.."
build=${1:-build/release}
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cmake --install "$build" --prefix "$work/installed" > /dev/null
data=$work/installed/share/vast_turn/fern-house
# Compiled once for every fresh clone: the same text, whatever the scratch folder is called.
cp -r tests/installed "$work/consumers"
launcher=
if command -v ccache > /dev/null; then
    launcher=ccache
    export CCACHE_BASEDIR=$work CCACHE_NOHASHDIR=1 CMAKE_CXX_COMPILER_LAUNCHER=ccache
fi
pkgconfig=$(dirname "$(find "$work/installed" -name 'vast_turn-core.pc')")

# A world without Cairo, librsvg, libjpeg and Poppler: copies of all that pkg-config knows, but for these.
mkdir "$work/plain"
IFS=: read -ra folders <<< "$(pkg-config --variable pc_path pkg-config)"
for folder in "${folders[@]}"; do
    [ -d "$folder" ] && find "$folder" -name '*.pc' ! -name 'cairo*' ! -name 'librsvg*' ! -name 'libjpeg*' ! -name 'poppler*' -exec ln -sf -t "$work/plain" {} +
done

say_failed() { echo "the installed component $1 does not work ($2)" >&2; exit 1; }
for component in runtime core tuning fitting formats paint view page; do
    world=()
    case "$component" in runtime | core | tuning | fitting | formats) world=(PKG_CONFIG_LIBDIR="$work/plain") ;; esac
    (
        env "${world[@]}" cmake -S "$work/consumers" -B "$work/$component" -G Ninja -DCOMPONENT="$component" \
            -DCMAKE_PREFIX_PATH="$work/installed" > "$work/$component.log" &&
            cmake --build "$work/$component" >> "$work/$component.log" && "$work/$component/consumer" "$data"
    ) || { cat "$work/$component.log" >&2; say_failed "$component" find_package; }
    flags=$(env "${world[@]}" PKG_CONFIG_PATH="$pkgconfig" pkg-config --cflags --libs "vast_turn-$component")
    # shellcheck disable=SC2086
    (cd "$work" && $launcher ${CXX:-c++} -std=c++20 ${CXXFLAGS:-} -c "consumers/$component.cpp" $flags -o "$component/by-pkg-config.o") &&
        ${CXX:-c++} ${CXXFLAGS:-} "$work/$component/by-pkg-config.o" $flags -o "$work/$component/by-pkg-config" &&
        LD_LIBRARY_PATH=${pkgconfig%/pkgconfig} "$work/$component/by-pkg-config" "$data" || say_failed "$component" pkg-config
done
is_static=$(find "$work/installed" -name 'libvast_turn_core.a')
if [ -n "$is_static" ] && env PKG_CONFIG_LIBDIR="$work/plain" cmake -S "$work/consumers" -B "$work/none" -G Ninja -DCOMPONENT=paint \
    -DCMAKE_PREFIX_PATH="$work/installed" > /dev/null 2>&1; then
    echo "the component paint is found where there is no Cairo" >&2
    exit 1
fi

# The Python module, where it was built.
if [ -n "$(find "$work/installed" -name 'vast_turn.cpython*')" ]; then
    environment=
    case "${CXXFLAGS:-}" in *sanitize*) environment="LD_PRELOAD=$($CXX -print-file-name=libclang_rt.asan-x86_64.so);ASAN_OPTIONS=detect_leaks=0" ;; esac
    cmake -S tests/installed/python -B "$work/python" -DCMAKE_PREFIX_PATH="$work/installed" -DDATA="$data" \
        -DENVIRONMENT="$environment" -DPython3_EXECUTABLE=/usr/bin/python3 > "$work/python.log" &&
        ctest --test-dir "$work/python" --output-on-failure >> "$work/python.log" || { cat "$work/python.log" >&2; say_failed python find_package; }
    grep -q '100% tests passed' "$work/python.log"
    echo "the installed Python module works"
fi

# The project itself can be configured there too, without what paints.
env PKG_CONFIG_LIBDIR="$work/plain" cmake -S . -B "$work/project" -G Ninja -DVAST_TURN_BUILD_APPS=OFF \
    -DVAST_TURN_BUILD_EXAMPLES=OFF -DVAST_TURN_BUILD_TESTS=OFF > "$work/project.log" ||
    { cat "$work/project.log" >&2; exit 1; }

command=$work/installed/bin/vturn
if [ -x "$command" ]; then
    "$command" table "$data/left-first.plan" > /dev/null
    # What it loads when it is needed: a drawing's library, and the module that serves pages.
    "$command" map "$data/glass-wing.course.toml" > /dev/null
    "$command" watch "$data/fern-house.course.toml" "$data/sprig-2.robot.toml" "$data/left-first.plan" > "$work/watch.log" 2>&1 &
    watch=$!
    for _ in $(seq 600); do
        grep -q 'http://127.0.0.1:' "$work/watch.log" && break
        sleep 0.1
    done
    kill -INT "$watch"
    wait "$watch" || true
    grep -q 'http://127.0.0.1:' "$work/watch.log" || { cat "$work/watch.log" >&2; exit 1; }
    for page in vturn vturn-trips vturn-language-server; do
        [ -s "$work/installed/share/man/man1/$page.1" ] || { echo "no manual page $page" >&2; exit 1; }
    done
    [ -s "$work/installed/share/bash-completion/completions/vturn" ]
    # The page for newcomers, its program in C++ too.
    if [ -n "$is_static" ]; then
        PKG_CONFIG_PATH="$pkgconfig" tests/first-steps/run.py docs/first-steps.md "$command"
    fi
    echo "the installed command works"
fi
echo "every component of the installed library works"
