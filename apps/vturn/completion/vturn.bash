# Completion of vturn for bash: the program itself says what may stand next, also names that stand in files.
_vturn() {
    local line
    local -a words=("${COMP_WORDS[@]:1:COMP_CWORD}")
    words=("${words[@]//\\/}") # as they are typed they may be quoted
    words=("${words[@]#[\"\']}")
    COMPREPLY=()
    while IFS= read -r line; do
        COMPREPLY+=("$(printf '%q' "$line")")
    done < <("${COMP_WORDS[0]}" --complete "${words[@]}" 2> /dev/null)
    if [[ ${#COMPREPLY[@]} -eq 1 && ${COMPREPLY[0]} == */ ]]; then
        compopt -o nospace
    fi
}
complete -F _vturn vturn
