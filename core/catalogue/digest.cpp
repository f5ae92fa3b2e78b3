// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/digest.h"

#include <xxhash.h>

namespace bricol {

void Digest::raw(const void* bytes, std::size_t count) {
    const auto* begin = static_cast<const char*>(bytes);
    bytes_.insert(bytes_.end(), begin, begin + count);
}

void Digest::add(std::string_view text) {
    add(text.size());
    raw(text.data(), text.size());
}

std::uint64_t Digest::hash() const { return XXH3_64bits(bytes_.data(), bytes_.size()); }

}  // namespace bricol
