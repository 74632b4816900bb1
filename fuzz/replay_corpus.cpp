// Every target in one program that feeds each its corpus once: what the fuzzers once found is looked at again by the
// tests. One program compiles and links in a fraction of the time that a dozen take.
#include <array>
#include <cstddef>
#include <cstdint>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <string>

#define LLVMFuzzerTestOneInput take_bench
#define fuzz_words words_of_bench
#include "fuzz_bench.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_calibration
#define fuzz_words words_of_calibration
#include "fuzz_calibration.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_course
#define fuzz_words words_of_course
#include "fuzz_course.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_drawing
#define fuzz_words words_of_drawing
#include "fuzz_drawing.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_export
#define fuzz_words words_of_export
#include "fuzz_export.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_log
#define fuzz_words words_of_log
#include "fuzz_log.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_looks
#define fuzz_words words_of_looks
#include "fuzz_looks.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_pieces
#define fuzz_words words_of_pieces
#include "fuzz_pieces.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_plan
#define fuzz_words words_of_plan
#include "fuzz_plan.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_robot
#define fuzz_words words_of_robot
#include "fuzz_robot.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_told
#define fuzz_words words_of_told
#include "fuzz_told.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_trips
#define fuzz_words words_of_trips
#include "fuzz_trips.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput
#define LLVMFuzzerTestOneInput take_written
#define fuzz_words words_of_written
#include "fuzz_written.cpp"
#undef fuzz_words
#undef LLVMFuzzerTestOneInput

namespace {

struct Target {
    const char* name; // and the folder of its corpus
    int (*takes)(const std::uint8_t* data, std::size_t size);
};

constexpr std::array<Target, 13> targets{{{"bench", take_bench},
                                          {"calibration", take_calibration},
                                          {"course", take_course},
                                          {"drawing", take_drawing},
                                          {"export", take_export},
                                          {"log", take_log},
                                          {"looks", take_looks},
                                          {"pieces", take_pieces},
                                          {"plan", take_plan},
                                          {"robot", take_robot},
                                          {"told", take_told},
                                          {"trips", take_trips},
                                          {"written", take_written}}};

void replay(const Target& target, const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    const std::string bytes((std::istreambuf_iterator<char>(in)), std::istreambuf_iterator<char>());
    target.takes(reinterpret_cast<const std::uint8_t*>(bytes.data()), bytes.size());
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 2) {
        std::fputs("give the folder with a folder for each target\n", stderr);
        return 2;
    }
    for (const Target& target : targets) {
        int files = 0;
        const std::filesystem::path folder = std::filesystem::path(argv[1]) / target.name;
        for (const auto& entry : std::filesystem::directory_iterator(folder)) {
            replay(target, entry.path());
            ++files;
        }
        std::printf("%s: %d files replayed\n", target.name, files);
        if (files == 0) {
            return 1;
        }
    }
    return 0;
}
