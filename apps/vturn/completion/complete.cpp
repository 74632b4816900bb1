#include "completion/complete.hpp"

#include <algorithm>
#include <array>
#include <filesystem>
#include <set>

#include "language/document.hpp"
#include "language/toml_help.hpp"
#include "vast_turn/assist/written_plan.hpp"
#include "vast_turn/formats/read/folder_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/vet/finding.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

namespace fs = std::filesystem;

class Completer {
public:
    Completer(const CommandFacts& command, const std::vector<std::string>& words) : command_(command), words_(words) {}

    std::vector<std::string> proposals() {
        const std::string& typed = words_.back();
        const OptionFacts* wanting = words_.size() > 2 ? option_of(words_[words_.size() - 2]) : nullptr;
        if (wanting != nullptr && !wanting->value.empty()) {
            value_of(*wanting);
        } else if (typed.starts_with("-")) {
            options();
        } else {
            words();
        }
        std::vector<std::string> fit;
        std::copy_if(found_.begin(), found_.end(), std::back_inserter(fit),
                     [&](const std::string& one) { return one.starts_with(typed); });
        return fit;
    }

private:
    const OptionFacts* option_of(const std::string& word) const {
        for (const OptionFacts& option : command_.options) {
            if (!option.is_word && ("," + option.names + ",").find("," + word + ",") != std::string::npos) {
                return &option;
            }
        }
        return nullptr;
    }

    void options() {
        for (const OptionFacts& option : command_.options) {
            const std::size_t from = option.names.find("--");
            if (!option.is_word && from != std::string::npos) {
                found_.insert(option.names.substr(from, option.names.find(',', from) - from));
            }
        }
    }

    /// Files of these endings in the folder that is being typed, and the folders there.
    void files(const std::vector<std::string_view>& endings) {
        const std::string& typed = words_.back();
        const std::size_t slash = typed.rfind('/');
        const std::string folder = slash == std::string::npos ? "" : typed.substr(0, slash + 1);
        std::error_code fault;
        fs::directory_iterator entries(folder.empty() ? "." : folder, fault);
        for (; !fault && entries != fs::directory_iterator(); entries.increment(fault)) {
            const std::string name = entries->path().filename().string();
            std::error_code unknown;
            if (name.starts_with('.') && !typed.substr(folder.size()).starts_with('.')) {
                continue;
            }
            if (entries->is_directory(unknown)) {
                found_.insert(folder + name + "/");
            } else if (endings.empty() || std::any_of(endings.begin(), endings.end(), [&](std::string_view ending) {
                           return name.ends_with(ending);
                       })) {
                found_.insert(folder + name);
            }
        }
    }

    void words() {
        std::vector<std::string_view> endings;
        for (const OptionFacts& option : command_.options) {
            if (option.is_word && option.names == "COURSE") {
                endings.emplace_back(".course.toml");
            } else if (option.is_word && option.names == "ROBOT") {
                endings.emplace_back(".robot.toml");
            } else if (option.is_word && option.names == "PLAN") {
                endings.emplace_back(".plan");
            } else if (option.is_word && option.names == "READINGS") {
                endings.emplace_back(".csv");
            }
        }
        files(endings);
    }

    /// The file of a kind that the call names, else that of its folder.
    std::string file_of(FolderKind kind) const {
        for (const std::string& word : words_) {
            if (word.ends_with(ending_of(kind))) {
                return word;
            }
        }
        try {
            const FolderMeaning folder =
                read_folder(words_.size() > 2 ? fs::path(words_[1]).parent_path().string() : "");
            return folder[kind].meant.empty() ? "" : folder[kind].meant.front();
        } catch (const InputError&) {
            return "";
        }
    }

    void names_of_course(std::string_view header) {
        try {
            const std::string path = file_of(FolderKind::course);
            for (const std::string& name :
                 names_under(LinedText(path.empty() ? "" : read_file(path), ColumnUnit::utf8), header)) {
                found_.insert(name);
            }
        } catch (const InputError&) { // then there is nothing to propose
        }
    }

    void names_of_habits() {
        try {
            const std::string path = file_of(FolderKind::plan);
            const WrittenPlan plan(path.empty() ? "" : read_file(path), path);
            for (const TextBlock& block : plan.blocks()) {
                if (!block.name.empty() && !block.is_errand) {
                    found_.insert(block.name);
                }
            }
        } catch (const InputError&) {
        }
    }

    void value_of(const OptionFacts& option) {
        const auto is = [&](std::string_view name) {
            return ("," + option.names + ",").find("," + std::string(name) + ",") != std::string::npos;
        };
        constexpr std::array<std::pair<std::string_view, std::string_view>, 8> kinds = {
            {{"--robot", ".robot.toml"},
             {"--course", ".course.toml"},
             {"--calibration", ".calibration.toml"},
             {"--variation", ".days.toml"},
             {"--trips", ".trips.toml"},
             {"--beside", ".plan"},
             {"--log", ".csv"},
             {"--script", ""}}};
        for (const auto& [name, ending] : kinds) {
            if (is(name)) {
                files(ending.empty() ? std::vector<std::string_view>{} : std::vector{ending});
                return;
            }
        }
        if (is("--start")) {
            names_of_course("[[start]]");
        } else if (is("--variant")) {
            names_of_course("[[variant]]");
        } else if (is("--filter")) {
            names_of_course("[[trip]]");
        } else if (is("--habit")) {
            names_of_habits();
        } else if (is("--numbers")) {
            found_.insert({"double", "float"});
        } else if (is("--against")) {
            found_.insert({"time", "way"});
        } else if (is("--line")) {
            found_.insert({"dark", "light"});
        } else if (is("--explain")) {
            for (const FindingKind& kind : finding_kinds()) {
                found_.insert(kind.code);
            }
        } else if (option.value == "text") {
            files({});
        }
    }

    const CommandFacts& command_;
    const std::vector<std::string>& words_;
    std::set<std::string> found_;
};

} // namespace

std::vector<std::string> completions(const std::vector<CommandFacts>& commands, const std::vector<std::string>& words) {
    if (words.empty()) {
        return {};
    }
    const auto named = std::find_if(commands.begin(), commands.end(),
                                    [&](const CommandFacts& one) { return one.name == words.front(); });
    if (words.size() > 1) {
        return named == commands.end() ? std::vector<std::string>{} : Completer(*named, words).proposals();
    }
    std::vector<std::string> names;
    for (const CommandFacts& command : commands) {
        if (command.name.starts_with(words.front())) {
            names.push_back(command.name);
        }
    }
    for (const char* option : {"--help", "--version"}) {
        if (words.front().starts_with("-") && std::string_view(option).starts_with(words.front())) {
            names.emplace_back(option);
        }
    }
    return names;
}

} // namespace vturn
