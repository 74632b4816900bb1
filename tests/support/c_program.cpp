#include "support/c_program.hpp"

#include <algorithm>
#include <cctype>
#include <cstdlib>
#include <cstring>

#include <dlfcn.h>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

namespace fixtures {

using namespace vast_turn;

/// All that a look can tell and all that an answer can say, as both sides of the call know it.
struct FlatLook {
    double clock_ms, sensor[8], raw[8], offset, last_side, way_mm, range_mm, heading[4], left_deg, right_deg,
        battery_pct;
    unsigned short markers, markers_at[4], heard;
    unsigned char line, button;
};
struct FlatAnswer {
    double left_pct, right_pct, value[32];
    int halted, rule, block, events, kind[32], what[32];
};

namespace {

const char* const flat_structs = R"(
struct flat_look {
    double clock_ms, sensor[8], raw[8], offset, last_side, way_mm, range_mm, heading[4], left_deg, right_deg, battery_pct;
    unsigned short markers, markers_at[4], heard;
    unsigned char line, button;
};
struct flat_answer {
    double left_pct, right_pct, value[32];
    int halted, rule, block, events, kind[32], what[32];
};
)";

/// The macro that names who is told what a lean program says.
std::string said_macro(const CSource& c) {
    std::string name = c.name + "_SAID";
    std::transform(name.begin(), name.end(), name.begin(), [](unsigned char x) { return std::toupper(x); });
    return name;
}

/// What a plan's header has of each input, and the assignment that fills it.
std::string assignments(const std::string& header, const std::string& number) {
    std::string text;
    const std::size_t look = header.find("_look {");
    const std::string only = header.substr(look, header.find("};", look) - look);
    const auto array = [&](const std::string& field) {
        if (only.find(" " + field + "[") != std::string::npos) {
            text += fmt::format(
                "    for (i = 0; i < sizeof in.{0} / sizeof in.{0}[0]; ++i) {{ in.{0}[i] = ({1})f->{0}[i]; }}\n", field,
                field == "markers_at" ? "uint16_t" : number);
        }
    };
    array("sensor");
    array("raw");
    array("markers_at");
    for (const char* field :
         {"clock_ms", "offset", "last_side", "way_mm", "range_mm", "left_deg", "right_deg", "battery_pct"}) {
        text += only.find(fmt::format(" {};", field)) == std::string::npos
                    ? ""
                    : fmt::format("    in.{0} = ({1})f->{0};\n", field, number);
    }
    const char* const turns[] = {"heading_deg", "heading_by_wheels_deg", "heading_by_gyro_deg",
                                 "heading_by_compass_deg"};
    for (std::size_t i = 0; i < 4; ++i) {
        text += only.find(fmt::format(" {};", turns[i])) == std::string::npos
                    ? ""
                    : fmt::format("    in.{} = ({})f->heading[{}];\n", turns[i], number, i);
    }
    for (const char* field : {"markers", "heard"}) {
        text += only.find(fmt::format(" {};", field)) == std::string::npos
                    ? ""
                    : fmt::format("    in.{0} = f->{0};\n", field);
    }
    text += only.find(" button;") == std::string::npos ? "" : "    in.button = f->button != 0;\n";
    return text;
}

} // namespace

std::string c_adapter(const CSource& c, bool lean) {
    std::string text = lean ? fmt::format("#define {0} {1}_heard\n", said_macro(c), c.name) : "";
    text += fmt::format("#include \"{}.c\"\n{}", c.name, flat_structs);
    text += R"(
static struct @_state s;
static void said(void *whom, uint8_t kind, uint16_t what, @_number value)
{
    struct flat_answer *a = whom;
    a->kind[a->events] = kind;
    a->what[a->events] = what;
    a->value[a->events++] = value;
}
unsigned long @_flat_bytes(void) { return sizeof s; }
)";
    text += lean ? R"(
static struct flat_answer *listener;
void @_heard(uint8_t kind, uint16_t what, @_number value) { said(listener, kind, what, value); }
void @_flat_reset(struct flat_answer *a) { listener = a; @_begin(&s); }
)"
                 : R"(
void @_flat_reset(struct flat_answer *a) { @_begin(&s, said, a); }
)";
    text += R"(void @_flat_look(const struct flat_look *f, struct flat_answer *a)
{
    static const struct @_look nothing;
    struct @_look in = nothing;
    struct @_answer out;
    unsigned i;
    (void)i;
    in.line = f->line;
)";
    text += assignments(c.header, c.name + "_number");
    text += R"(
    a->events = 0;
)";
    text += lean ? "    listener = a;\n" : "    s.whom = a;\n";
    text += R"(    @_look(&s, &in, &out);
    a->left_pct = out.left_pct;
    a->right_pct = out.right_pct;
    a->halted = out.halted;
)";
    text += lean ? "    a->rule = a->block = 0;\n}\n" : "    a->rule = out.rule;\n    a->block = out.block;\n}\n";
    text += R"(
)";
    for (std::size_t at = text.find("@_"); at != std::string::npos; at = text.find("@_", at)) {
        text.replace(at, 1, c.name);
    }
    return text;
}

namespace {

FlatLook flat(const Look& in) {
    FlatLook f{};
    f.clock_ms = in.clock_ms;
    std::memcpy(f.sensor, in.sensor, sizeof f.sensor);
    std::memcpy(f.raw, in.raw, sizeof f.raw);
    f.offset = in.offset;
    f.last_side = in.last_side;
    f.way_mm = in.way_mm;
    f.range_mm = in.range_mm;
    const double turns[] = {in.heading_deg, in.heading_by_wheels_deg, in.heading_by_gyro_deg,
                            in.heading_by_compass_deg};
    std::memcpy(f.heading, turns, sizeof f.heading);
    f.left_deg = in.left_deg;
    f.right_deg = in.right_deg;
    f.battery_pct = in.battery_pct;
    f.markers = in.markers;
    std::memcpy(f.markers_at, in.markers_at, sizeof f.markers_at);
    f.heard = in.heard;
    f.line = in.line_bits;
    f.button = in.button ? 1 : 0;
    return f;
}

} // namespace

struct CPrograms::Library {
    using Reset = void (*)(FlatAnswer*);
    using Step = void (*)(const FlatLook*, FlatAnswer*);
    Folder folder;
    void* handle = nullptr;
    std::vector<Reset> resets;
    std::vector<Step> steps;
    FlatAnswer answer{};
};

CPrograms::CPrograms(const std::vector<Plan>& plans, runtime::NumberKind numbers, const std::string& flags, bool lean)
    : library_(std::make_unique<Library>()) {
    const std::string folder = library_->folder.path() + "/";
    std::string files;
    for (std::size_t i = 0; i < plans.size(); ++i) {
        const CSource c = c_source(plans[i], {.numbers = numbers, .name = fmt::format("plan {}", i), .lean = lean});
        write_file(folder + c.name + ".h", c.header);
        write_file(folder + c.name + ".c", c.source);
        write_file(folder + c.name + "_flat.c", c_adapter(c, lean));
        files += c.name + "_flat.c ";
    }
    const std::string call =
        fmt::format("cd '{}' && {} -std=c99 -Wall -Wextra -Wconversion -Wshadow -Wpedantic -Werror {} -fPIC -shared {} "
                    "-o plans.so > said.txt 2>&1",
                    folder, sanitized() ? "clang" : "cc", flags, files);
    const int status = std::system(call.c_str()); // NOLINT(cert-env33-c): the test's own words, no one else's
    REQUIRE_MESSAGE(status == 0, read_file(folder + "said.txt"));
    library_->handle = dlopen((folder + "plans.so").c_str(), RTLD_NOW | RTLD_LOCAL);
    REQUIRE_MESSAGE(library_->handle != nullptr, dlerror());
    for (std::size_t i = 0; i < plans.size(); ++i) {
        library_->resets.push_back(
            reinterpret_cast<Library::Reset>(dlsym(library_->handle, fmt::format("plan_{}_flat_reset", i).c_str())));
        library_->steps.push_back(
            reinterpret_cast<Library::Step>(dlsym(library_->handle, fmt::format("plan_{}_flat_look", i).c_str())));
        reset(i);
    }
}

CPrograms::~CPrograms() {
    if (library_->handle != nullptr) {
        dlclose(library_->handle);
    }
}

std::size_t CPrograms::state_bytes(std::size_t plan) const {
    using Bytes = unsigned long (*)();
    return reinterpret_cast<Bytes>(dlsym(library_->handle, fmt::format("plan_{}_flat_bytes", plan).c_str()))();
}

void CPrograms::reset(std::size_t plan) { library_->resets[plan](&library_->answer); }

void CPrograms::look(std::size_t plan, const Look& in, Answer& out) {
    const FlatLook f = flat(in);
    FlatAnswer& a = library_->answer;
    library_->steps[plan](&f, &a);
    out = Answer{};
    out.left_pct = a.left_pct;
    out.right_pct = a.right_pct;
    out.halted = a.halted != 0;
    out.rule = RuleId(a.rule);
    out.block = static_cast<std::uint16_t>(a.block);
    for (int i = 0; i < a.events; ++i) {
        out.add(static_cast<EventKind>(a.kind[i]), static_cast<std::uint16_t>(a.what[i]), a.value[i]);
    }
}

} // namespace fixtures
