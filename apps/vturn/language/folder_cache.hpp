#pragma once

/// What the folders of open files say belongs to them, read again only when a file of it is another than before.

#include <map>
#include <memory>
#include <mutex>
#include <string>

#include "language/document.hpp"

namespace vturn {

class FolderCache {
public:
    /// The robot that the folder of a file means; none when it means none or it cannot be read. Any thread may ask.
    std::shared_ptr<const vast_turn::Robot> robot_for(const std::string& path);
    /// The same with its course, painted, which takes a while. A course is kept as long as its own file is the same,
    /// also when its drawing is another.
    Surroundings surroundings_of(const std::string& path);

private:
    template <class Thing> struct Kept {
        std::string stamp; ///< size and time of its file
        std::shared_ptr<const Thing> thing;
    };
    template <class Thing, class Read>
    std::shared_ptr<const Thing> kept_or_read(std::map<std::string, Kept<Thing>>& all, const std::string& path,
                                              Read read);

    std::mutex mutex_;
    std::map<std::string, Kept<vast_turn::Robot>> robots_;
    std::map<std::string, Kept<vast_turn::Course>> courses_;
};

} // namespace vturn
