// Ranks by MPI. The first hands out pieces of work and does some itself; each other one has a piece in hand and one in
// waiting, so that handing out is never waited for.
#include <algorithm>
#include <chrono>
#include <cstring>
#include <thread>
#include <vector>

#include <mpi.h>

#include "ranks/ranks.hpp"

namespace vturn {

namespace {

constexpr int work_tag = 11;
constexpr int done_tag = 12;
constexpr int in_hand = 2; // pieces
constexpr std::size_t none = static_cast<std::size_t>(-1);

/// Jobs from..to (exclusive); none at all ends it.
struct Piece {
    std::size_t from = 0;
    std::size_t to = 0;
    std::size_t failed = none; ///< when it comes back: the first job that could not be done
};

/// Does the jobs of a piece, on threads that have their jobs one by one.
std::size_t do_piece(const Piece& piece, int threads, const std::function<void(std::size_t)>& work) {
    const auto part = [&](std::size_t first, std::size_t& failed) {
        for (std::size_t i = first; i < piece.to && failed == none; i += static_cast<std::size_t>(threads)) {
            try {
                work(i);
            } catch (...) { // whoever asked does it again, and sees what it throws
                failed = i;
            }
        }
    };
    std::vector<std::size_t> failed(static_cast<std::size_t>(threads), none);
    std::vector<std::thread> others;
    for (std::size_t k = 1; k < failed.size() && piece.from + k < piece.to; ++k) {
        others.emplace_back([&, k] { part(piece.from + k, failed[k]); });
    }
    part(piece.from, failed[0]);
    for (std::thread& one : others) {
        one.join();
    }
    return *std::min_element(failed.begin(), failed.end());
}

class MpiRanks : public Ranks {
public:
    MpiRanks() {
        int level = 0;
        MPI_Init_thread(nullptr, nullptr, MPI_THREAD_FUNNELED, &level);
        MPI_Comm_rank(MPI_COMM_WORLD, &rank_);
        MPI_Comm_size(MPI_COMM_WORLD, &size_);
    }

    bool is_first() const override { return rank_ == 0; }
    std::size_t size() const override { return static_cast<std::size_t>(size_); }

    bool agree(bool said) override {
        int word = said ? 1 : 0;
        MPI_Bcast(&word, 1, MPI_INT, 0, MPI_COMM_WORLD);
        return word != 0;
    }

    std::string tell(const std::string& said) override {
        std::string text = said;
        std::size_t length = text.size();
        send_to_all(&length, sizeof length);
        text.resize(length);
        send_to_all(text.data(), length);
        return text;
    }

    std::optional<std::size_t> share(std::size_t count, int threads, const std::function<void(std::size_t)>& work,
                                     const vast_turn::JobResults& results,
                                     const std::function<void(std::size_t)>& arrived) override {
        results_ = static_cast<char*>(results.first);
        each_ = results.bytes_each;
        std::size_t failed = is_first() ? hand_out(count, threads, work, arrived) : help(threads, work);
        send_to_all(&failed, sizeof failed);
        if (failed != none) {
            return failed;
        }
        send_to_all(results_, count * each_);
        return std::nullopt;
    }

    void part(int status) override {
        MPI_Request all_here = MPI_REQUEST_NULL;
        MPI_Ibarrier(MPI_COMM_WORLD, &all_here);
        const auto until = std::chrono::steady_clock::now() + std::chrono::seconds(2);
        for (int is_done = 0; is_done == 0;) {
            MPI_Test(&all_here, &is_done, MPI_STATUS_IGNORE);
            if (is_done == 0 && std::chrono::steady_clock::now() > until) {
                MPI_Abort(MPI_COMM_WORLD, status == 0 ? 2 : status);
            }
        }
        MPI_Finalize();
    }

private:
    /// In pieces that MPI can count.
    static void send_to_all(void* bytes, std::size_t length) {
        constexpr std::size_t most = 1U << 30U;
        for (std::size_t from = 0; from < length; from += most) {
            MPI_Bcast(static_cast<char*>(bytes) + from, static_cast<int>(std::min(most, length - from)), MPI_BYTE, 0,
                      MPI_COMM_WORLD);
        }
    }

    void give(int rank, const Piece& piece) const {
        MPI_Send(&piece, static_cast<int>(sizeof piece), MPI_BYTE, rank, work_tag, MPI_COMM_WORLD);
    }

    std::size_t help(int threads, const std::function<void(std::size_t)>& work) {
        std::vector<char> message;
        while (true) {
            Piece piece;
            MPI_Recv(&piece, static_cast<int>(sizeof piece), MPI_BYTE, 0, work_tag, MPI_COMM_WORLD, MPI_STATUS_IGNORE);
            if (piece.from == piece.to) {
                return none;
            }
            piece.failed = do_piece(piece, threads, work);
            const std::size_t bytes = (piece.to - piece.from) * each_;
            message.resize(sizeof piece + bytes);
            std::memcpy(message.data(), &piece, sizeof piece);
            std::memcpy(message.data() + sizeof piece, results_ + piece.from * each_, bytes);
            MPI_Send(message.data(), static_cast<int>(message.size()), MPI_BYTE, 0, done_tag, MPI_COMM_WORLD);
        }
    }

    std::size_t hand_out(std::size_t count, int threads, const std::function<void(std::size_t)>& work,
                         const std::function<void(std::size_t)>& arrived) {
        // Small enough that none is long waited for at the end.
        const std::size_t piece_size = std::clamp<std::size_t>(
            count / (16 * size()), 1, std::max<std::size_t>(64, static_cast<std::size_t>(threads)));
        std::size_t next = 0;
        std::size_t left = count;
        std::size_t failed = none;
        const auto next_piece = [&](std::size_t size) {
            const Piece piece{next, std::min(count, next + size)};
            next = failed == none ? piece.to : count;
            return failed == none ? piece : Piece{};
        };
        const auto came = [&](const Piece& piece) {
            left -= piece.to - piece.from;
            failed = std::min(failed, piece.failed);
            for (std::size_t i = piece.from; arrived && failed == none && i < piece.to; ++i) {
                arrived(i);
            }
        };
        std::vector<int> out(size(), 0); // pieces that each rank has
        for (int k = 0; k < in_hand; ++k) {
            for (int rank = 1; rank < size_ && next < count; ++rank) {
                give(rank, next_piece(piece_size));
                ++out[static_cast<std::size_t>(rank)];
            }
        }
        while (next < count || std::any_of(out.begin(), out.end(), [](int pieces) { return pieces > 0; })) {
            if (const auto [rank, piece] = taken(); rank > 0) {
                came(piece);
                --out[static_cast<std::size_t>(rank)];
                if (next < count && failed == none) {
                    give(rank, next_piece(piece_size));
                    ++out[static_cast<std::size_t>(rank)];
                }
            } else if (next < count && failed == none) {
                Piece own = next_piece(static_cast<std::size_t>(threads));
                own.failed = do_piece(own, threads, work);
                came(own);
            } else {
                next = count;
                if (ask_whether_to_give_up) {
                    ask_whether_to_give_up();
                }
                std::this_thread::sleep_for(std::chrono::microseconds(30));
            }
        }
        for (int rank = 1; rank < size_; ++rank) {
            give(rank, Piece{});
        }
        return failed;
    }

    /// A piece that has come back, and from whom; from the first itself when there is none.
    std::pair<int, Piece> taken() {
        MPI_Status status;
        int is_there = 0;
        MPI_Iprobe(MPI_ANY_SOURCE, done_tag, MPI_COMM_WORLD, &is_there, &status);
        if (is_there == 0) {
            return {0, Piece{}};
        }
        int length = 0;
        MPI_Get_count(&status, MPI_BYTE, &length);
        message_.resize(static_cast<std::size_t>(length));
        MPI_Recv(message_.data(), length, MPI_BYTE, status.MPI_SOURCE, done_tag, MPI_COMM_WORLD, MPI_STATUS_IGNORE);
        Piece piece;
        std::memcpy(&piece, message_.data(), sizeof piece);
        std::memcpy(results_ + piece.from * each_, message_.data() + sizeof piece, message_.size() - sizeof piece);
        return {status.MPI_SOURCE, piece};
    }

    int rank_ = 0;
    int size_ = 1;
    char* results_ = nullptr;
    std::size_t each_ = 0;
    std::vector<char> message_;
};

} // namespace

} // namespace vturn

extern "C" vturn::Ranks* vturn_join_ranks() { return new vturn::MpiRanks; }
