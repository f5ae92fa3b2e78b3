// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/scarce_memory.h"

#include <atomic>
#include <cstdlib>
#include <limits>
#include <new>

namespace {

std::atomic<std::size_t> bound = std::numeric_limits<std::size_t>::max();
std::atomic<int> count = 0;

void* asked_for(std::size_t bytes) {
    if (bytes >= bound) {
        ++count;
        throw std::bad_alloc();
    }
    if (void* memory = std::malloc(bytes > 0 ? bytes : 1)) return memory;
    throw std::bad_alloc();
}

}  // namespace

void* operator new(std::size_t bytes) { return asked_for(bytes); }
void* operator new[](std::size_t bytes) { return asked_for(bytes); }
void operator delete(void* memory) noexcept { std::free(memory); }
void operator delete[](void* memory) noexcept { std::free(memory); }
void operator delete(void* memory, std::size_t) noexcept { std::free(memory); }
void operator delete[](void* memory, std::size_t) noexcept { std::free(memory); }

namespace bricol::test {

ScarceMemory::ScarceMemory(std::size_t bytes) {
    count = 0;
    bound = bytes;
}
ScarceMemory::~ScarceMemory() { bound = std::numeric_limits<std::size_t>::max(); }
int ScarceMemory::refused() const { return count; }

}  // namespace bricol::test
