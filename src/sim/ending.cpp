#include "vast_turn/sim/ending.hpp"

namespace vast_turn {

const char* name_of(Ending ending) {
    switch (ending) {
    case Ending::halted: return "halt";
    case Ending::off_course: return "off course";
    case Ending::lost: return "lost";
    case Ending::touched: return "touch";
    case Ending::time_over: return "time over";
    }
    return "";
}

} // namespace vast_turn
