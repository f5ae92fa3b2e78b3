// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/kept_memory.h"

#include <malloc.h>

namespace bricol {

bool keep_freed_memory() {
    // glibc takes no more than 32 MB for the first, and with the second set no longer finds the first by itself.
    return mallopt(M_MMAP_THRESHOLD, 32 << 20) == 1 && mallopt(M_TRIM_THRESHOLD, 512 << 20) == 1;
}

}  // namespace bricol
