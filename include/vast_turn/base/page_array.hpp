#pragma once

/// Large arrays of numbers that can share the memory of what is alike in them.

#include <algorithm>
#include <cstddef>
#include <cstring>
#include <initializer_list>
#include <memory>
#include <type_traits>
#include <utility>
#include <vector>

namespace vast_turn {

/// Memory of an array: its own, or that of another of which it changes some pages.
class PageMemory {
public:
    PageMemory() = default;
    /// So many bytes, all 0. Throws std::bad_alloc when there is not so much.
    explicit PageMemory(std::size_t bytes);
    PageMemory(PageMemory&& other) noexcept { swap(other); }
    PageMemory& operator=(PageMemory&& other) noexcept {
        swap(other);
        return *this;
    }
    PageMemory(const PageMemory&) = delete;
    PageMemory& operator=(const PageMemory&) = delete;
    ~PageMemory();

    /// Its first byte, to read or to write, and how many there are. Null and 0 when it has none.
    const std::byte* data() const { return data_; }
    std::byte* data() {
        written_ = written_ || mapped_;
        return data_;
    }
    std::size_t bytes() const { return bytes_; }

    /// Keeps of its own only the pages that differ from those of `like`, which has as many bytes. What either has does
    /// not change, and later changes of one are not seen in the other. Where the system has no such memory (it is
    /// Linux's), or refuses it, nothing happens.
    void share_with(PageMemory& like);

    /// Takes what it shares out of this process' sight until somebody looks at it again: for after all of it was looked
    /// at once. It stays good to read meanwhile, on any thread.
    void rest() const;

private:
    struct File;
    void swap(PageMemory& other) noexcept {
        std::swap(data_, other.data_);
        std::swap(bytes_, other.bytes_);
        std::swap(file_, other.file_);
        std::swap(own_, other.own_);
        std::swap(mapped_, other.mapped_);
        std::swap(written_, other.written_);
    }
    /// Moves it to where others can share it; whether that went well.
    bool make_shareable();
    void release() noexcept;

    std::byte* data_ = nullptr;
    std::size_t bytes_ = 0;
    std::shared_ptr<File> file_; // whose pages others may have too
    std::vector<bool> own_;      // by page: differs from that file
    bool mapped_ = false;
    bool written_ = false; // since it was mapped, perhaps
};

/// An array of trivial values, with what a vector has of reading and writing. Its size is that of the last resize().
template <class T> class PageArray {
    static_assert(std::is_trivially_copyable_v<T>);

public:
    PageArray() = default;
    PageArray(std::initializer_list<T> values) {
        resize(values.size());
        std::copy(values.begin(), values.end(), begin());
    }
    PageArray(const PageArray& other) {
        resize(other.size());
        std::copy(other.begin(), other.end(), begin());
    }
    PageArray& operator=(const PageArray& other) {
        PageArray copy(other);
        *this = std::move(copy);
        return *this;
    }
    PageArray(PageArray&&) noexcept = default;
    PageArray& operator=(PageArray&&) noexcept = default;
    ~PageArray() = default;

    /// Makes it so many values of 0; what it held is gone. Throws std::bad_alloc.
    void resize(std::size_t size) { memory_ = PageMemory(size * sizeof(T)); }

    std::size_t size() const { return memory_.bytes() / sizeof(T); }
    bool empty() const { return memory_.bytes() == 0; }
    T* data() { return reinterpret_cast<T*>(memory_.data()); }
    const T* data() const { return reinterpret_cast<const T*>(memory_.data()); }
    T* begin() { return data(); }
    T* end() { return data() + size(); }
    const T* begin() const { return data(); }
    const T* end() const { return data() + size(); }
    /// `i` < size().
    T& operator[](std::size_t i) { return data()[i]; }
    const T& operator[](std::size_t i) const { return data()[i]; }

    /// As PageMemory has it; nothing happens for arrays of different sizes.
    void share_with(PageArray& like) {
        if (size() == like.size() && this != &like) {
            memory_.share_with(like.memory_);
        }
    }

    void rest() const { memory_.rest(); }

    friend bool operator==(const PageArray& a, const PageArray& b) {
        return std::equal(a.begin(), a.end(), b.begin(), b.end());
    }

private:
    PageMemory memory_;
};

} // namespace vast_turn
