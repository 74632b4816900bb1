#!/usr/bin/env bash
# Exports a plan for a robot and builds it: for a bare chip with Debian's cross compilers (packages gcc-avr, avr-libc,
# gcc-arm-none-eabi), or for this computer.
#   build.sh VTURN PLAN ROBOT CALIBRATION 8-bit|32-bit|computer FOLDER [over-the-line|lean]
# With `over-the-line` the looks come over the chip's serial line; for the 8-bit one `chip-line` is built too (package
# libsimavr-dev), which plays the chip and ties its serial line to standard input and output. The computer's program always
# gets them there. `lean` exports with --lean, for a bare chip. NUMBERS=double has it compute in double.
set -euo pipefail
here=$(cd "$(dirname "$0")" && pwd)
vturn=$1 plan=$2 robot=$3 calibration=$4 chip=$5 folder=$6
also=() exported=()
case ${7:-} in
over-the-line) also=(-DOVER_THE_LINE) ;;
lean) also=(-DLEAN) exported=(--lean) ;;
esac
strict=(-std=c99 -Wall -Wextra -Wconversion -Wshadow -Wpedantic -Werror)
small=(-Os -ffunction-sections -fdata-sections -Wl,--gc-sections)
"$vturn" export "$plan" --numbers "${NUMBERS:-float}" --name plan --robot "$robot" --calibration "$calibration" -o "$folder" "${exported[@]}"
cd "$folder"
case $chip in
8-bit)
    avr-gcc "${strict[@]}" -Os -mmcu=atmega1284p -ffunction-sections -fdata-sections -c plan.c -o plan.o
    avr-gcc -std=gnu99 -Wall -Wextra -Werror "${small[@]}" -mmcu=atmega1284p -DF_CPU=16000000UL "${also[@]}" -I. \
        "$here/8-bit/main.c" plan.o -lm -o chip.elf
    avr-size chip.elf
    if [ "${7:-}" = over-the-line ]; then
        cc -std=gnu99 -O2 -Wall -Wextra -Werror "$here/simulated/chip-line.c" -lsimavr -o chip-line
    fi
    ;;
32-bit)
    cortex=(-mcpu=cortex-m3 -mthumb -ffreestanding)
    arm-none-eabi-gcc "${strict[@]}" -Os "${cortex[@]}" -ffunction-sections -fdata-sections -c plan.c -o plan.o
    arm-none-eabi-gcc -std=gnu99 -Wall -Wextra -Werror "${small[@]}" "${cortex[@]}" -nostdlib "${also[@]}" -I. \
        "$here/32-bit/main.c" "$here/32-bit/begin.c" plan.o -T "$here/32-bit/chip.ld" -lgcc -o chip.elf
    arm-none-eabi-size chip.elf
    ;;
computer)
    cc "${strict[@]}" -O1 -I. "$here/computer/main.c" plan.c -o plan
    ;;
*)
    echo "build.sh: the chip is 8-bit, 32-bit or computer, not $chip" >&2
    exit 2
    ;;
esac
