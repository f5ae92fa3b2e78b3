// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/origin.h"

#include <algorithm>

namespace bricol {

namespace {

template <class T>
T blended(const Array<T>& old, const Origin& origin) {
    if constexpr (std::is_same_v<T, std::uint8_t>) {
        return origin.count == 1 ? old[origin.from[0]] : T(0);
    } else if constexpr (std::is_integral_v<T>) {
        return old[origin.nearest()];
    } else {
        T sum(0);
        for (int k = 0; k < origin.count; ++k)
            sum += old[origin.from[static_cast<std::size_t>(k)]] * origin.share[static_cast<std::size_t>(k)];
        return sum;
    }
}

}  // namespace

Index Origin::nearest() const {
    const auto largest = std::max_element(share.begin(), share.begin() + count);
    return from[static_cast<std::size_t>(largest - share.begin())];
}

void carry(Attributes& target, const Attributes& old, Domain domain, std::size_t first,
           std::span<const Origin> origins) {
    const std::vector<Attribute> present(target.all().begin(), target.all().end());
    for (const Attribute& attribute : present) {
        const Attribute* before = attribute.domain == domain ? old.find(domain, attribute.name) : nullptr;
        if (!before || before->values->index() != attribute.values->index()) continue;
        Column column = *attribute.values;
        std::visit(
            [&](auto& values) {
                using Values = std::decay_t<decltype(values)>;
                const auto& from = std::get<Values>(*before->values);
                for (std::size_t i = 0; i < origins.size(); ++i) values[first + i] = blended(from, origins[i]);
            },
            column);
        target.set(domain, attribute.name, std::move(column));
    }
}

}  // namespace bricol
