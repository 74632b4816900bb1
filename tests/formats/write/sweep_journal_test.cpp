// Journals of sweeps: what is written is known again, to the last bit; what is broken is not.
#include <filesystem>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/sweep_journal.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using namespace vast_turn;

namespace {

SweepPoint journal_point(int passed) {
    SweepPoint point;
    point.runs = 40;
    point.passed = passed;
    point.share = {1.0 / 3.0, 0.1 + 0.2};
    point.time_s = {-0.0, 1e-300};
    point.steering_pct = {7.0 / 11.0, 12345.678};
    return point;
}

std::string journal_refusal(const std::string& path, std::uint64_t fingerprint, std::size_t points) {
    return fixtures::message_of([&] { SweepJournal journal(path, fingerprint, points); });
}

} // namespace

TEST_CASE("a journal knows again what was written, to the last bit, and goes on behind it") {
    const fixtures::Folder folder;
    const std::string path = folder.file("sweep.journal");
    {
        SweepJournal journal(path, 77, 9);
        CHECK(journal.size() == 0);
        journal.done(4, journal_point(39));
        SweepPoint refused;
        refused.refused = "lag_ms is a number from 0, or so";
        journal.done(0, refused);
        CHECK(journal_refusal(path, 77, 9).find("another sweep is writing it") != std::string::npos);
    }
    {
        SweepJournal journal(path, 77, 9);
        CHECK(journal.size() == 2);
        const SweepPoint point = journal.known(4).value();
        CHECK(point.passed == 39);
        CHECK(point.share.low == 1.0 / 3.0);
        CHECK(point.share.high == 0.1 + 0.2);
        CHECK(std::signbit(point.time_s.mean));
        CHECK(point.time_s.deviation == 1e-300);
        CHECK(point.steering_pct.deviation == 12345.678);
        CHECK(journal.known(0)->refused == "lag_ms is a number from 0, or so");
        CHECK_FALSE(journal.known(1).has_value());
        journal.done(1, journal_point(3));
    }
    CHECK(SweepJournal(path, 77, 9).size() == 3);
}

TEST_CASE(
    "a journal that was cut off or spoilt anywhere keeps what stands before, and no line that is another than it was") {
    const fixtures::Folder folder;
    const std::string path = folder.file("sweep.journal");
    {
        SweepJournal journal(path, 77, 9);
        for (std::size_t i = 0; i < 4; ++i) {
            journal.done(i, journal_point(static_cast<int>(i)));
        }
    }
    const std::string whole = read_file(path);
    const std::size_t head = whole.find('\n') + 1;
    for (std::size_t at = 0; at < whole.size(); ++at) {
        CAPTURE(at);
        write_file(path, whole.substr(0, at)); // cut off
        const auto lines =
            static_cast<std::size_t>(std::count(whole.begin(), whole.begin() + static_cast<std::ptrdiff_t>(at), '\n'));
        CHECK(SweepJournal(path, 77, 9).size() == (lines == 0 ? 0 : lines - 1));
        std::string spoilt = whole;
        spoilt[at] = spoilt[at] == '7' ? '8' : '7';
        write_file(path, spoilt);
        if (at < head) {
            CHECK_FALSE(journal_refusal(path, 77, 9).empty());
        } else {
            SweepJournal journal(path, 77, 9);
            CHECK(journal.size() == lines - 1);
            for (std::size_t i = 0; i < journal.size(); ++i) {
                CHECK(journal.known(i)->passed == static_cast<int>(i));
            }
        }
    }
}

TEST_CASE("a journal of another sweep, another file and what is no file are refused, and left as they are") {
    const fixtures::Folder folder;
    const std::string path = folder.file("sweep.journal");
    SweepJournal(path, 77, 9).done(0, journal_point(1));
    const std::string before = read_file(path);
    CHECK(journal_refusal(path, 78, 9).find("the journal of another sweep") != std::string::npos);
    CHECK(journal_refusal(path, 77, 10).find("the journal of another sweep") != std::string::npos);
    CHECK(read_file(path) == before);
    write_file(path, "a letter to my aunt\nwith two lines\n");
    CHECK(journal_refusal(path, 77, 9).find("is no journal of a sweep") != std::string::npos);
    write_file(path, "a letter");
    CHECK(journal_refusal(path, 77, 9).find("is no journal of a sweep") != std::string::npos);
    CHECK(read_file(path) == "a letter");
    CHECK(journal_refusal(folder.file("no/such"), 77, 9).find("cannot be opened") != std::string::npos);
    CHECK(journal_refusal("/dev/null", 77, 9).find("is no ordinary file") != std::string::npos);
    Fingerprint one;
    one.take("ab");
    one.take("c");
    Fingerprint other;
    other.take("a");
    other.take("bc");
    CHECK(one.value() != other.value());
}
