#!/usr/bin/env bash
# Builds the documentation as a site: docs.sh [FOLDER] [COMMANDS.md]. FOLDER is build/site when not given; the page of the commands is that of build/release, which is built when it
# is not there. Needs sphinx, its parser of Markdown, furo and doxygen, which are installed where they are missing. A warning fails.
set -euo pipefail
cd "$(dirname "$0")/.."
out=$(realpath -m "${1:-build/site}")
commands=${2:-build/release/apps/vturn/commands.md}
wanted=()
for package in python3-sphinx python3-myst-parser furo libjs-normalize.css doxygen; do
    dpkg-query -W -f='${Status}' "$package" 2> /dev/null | grep -q 'ok installed' || wanted+=("$package")
done
if [ "${#wanted[@]}" -gt 0 ]; then
    as_root=()
    [ "$(id -u)" -eq 0 ] || as_root=(sudo)
    DEBIAN_FRONTEND=noninteractive "${as_root[@]}" apt-get -o DPkg::Lock::Timeout=300 install -y -qq --no-install-recommends "${wanted[@]}" >&2
fi
if [ ! -f "$commands" ]; then
    cmake --preset release > /dev/null
    cmake --build --preset release --target vturn_man_pages
fi
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT

rm -rf "$out"
mkdir -p "$out"
python3 docs/site/lay_out.py "$work" "$out"
cp "$commands" "$work/pages/commands.md"
version=$(sed -n 's/^project(vast_turn VERSION \([0-9.]*\).*/\1/p' CMakeLists.txt)
VAST_TURN_VERSION=$version sphinx-build -q -W --keep-going -b html -d "$work/trees" "$work/pages" "$out"
# The theme asks a web server for one style sheet; here it lies beside the others.
cp /usr/share/javascript/normalize.css/normalize.css "$out/_static/styles"
sed -i 's#^@import url([^)]*normalize.css);#@import url(normalize.css);#' "$out/_static/styles/furo.css"
rm -f "$out/.buildinfo" "$out/objects.inv"
if grep -rlF --include='*.html' --include='*.js' "$PWD" "$out" >&2; then # built elsewhere it would have other bytes
    echo "these pages name the folder in which they were built" >&2
    exit 1
fi
echo "the site is built: $out/index.html, $(find "$out" -name '*.html' | wc -l) pages"
