#pragma once

/// Memory that a child process shares with this one.

#include <cstddef>
#include <new>

#include <sys/mman.h>

namespace vast_turn {

/// Bytes that this process and children that it starts later both see and change; 0 at first.
class SharedMemory {
public:
    explicit SharedMemory(std::size_t size)
        : size_(size), at_(::mmap(nullptr, size, PROT_READ | PROT_WRITE, MAP_SHARED | MAP_ANONYMOUS, -1, 0)) {
        if (at_ == MAP_FAILED) {
            throw std::bad_alloc();
        }
    }
    SharedMemory(const SharedMemory&) = delete;
    SharedMemory& operator=(const SharedMemory&) = delete;
    ~SharedMemory() { ::munmap(at_, size_); }
    unsigned char* bytes() const { return static_cast<unsigned char*>(at_); }
    std::size_t size() const { return size_; }

private:
    std::size_t size_;
    void* at_;
};

} // namespace vast_turn
