#include "arguments.hpp"

#include <algorithm>
#include <iterator>

#include <CLI/CLI.hpp>

#include "call_files.hpp"
#include "completion/complete.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/version.hpp"

namespace vturn {

Option Option::required() {
    option_->required();
    return *this;
}

Option Option::shows_default() {
    option_->capture_default_str();
    return *this;
}

Option Option::one_value_each() {
    option_->allow_extra_args(false);
    return *this;
}

Option Option::values(int count) {
    option_->expected(count);
    return *this;
}

Option Option::within(int low, int high) {
    option_->check(CLI::Range(low, high));
    return *this;
}

Option Option::within(double low, double high) {
    option_->check(CLI::Range(low, high));
    return *this;
}

Option Option::excludes(const Option& other) {
    option_->excludes(other.option_);
    return *this;
}

Option Option::needs(const Option& other) {
    option_->needs(other.option_);
    return *this;
}

Option Command::option(const std::string& names, std::string& into, const std::string& help) {
    return Option(command_->add_option(names, into, help));
}

Option Command::option(const std::string& names, std::vector<std::string>& into, const std::string& help) {
    return Option(command_->add_option(names, into, help));
}

Option Command::option(const std::string& names, std::optional<double>& into, const std::string& help) {
    return Option(command_->add_option(names, into, help));
}

Option Command::option(const std::string& names, double& into, const std::string& help) {
    return Option(command_->add_option(names, into, help));
}

Option Command::option(const std::string& names, int& into, const std::string& help) {
    return Option(command_->add_option(names, into, help));
}

Option Command::option(const std::string& names, std::uint64_t& into, const std::string& help) {
    return Option(command_->add_option(names, into, help));
}

Option Command::option(const std::string& names, std::vector<std::pair<double, double>>& into,
                       const std::string& help) {
    return Option(command_->add_option(names, into, help));
}

Option Command::flag(const std::string& names, bool& into, const std::string& help) {
    return Option(command_->add_flag(names, into, help));
}

void Command::footer(const std::string& text) { command_->footer(text); }

void Command::does(std::function<int()> work) {
    command_->callback([work = std::move(work), status = status_, files = files_, streams = streams_] {
        find(*files, *streams);
        check(*files, *streams);
        *status = work();
    });
}

void Command::course(std::string& into) {
    word({vast_turn::FolderKind::course, &into, nullptr, true}, "COURSE", "course file (*.course.toml)");
}

void Command::robot(std::string& into) {
    word({vast_turn::FolderKind::robot, &into, nullptr, true}, "ROBOT", "robot file (*.robot.toml)");
}

void Command::plan(std::string& into, const std::string& help) {
    word({vast_turn::FolderKind::plan, &into, nullptr, true}, "PLAN", help);
}

void Command::plans(std::vector<std::string>& into, const std::string& help) {
    word({vast_turn::FolderKind::plan, nullptr, &into, true}, "PLAN", help);
}

void Command::word(const WantedFile& place, const std::string& name, const std::string& help) {
    files_->wanted.push_back(place);
    const CLI::Option* option = place.one != nullptr ? command_->add_option(name, *place.one, help)
                                                     : command_->add_option(name, *place.many, help);
    files_->words.emplace_back(
        [option] { return option->count() > 0 ? option->results() : std::vector<std::string>{}; });
    files_->read.emplace_back([place] { return place.one != nullptr ? list_of(*place.one) : list_of(*place.many); });
}

void Command::alone() {
    flag("--alone", files_->alone, "take no file that the call does not name, whatever the folder means");
}

namespace {

/// A word as one types it, so that a shell takes it for itself.
std::string for_a_shell(const std::string& word) {
    if (!word.empty() && word.find_first_of(" \t'\"\\$`*?[]{}()<>|&;#~!") == std::string::npos) {
        return word;
    }
    std::string covered = "'";
    for (const char c : word) {
        covered += c == '\'' ? std::string("'\\''") : std::string(1, c);
    }
    return covered + "'";
}

} // namespace

void Command::find(Files& files, const Streams& streams) {
    if (files.needless != nullptr && !files.needless->empty()) {
        return;
    }
    std::vector<std::string> words;
    for (const Names& given : files.words) {
        const std::vector<std::string> some = given();
        words.insert(words.end(), some.begin(), some.end());
    }
    for (const WantedFile& place : files.wanted) {
        if (place.is_needed) {
            place.one != nullptr ? place.one->clear() : place.many->clear();
        }
    }
    if (streams.files != nullptr) {
        for (const std::string& word : words) {
            streams.files->words += (streams.files->words.empty() ? "" : " ") + for_a_shell(word);
        }
    }
    sort_words(words, files.wanted);
    if (files.alone) { // what the call needs it still needs
        std::erase_if(files.wanted, [](const WantedFile& place) { return !place.is_needed; });
    }
    fill_from_folder(words, files.wanted, streams);
}

Option Command::prints_data(const std::string& names, bool& into, const std::string& help) {
    files_->prints_data.push_back(&into);
    return flag(names, into, help);
}

void Command::check(const Files& files, Streams& streams) {
    if (streams.files == nullptr) {
        return;
    }
    for (const Names& names : files.read) {
        for (const std::string& name : names()) {
            streams.files->reads(name);
        }
    }
    for (const Names& names : files.written) {
        for (const std::string& name : names()) {
            streams.files->writes(name);
        }
    }
    streams.files->check();
    if (streams.files->to_standard_output() == 0) {
        return;
    }
    if (std::any_of(files.prints_data.begin(), files.prints_data.end(), [](const bool* asked) { return *asked; })) {
        throw vast_turn::InputError("", "a file and what is printed would both go to standard output",
                                    "name a file to write to");
    }
    streams.out.rdbuf(streams.err.rdbuf()); // what is told of it goes beside it
}

Command Parser::command(const std::string& name, const std::string& about) {
    CLI::App* command = app_->add_subcommand(name, about);
    command->add_flag("--quiet", streams_->quiet, "print results, warnings and faults, and nothing else");
    return Command(command, status_, *streams_);
}

namespace {

constexpr const char* purpose = "Vast Turn: decision logic and route tests for line-tracking robots.\n"
                                "Results go to standard output, diagnostics to standard error.\n"
                                "Exit status: 0 passed, 1 the answer is no, 2 unusable input.";

/// What people do first, for a call without a word.
constexpr const char* first_steps =
    "Vast Turn: decision logic and route tests for line-tracking robots. What people do first:\n\n"
    "  vturn new my-robot    begin a folder: a robot, a course, a plan that follows its line, a trip that passes\n"
    "  vturn map             the course: its lines, bends, gaps and junctions, from tape, a drawing or a photograph\n"
    "  vturn table           what the plan does for each pattern of the sensors\n"
    "  vturn trips           does the robot go where it should, and if not, why\n"
    "  vturn watch           a run in the browser, driven anew whenever a file is saved\n\n"
    "They take what the present folder means, or the files that you name. All commands: vturn --help\n";

/// The version, and what of the build may matter to who reports a fault. The same build tells the same.
std::string version_facts() {
#if defined(__clang__)
    const char* compiler = "Clang " __clang_version__;
#else
    const char* compiler = "GCC " __VERSION__;
#endif
#if defined(__OPTIMIZE__) && defined(NDEBUG)
    const char* kind = "optimised";
#elif defined(__OPTIMIZE__)
    const char* kind = "optimised, with assertions";
#else
    const char* kind = "not optimised, with assertions";
#endif
    return std::string("vturn ") + vast_turn::version_text + "\nbuilt  " + kind + ", " + compiler + ", C++20\n";
}

std::vector<std::string> command_names(const CLI::App& app) {
    std::vector<std::string> names;
    for (const CLI::App* command : app.get_subcommands([](const CLI::App*) { return true; })) {
        names.push_back(command->get_name());
    }
    return names;
}

} // namespace

namespace {

/// "INT:INT in [1 - 100]" as people say it: "number (1 to 100)".
std::string value_words(const std::string& type) {
    std::string words = type.starts_with("TEXT") ? "text" : "number";
    const std::size_t from = type.find('[');
    const std::size_t dash = type.find(" - ", from);
    if (from != std::string::npos && dash != std::string::npos) {
        words += " (" + type.substr(from + 1, dash - from - 1) + " to " +
                 type.substr(dash + 3, type.find(']') - dash - 3) + ")";
    }
    return words;
}

} // namespace

std::vector<CommandFacts> facts_of(const std::vector<NamedCommand>& commands, Streams& streams) {
    CLI::App app(purpose, "vturn");
    int status = passed;
    Parser parser(app, status, streams);
    std::vector<CommandFacts> all;
    for (const NamedCommand& one : commands) {
        one.add(parser, streams);
        const CLI::App* command = app.get_subcommand(one.name);
        CommandFacts facts{one.name, one.step, command->get_description(), command->get_footer(), {}};
        for (const CLI::Option* option : command->get_options()) {
            const bool is_word = option->get_positional();
            facts.options.push_back(
                {is_word ? option->get_name(true) : option->get_name(false, true),
                 is_word || option->get_items_expected_max() == 0 ? "" : value_words(option->get_type_name()),
                 option->get_description(), is_word});
        }
        all.push_back(std::move(facts));
    }
    return all;
}

int parse_and_run(const std::vector<NamedCommand>& commands, const std::vector<std::string>& arguments,
                  Streams& streams) {
    CLI::App app(purpose, "vturn");
    app.require_subcommand(1);
    app.set_version_flag("--version", version_facts());
    int status = passed;
    Parser parser(app, status, streams);
    // A call that names a command needs no other: options of twenty take as long to set up as a small plan to tabulate.
    const auto is_named = [&](const NamedCommand& one) { return !arguments.empty() && arguments.front() == one.name; };
    const bool knows_which = std::any_of(commands.begin(), commands.end(), is_named);
    for (const NamedCommand& one : commands) {
        if (!knows_which || is_named(one)) {
            one.add(parser, streams);
            app.get_subcommand(one.name)->group(one.step);
        }
    }
    if (arguments.size() == 1 && arguments.front() == "--version") {
        streams.out << version_facts();
        return passed;
    }
    if (!arguments.empty() && arguments.front() == "--complete") { // asked by shells, so no option of people's
        const std::vector<std::string> typed(arguments.begin() + 1, arguments.end());
        std::vector<NamedCommand> about;
        std::copy_if(commands.begin(), commands.end(), std::back_inserter(about), [&](const NamedCommand& one) {
            return typed.size() < 2 || typed.front() == one.name; // behind its name one command is enough
        });
        for (const std::string& word : completions(facts_of(about, streams), typed)) {
            streams.out << word << "\n";
        }
        return passed;
    }
    if (arguments.empty()) {
        streams.err << first_steps;
        return unusable;
    }
    std::vector<std::string> reversed(arguments.rbegin(), arguments.rend()); // as the parser wants them
    try {
        app.parse(reversed);
        return status;
    } catch (const CLI::Success& asked) { // --help and --version
        app.exit(asked, streams.out, streams.err);
        return passed;
    } catch (const CLI::ParseError& fault) {
        streams.err << "vturn: " << fault.what() << "\n";
        if (!arguments.empty() && arguments.front().front() != '-' && app.get_subcommands().empty()) {
            const std::vector<std::string> names = command_names(app);
            streams.err << "  `" << arguments.front() << "` is no command"
                        << vast_turn::did_you_mean(arguments.front(), names) << "; commands are "
                        << vast_turn::one_of(names) << "\n";
        }
        streams.err << "  to do: see vturn "
                    << (app.get_subcommands().empty() ? "" : app.get_subcommands().front()->get_name() + " ")
                    << "--help\n";
        return unusable;
    }
}

} // namespace vturn
