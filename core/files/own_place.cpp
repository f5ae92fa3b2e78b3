// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/own_place.h"

#include <dlfcn.h>

namespace bricol {

std::filesystem::path own_place() {
    namespace fs = std::filesystem;
    Dl_info info{};
    if (dladdr(reinterpret_cast<const void*>(&own_place), &info) == 0 || !info.dli_fname) return {};
    std::error_code none;
    const fs::path path = fs::canonical(info.dli_fname, none);
    return none ? fs::canonical("/proc/self/exe", none).parent_path() : path.parent_path();
}

}  // namespace bricol
