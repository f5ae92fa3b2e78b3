// SPDX-License-Identifier: GPL-3.0-or-later
// Formulas for whole attributes at once: the same signs and functions as for one value, worked out block by block.
#pragma once

#include <atomic>
#include <functional>
#include <map>
#include <span>
#include <string>
#include <vector>

#include "core/formula/functions.h"
#include "core/ground/result.h"
#include "core/ground/types.h"

namespace bricol {

/// One line of a formula step: `target` gets what `text` says, element by element.
struct FormulaRow {
    std::string target, text;
    std::map<std::string, double>
        constants;  ///< names that stand for one number: dials, other steps' numbers, frame, seed
    friend bool operator==(const FormulaRow&, const FormulaRow&) = default;
};

/// Writes the values of one name for elements [begin, begin + out.size()).
using FieldReader = std::function<void(std::size_t begin, std::span<double> out)>;

/// A formula turned into instructions on blocks of elements. Everything is worked out in double, in the order written,
/// so the bytes do not depend on threads or block size.
class FieldProgram {
public:
    static constexpr std::size_t block = 256;

    /// Names a formula reads that are neither functions, constants nor numbers of their own, in order of appearance.
    const std::vector<std::string>& names() const { return names_; }
    /// Whether `random` is called, for which elements need a number of their own.
    bool uses_random() const { return uses_random_; }

    /// One block: `inputs[i]` are the values of names()[i], `own` the elements' numbers for random. At most `block`
    /// values.
    void run(std::span<const double* const> inputs, std::span<const std::uint32_t> own, std::span<double> out,
             std::vector<double>& scratch) const;

    /// Reads `text`; a name found in `constants` is that number. Problems name the column.
    static Result<FieldProgram> compile(std::string_view text, const std::map<std::string, double>& constants);

private:
    friend class FieldCompiler;
    using Op = FieldOp;
    struct Instruction {
        Op op;
        std::uint32_t to;                 ///< register
        std::vector<std::uint32_t> from;  ///< registers; for `name` its number
        double value = 0;
    };
    /// The place of the first instruction that looks over all elements; the number of instructions when none does.
    std::size_t first_whole() const;
    /// What such an instruction looks at, as a program of its own.
    FieldProgram before(std::size_t instruction) const;
    friend std::size_t work_out(const FieldProgram& program, std::span<const FieldReader> readers,
                                std::span<const std::uint32_t> own, std::span<double> out);

    std::vector<Instruction> code_;
    std::vector<std::string> names_;
    std::uint32_t registers_ = 0;
    bool uses_random_ = false;
};

/// Works a program out for all elements on all threads, numbers over all of them (`least(x)`) first. Gives the number
/// of the first element whose value is not finite, or `count` when all are.
std::size_t work_out(const FieldProgram& program, std::span<const FieldReader> readers,
                     std::span<const std::uint32_t> own, std::span<double> out);

}  // namespace bricol
