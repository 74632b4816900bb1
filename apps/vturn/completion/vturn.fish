# Completion of vturn for fish: the program itself says what may stand next, also names that stand in files.
complete -c vturn -f -a '(vturn --complete (commandline -opc)[2..-1] (commandline -ct) 2> /dev/null)'
