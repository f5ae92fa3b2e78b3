// SPDX-License-Identifier: GPL-3.0-or-later
// Any text as a formula, as a number that was typed, and as a row over elements.
#include <string_view>

#include "core/formula/field.h"
#include "core/formula/formula.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace bricol;
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    (void)evaluate(text, [](const std::string& name) -> Result<double> { return static_cast<double>(name.size()); });
    (void)read_typed(text, Quantity::length, "mm");
    (void)FieldProgram::compile(text, {{"girth", 2.0}});
    (void)name_from(text);
    return 0;
}
