# The first comment of a header is about the header: doxygen is told so.
0,/^\/\/\/ /s//\/\/\/ @file\n\/\/\/ /
