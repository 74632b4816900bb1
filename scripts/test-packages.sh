#!/usr/bin/env bash
# Installs the packages of build/package into a clean root of Debian 12 and uses them there. Needs root, debootstrap and a mirror, which
# is that of this machine's own apt unless MIRROR names another.
set -euo pipefail
cd "$(dirname "$0")/.."
mirror=${MIRROR:-$(apt-get indextargets --format '$(REPO_URI) $(ORIGIN)' | awk '$2 == "Debian" && $1 !~ /security/ && !n++ { print $1 }')}
root=$(mktemp -d)
leave() {
    umount "$root/proc" 2> /dev/null || true
    rm -rf "$root"
}
trap leave EXIT
debootstrap --variant=minbase bookworm "$root" "$mirror" > "$root.log" 2>&1 || { tail -20 "$root.log" >&2; exit 1; }
mount -t proc proc "$root/proc"
cp build/package/*.deb docs/first-steps.md tests/first-steps/run.py "$root/tmp"
rm -f "$root"/tmp/*dbgsym*
inside() { chroot "$root" /usr/bin/env -i PATH=/usr/sbin:/usr/bin:/sbin:/bin LC_ALL=C.UTF-8 DEBIAN_FRONTEND=noninteractive "$@"; }
inside sh -c 'apt-get -qq update && apt-get -qq install --no-install-recommends /tmp/*.deb g++ make pkg-config cmake man-db python3 > /tmp/apt.log 2>&1' ||
    { tail -20 "$root/tmp/apt.log" >&2; exit 1; }
inside vturn --version
inside python3 /tmp/run.py /tmp/first-steps.md /usr/bin/vturn
inside sh -c 'cd /tmp && vturn demo -o /tmp/demo > /tmp/demo.log'
inside python3 -c "import vast_turn as vt; ferns = '/usr/share/vast_turn/fern-house/'; course = vt.load_course(ferns + 'fern-house.course.toml')
run = vt.drive(vt.Scene(course, vt.load_robot(ferns + 'sprig-2.robot.toml')), vt.load_plan(ferns + 'left-first.plan'))
assert run.route[-1] == 'mist room' and run.looks['t_s'][-1] > 8, run"
inside sh -c 'man vturn-trips | head -4'
inside sh -c 'cd /tmp && printf "cmake_minimum_required(VERSION 3.25)\nproject(x CXX)\nfind_package(vast_turn REQUIRED COMPONENTS core)\nadd_executable(x x.cpp)\ntarget_link_libraries(x vast_turn::core)\n" > CMakeLists.txt &&
    printf "#include <vast_turn/plan/plan.hpp>\nint main() { return vast_turn::compile_plan(\"\", \"\").plan ? 1 : 0; }\n" > x.cpp && cmake -B b > /dev/null && cmake --build b > /dev/null && b/x'
inside sh -c 'apt-get -qq purge vturn libvast-turn0.1 > /dev/null 2>&1 && ! ls /usr/bin/vturn /usr/lib/*/vturn 2> /dev/null'
echo "the packages can be installed, used and removed"
