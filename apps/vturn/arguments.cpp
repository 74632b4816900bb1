#include "arguments.hpp"

#include <algorithm>

#include <CLI/CLI.hpp>

#include "call_files.hpp"
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
        check(*files, *streams);
        *status = work();
    });
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
    return Command(app_->add_subcommand(name, about), status_, *streams_);
}

namespace {

constexpr const char* purpose = "Vast Turn: decision logic and route tests for line-tracking robots.\n"
                                "Results go to standard output, diagnostics to standard error.\n"
                                "Exit status: 0 passed, 1 the answer is no, 2 unusable input.";

std::vector<std::string> command_names(const CLI::App& app) {
    std::vector<std::string> names;
    for (const CLI::App* command : app.get_subcommands([](const CLI::App*) { return true; })) {
        names.push_back(command->get_name());
    }
    return names;
}

} // namespace

int parse_and_run(const std::vector<AddCommand>& commands, const std::vector<std::string>& arguments,
                  Streams& streams) {
    CLI::App app(purpose, "vturn");
    app.require_subcommand(1);
    app.set_version_flag("--version", vast_turn::version_text);
    int status = passed;
    Parser parser(app, status, streams);
    for (const AddCommand add : commands) {
        add(parser, streams);
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
