#pragma once

/// A file that is open in an editor, and what is asked about it.

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <nlohmann/json_fwd.hpp>

#include "language/lined_text.hpp"
#include "vast_turn/assist/written_plan.hpp"
#include "vast_turn/course/board/course.hpp"
#include "vast_turn/formats/read/folder_file.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vturn {

/// What a file is, by the ending of its name.
enum class DocumentKind { plan, course, robot, days, calibration, trips, pieces, folder, other };

DocumentKind kind_of(const std::string& path);

/// What the folder of a file says belongs to it; each may be missing.
struct Surroundings {
    std::shared_ptr<const vast_turn::Robot> robot;
    std::shared_ptr<const vast_turn::Course> course;
};

/// Something to tell at a place of a document, and what would mend it.
struct Remark {
    vast_turn::TextSpan span;
    int severity = 1; ///< of the protocol: 1 error, 2 warning, 3 information
    std::string code; ///< of a finding
    std::string message;
    struct Change {
        std::string title;
        vast_turn::TextSpan span; ///< of the text
        std::string text;         ///< that takes its place
    };
    std::vector<Change> changes;
};

struct Document {
    std::string uri;
    std::string path; ///< as its URI says; of one that is no file the URI
    int version = 0;
    DocumentKind kind = DocumentKind::other;
    std::shared_ptr<const LinedText> lined;
    /// Of a plan, made when it is asked for first.
    std::shared_ptr<const vast_turn::WrittenPlan> plan;
    std::vector<Remark> remarks;                   ///< of the text itself
    std::vector<Remark> found;                     ///< by vet, of this version
    bool is_checked = false;                       ///< remarks are of this version
    bool told = false;                             ///< and the client knows them
    std::shared_ptr<const vast_turn::Robot> robot; ///< of its folder, for this plan
};

/// Path of a file's URI; the URI itself when it is of no file.
std::string path_of_uri(const std::string& uri);

/// The remarks of a plan's own problems.
std::vector<Remark> remarks_of(const LinedText& lined, const std::vector<vast_turn::Problem>& problems);

/// What vet finds in a plan, alone or with what surrounds it.
std::vector<Remark> found_in(const LinedText& lined, const vast_turn::Plan& plan, const Surroundings& around);

/// Reads a TOML file as its kind is read, and tells what is wrong with it. Trips are read against the course of their
/// folder; where there is none nothing is said of them.
std::vector<Remark> check_toml(const LinedText& lined, const std::string& path, DocumentKind kind,
                               const Surroundings& around);

nlohmann::json diagnostics_of(const Document& document);

} // namespace vturn
