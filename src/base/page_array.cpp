#include "vast_turn/base/page_array.hpp"

#include <algorithm>
#include <cstdlib>
#include <new>
#include <vector>

#ifdef __linux__
#include <sys/mman.h>
#include <unistd.h>
#endif

namespace vast_turn {

/// Memory under a number of the system, from which any number of private mappings can be made (memfd_create(2)).
struct PageMemory::File {
    explicit File(int number) : number_(number) {}
    File(const File&) = delete;
    File& operator=(const File&) = delete;
    File(File&&) = delete;
    File& operator=(File&&) = delete;
    ~File() {
#ifdef __linux__
        close(number_);
#endif
    }
    int number_;
};

PageMemory::PageMemory(std::size_t bytes) : bytes_(bytes) {
    if (bytes > 0) {
        data_ = static_cast<std::byte*>(std::calloc(bytes, 1));
        if (data_ == nullptr) {
            throw std::bad_alloc();
        }
    }
}

PageMemory::~PageMemory() { release(); }

#ifdef __linux__

namespace {

std::size_t page_bytes() { return static_cast<std::size_t>(sysconf(_SC_PAGESIZE)); }

/// A private mapping of the whole file, or null.
std::byte* mapping_of(int file, std::size_t bytes) {
    void* at = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_NORESERVE, file, 0);
    return at == MAP_FAILED ? nullptr : static_cast<std::byte*>(at);
}

bool write_all(int file, const std::byte* data, std::size_t bytes) {
    while (bytes > 0) {
        const ssize_t written = write(file, data, bytes);
        if (written <= 0) {
            return false;
        }
        data += written;
        bytes -= static_cast<std::size_t>(written);
    }
    return true;
}

} // namespace

void PageMemory::release() noexcept {
    if (mapped_) {
        munmap(data_, bytes_);
    } else {
        std::free(data_);
    }
}

bool PageMemory::make_shareable() {
    if (file_ && std::find(own_.begin(), own_.end(), true) == own_.end() && !written_) {
        return true;
    }
    const int number = memfd_create("vast_turn", MFD_CLOEXEC);
    if (number < 0) {
        return false;
    }
    auto file = std::make_shared<File>(number);
    std::byte* at = write_all(number, data_, bytes_) ? mapping_of(number, bytes_) : nullptr;
    if (at == nullptr) {
        return false;
    }
    release();
    data_ = at;
    mapped_ = true;
    written_ = false;
    own_.assign(bytes_ / page_bytes() + 1, false);
    file_ = std::move(file);
    return true;
}

void PageMemory::share_with(PageMemory& like) {
    if (bytes_ == 0 || bytes_ != like.bytes_ || this == &like || !like.make_shareable()) {
        return;
    }
    std::byte* at = mapping_of(like.file_->number_, bytes_);
    if (at == nullptr) {
        return;
    }
    // Compared with what is in the file, not with what `like` may have written over it since; and read, not looked at
    // through the mapping, so that pages are in memory for this array only once somebody looks at them.
    const std::size_t page = page_bytes();
    std::vector<bool> own(bytes_ / page + 1, false);
    std::vector<std::byte> pages(64 * page);
    for (std::size_t first = 0; first < bytes_; first += pages.size()) {
        const std::size_t last = std::min(first + pages.size(), bytes_);
        const ssize_t read = pread(like.file_->number_, pages.data(), last - first, static_cast<off_t>(first));
        const bool known = read == static_cast<ssize_t>(last - first);
        for (std::size_t from = first; from < last; from += page) {
            const std::size_t size = std::min(page, last - from);
            if (!known || std::memcmp(pages.data() + (from - first), data_ + from, size) != 0) {
                std::memcpy(at + from, data_ + from, size);
                own[from / page] = true;
            }
        }
    }
    release();
    data_ = at;
    mapped_ = true;
    written_ = false;
    own_ = std::move(own);
    file_ = like.file_;
}

void PageMemory::rest() const {
    if (!mapped_ || written_) {
        return;
    }
    const std::size_t page = page_bytes();
    const std::size_t pages = (bytes_ + page - 1) / page;
    for (std::size_t first = 0; first < pages; ++first) {
        std::size_t end = first;
        while (end < pages && !own_[end]) {
            ++end;
        }
        if (end > first) { // the same bytes again, in one step for whoever reads them just now
            const std::size_t bytes = std::min(end * page, bytes_) - first * page;
            // Should it fail, the pages stay in sight.
            static_cast<void>(mmap(data_ + first * page, bytes, PROT_READ | PROT_WRITE,
                                   MAP_PRIVATE | MAP_NORESERVE | MAP_FIXED, file_->number_,
                                   static_cast<off_t>(first * page)));
        }
        first = end;
    }
}

#else

void PageMemory::rest() const {}
void PageMemory::release() noexcept { std::free(data_); }
bool PageMemory::make_shareable() { return false; }
void PageMemory::share_with(PageMemory& /*like*/) {}

#endif

} // namespace vast_turn
