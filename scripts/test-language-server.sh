#!/usr/bin/env bash
# Tests vturn language-server with a real client, Neovim, and the settings that editors/neovim.lua gives it.
# test-language-server.sh [VTURN]; EDITS=10000 before it for that many edits.
set -euo pipefail
cd "$(dirname "$0")/.."
export VTURN=${1:-$PWD/build/release/apps/vturn/vturn}
export NEOVIM_FILE=$PWD/editors/neovim.lua
check=$PWD/tests/language-client/check.lua
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
export XDG_STATE_HOME=$folder/state XDG_CACHE_HOME=$folder/cache XDG_DATA_HOME=$folder/data XDG_CONFIG_HOME=$folder/config
"$VTURN" new "$folder/first" --sensors 3 > "$folder/new.log"
cd "$folder/first"
timeout 300 nvim --headless -u NONE -i NONE -n -c "luafile $check" < /dev/null 2>&1
