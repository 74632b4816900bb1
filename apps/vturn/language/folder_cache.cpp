#include "language/folder_cache.hpp"

#include <filesystem>

#include <fmt/format.h>

#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

namespace fs = std::filesystem;

std::string stamp_of(const std::string& path) {
    std::error_code fault;
    const auto size = fs::file_size(path, fault);
    const auto time = fs::last_write_time(path, fault).time_since_epoch().count();
    return fault ? "" : fmt::format("{} {}", size, time);
}

/// What a folder means; nothing when its file has faults, which are told where it is open.
FolderMeaning folder_of(const std::string& path) {
    try {
        return read_folder(fs::path(path).parent_path().string());
    } catch (const InputError&) {
        return {};
    }
}

std::string first_of(const FolderMeaning& folder, FolderKind kind) {
    return folder[kind].meant.empty() ? "" : folder[kind].meant.front();
}

} // namespace

/// The thing of a file. The lock is not held while it is read: that may take a second, and others ask meanwhile.
template <class Thing, class Read>
std::shared_ptr<const Thing> FolderCache::kept_or_read(std::map<std::string, Kept<Thing>>& all, const std::string& path,
                                                       Read read) {
    const std::string stamp = stamp_of(path);
    {
        const std::lock_guard lock(mutex_);
        if (const Kept<Thing>& kept = all[path]; !stamp.empty() && kept.stamp == stamp) {
            return kept.thing;
        }
    }
    std::shared_ptr<const Thing> thing;
    try {
        thing = std::make_shared<const Thing>(read(path));
    } catch (const InputError&) { // told where that file is open
    }
    const std::lock_guard lock(mutex_);
    all[path] = {stamp, thing};
    return thing;
}

std::shared_ptr<const Robot> FolderCache::robot_for(const std::string& path) {
    const std::string robot = first_of(folder_of(path), FolderKind::robot);
    return robot.empty() ? nullptr
                         : kept_or_read(robots_, robot, [](const std::string& name) { return load_robot(name); });
}

Surroundings FolderCache::surroundings_of(const std::string& path) {
    Surroundings around;
    around.robot = robot_for(path);
    const std::string course = first_of(folder_of(path), FolderKind::course);
    if (!course.empty()) {
        around.course = kept_or_read(courses_, course, [](const std::string& name) { return load_course(name); });
    }
    return around;
}

} // namespace vturn
