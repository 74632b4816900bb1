#pragma once

/// What commands tell the parser of arguments. The parser itself (CLI11) stands in arguments.cpp alone: its headers
/// take longer to compile than all commands together.

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "cli.hpp"
#include "meant_files.hpp"

namespace CLI {
class App;
class Option;
} // namespace CLI

namespace vturn {

/// An option, flag or positional argument that was added to a command. Each call returns the option itself.
class Option {
public:
    explicit Option(CLI::Option* option) : option_(option) {}

    Option required();
    Option shows_default();
    Option one_value_each(); ///< it may be given again; the words after its value are not its own
    Option values(int count);
    Option within(int low, int high);
    Option within(double low, double high);
    Option excludes(const Option& other);
    Option needs(const Option& other);

private:
    CLI::Option* option_;
};

/// A command's place in the parser. What is read goes into variables that must outlive the parsing.
class Command {
public:
    Command(CLI::App* command, int* status, Streams& streams)
        : command_(command), status_(status), streams_(&streams), files_(std::make_shared<Files>()) {}

    Option option(const std::string& names, std::string& into, const std::string& help);
    Option option(const std::string& names, std::vector<std::string>& into, const std::string& help);
    Option option(const std::string& names, std::optional<double>& into, const std::string& help);
    Option option(const std::string& names, double& into, const std::string& help);
    Option option(const std::string& names, int& into, const std::string& help);
    Option option(const std::string& names, std::uint64_t& into, const std::string& help);
    Option option(const std::string& names, std::vector<std::pair<double, double>>& into, const std::string& help);
    /// Options that name files: what is read, and what is written. Before the command works it is checked that no
    /// file is both, see CallFiles.
    template <class Into> Option reads(const std::string& names, Into& into, const std::string& help) {
        files_->read.push_back([&into] { return list_of(into); });
        return option(names, into, help);
    }
    template <class Into> Option writes(const std::string& names, Into& into, const std::string& help) {
        files_->written.push_back([&into] { return list_of(into); });
        return option(names, into, help);
    }
    /// The course, robot and plans that the command is about: words of the call without an option in front, in this
    /// order or told apart by the endings of their names. What the call leaves out is what the folder means, see
    /// meant_files.hpp.
    void course(std::string& into);
    void robot(std::string& into);
    void plan(std::string& into, const std::string& help = "plan file (*.plan)");
    void plans(std::vector<std::string>& into, const std::string& help);
    /// An option that names a file which the command can do without: the folder's when neither the call nor `alone`
    /// says otherwise.
    template <class Into>
    Option may_read(vast_turn::FolderKind kind, const std::string& names, Into& into, const std::string& help) {
        files_->wanted.push_back({kind, &into, nullptr, false});
        return reads(names, into, help);
    }
    /// With this option the command is not about any file.
    void about_no_file_with(const std::string& option) { files_->needless = &option; }
    /// A flag: what the call does not name is left out, whatever the folder means.
    void alone();

    /// A flag with which the command prints data to standard output, so that no file may go there too.
    Option prints_data(const std::string& names, bool& into, const std::string& help);
    Option flag(const std::string& names, bool& into, const std::string& help);

    /// What stands below its help.
    void footer(const std::string& text);
    /// What it does once everything is read; returns the exit status.
    void does(std::function<int()> work);

private:
    using Names = std::function<std::vector<std::string>()>;
    struct Files {
        std::vector<Names> read;
        std::vector<Names> written;
        std::vector<const bool*> prints_data;
        std::vector<WantedFile> wanted;
        std::vector<Names> words; ///< as given, in the order of the call
        bool alone = false;
        const std::string* needless = nullptr; ///< about no file when it is given
    };
    static std::vector<std::string> list_of(const std::string& one) { return {one}; }
    static std::vector<std::string> list_of(const std::vector<std::string>& many) { return many; }
    static void check(const Files& files, Streams& streams);
    static void find(Files& files, const Streams& streams);
    void word(const WantedFile& place, const std::string& name, const std::string& help);

    CLI::App* command_;
    int* status_;
    Streams* streams_;
    std::shared_ptr<Files> files_;
};

/// The parser of one call.
class Parser {
public:
    Parser(CLI::App& app, int& status, Streams& streams) : app_(&app), status_(&status), streams_(&streams) {}

    Command command(const std::string& name, const std::string& about);

private:
    CLI::App* app_;
    int* status_;
    Streams* streams_;
};

/// Adds a command to a parser.
using AddCommand = void (*)(Parser& parser, Streams& streams);

/// A command by the name that it gives itself.
struct NamedCommand {
    const char* name;
    AddCommand add;
    const char* step; ///< of the job, under which it is listed
};

/// What --help tells, for manual pages and completion.
struct OptionFacts {
    std::string names; ///< "-o,--output", or "COURSE" of a word without an option in front
    std::string value; ///< "TEXT", "FLOAT" ...; empty for a flag
    std::string help;
    bool is_word = false;
};
struct CommandFacts {
    std::string name;
    std::string step;
    std::string about;
    std::string footer;
    std::vector<OptionFacts> options;
};
std::vector<CommandFacts> facts_of(const std::vector<NamedCommand>& commands, Streams& streams);

/// Parses a call and carries out its command. Returns the exit status; faults of the call go to the error stream.
int parse_and_run(const std::vector<NamedCommand>& commands, const std::vector<std::string>& arguments,
                  Streams& streams);

} // namespace vturn
