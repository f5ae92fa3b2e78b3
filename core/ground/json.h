// SPDX-License-Identifier: GPL-3.0-or-later
// The JSON type, named only: include <nlohmann/json.hpp> in the .cpp files that look inside.
#pragma once

#include <nlohmann/json_fwd.hpp>

namespace bricol {

/// JSON that keeps the order of keys, so that a file reads as it was written.
using Json = nlohmann::ordered_json;

/// JSON on one line. Never throws: bytes that are not UTF-8 become the replacement character.
template <class Kind>
std::string json_text(const Kind& json) {
    return json.dump(-1, ' ', false, Kind::error_handler_t::replace);
}

}  // namespace bricol
