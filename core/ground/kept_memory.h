// SPDX-License-Identifier: GPL-3.0-or-later
// What a program keeps of the memory it has freed.
#pragma once

namespace bricol {

/// Lets the program keep freed arrays, up to half a gigabyte, for those to come: asking the system for fresh pages
/// costs as much as filling them, and giving many back while a stopped step unwinds takes longer than a stop may. For
/// main(), not for libraries: it is the whole process's. False where the C library refuses (nothing but pace depends on
/// it).
bool keep_freed_memory();

}  // namespace bricol
