// SPDX-License-Identifier: GPL-3.0-or-later
// What a program keeps of the memory it has freed, and when it gives the rest back. For main(), not for libraries: it
// is the whole process's, so it is a library of its own that programs link.
#pragma once

#include <cstddef>

namespace bricol {

/// Lets the program keep freed arrays, up to half a gigabyte, for those to come: asking the system for fresh pages
/// costs as much as filling them. Giving many back while a stopped step unwinds takes longer than a stop may (150 ms
/// for a gigabyte): from now on arrays of a megabyte or more that are freed where a stop is asked for are given back by
/// a thread of their own. False where the C library refuses (nothing but pace depends on it).
bool keep_freed_memory();

/// How many arrays that thread has given back, for tests.
std::size_t arrays_given_back_later();

}  // namespace bricol
