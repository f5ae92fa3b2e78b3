// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/field.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <numbers>
#include <numeric>

#include "core/ground/stop.h"
#include "core/formula/tokens.h"
#include "core/ground/words.h"
#include "core/kernels/noise.h"
#include "core/kernels/ramp.h"
#include "core/ground/numbers.h"
#include "core/ground/parallel.h"

namespace bricol {

/// Reads a formula by precedence: ? :, ||, &&, comparisons, + -, * /, sign, ^ (from the right).
class FieldCompiler {
public:
    FieldCompiler(std::string_view text, const std::map<std::string, double>& constants, std::vector<Token> tokens)
        : text_(text), constants_(constants), tokens_(std::move(tokens)) {}

    Result<FieldProgram> compiled() {
        if (tokens_.empty()) return Problem{"The formula is empty.", "", "Type what the value should be."};
        try {
            const std::uint32_t result = choice();
            if (at_ < tokens_.size()) fail(fmt::format("A sign is missing before “{}”.", tokens_[at_].text));
            // The last value stands in the last register, whatever made it.
            if (result + 1 != program_.registers_) emit(Op::add, {result, constant(0)});
        } catch (const Problem& problem) {
            return problem;
        }
        return std::move(program_);
    }

private:
    using Op = FieldProgram::Op;

    [[noreturn]] void fail(const std::string& what) const {
        const std::size_t column = at_ < tokens_.size() ? tokens_[at_].column : text_.size();
        throw Problem{what, fmt::format("formula “{}”, column {}", text_, column + 1), ""};
    }
    bool is(std::string_view mark) const {
        return at_ < tokens_.size() && tokens_[at_].kind == Token::mark && tokens_[at_].text == mark;
    }
    bool take(std::string_view mark) {
        if (!is(mark)) return false;
        ++at_;
        return true;
    }
    std::uint32_t emit(Op op, std::vector<std::uint32_t> from, double value = 0) {
        program_.code_.push_back({op, program_.registers_, std::move(from), value});
        return program_.registers_++;
    }
    std::uint32_t constant(double value) { return emit(Op::constant, {}, value); }

    std::uint32_t choice() {
        const std::uint32_t condition = either();
        if (!take("?")) return condition;
        const std::uint32_t yes = choice();
        if (!take(":")) fail("A “:” is missing after “?”.");
        return emit(Op::select, {condition, yes, choice()});
    }
    std::uint32_t either() {
        std::uint32_t left = both();
        while (take("||")) left = emit(Op::either, {left, both()});
        return left;
    }
    std::uint32_t both() {
        std::uint32_t left = comparison();
        while (take("&&")) left = emit(Op::both, {left, comparison()});
        return left;
    }
    std::uint32_t comparison() {
        static constexpr std::array<std::pair<std::string_view, Op>, 6> signs = {{{"<=", Op::less_equal},
                                                                                  {">=", Op::greater_equal},
                                                                                  {"==", Op::equal},
                                                                                  {"!=", Op::unequal},
                                                                                  {"<", Op::less},
                                                                                  {">", Op::greater}}};
        std::uint32_t left = sum();
        for (bool more = true; more;) {
            more = false;
            for (const auto& [sign, op] : signs)
                if (take(sign)) {
                    left = emit(op, {left, sum()});
                    more = true;
                    break;
                }
        }
        return left;
    }
    std::uint32_t sum() {
        std::uint32_t left = product();
        for (;;) {
            if (take("+"))
                left = emit(Op::add, {left, product()});
            else if (take("-"))
                left = emit(Op::subtract, {left, product()});
            else
                return left;
        }
    }
    std::uint32_t product() {
        std::uint32_t left = signed_value();
        for (;;) {
            if (take("*"))
                left = emit(Op::multiply, {left, signed_value()});
            else if (take("/"))
                left = emit(Op::divide, {left, signed_value()});
            else
                return left;
        }
    }
    std::uint32_t signed_value() {
        if (take("-")) return emit(Op::negate, {signed_value()});
        if (take("+")) return signed_value();
        return power();
    }
    std::uint32_t power() {
        const std::uint32_t base = value();
        if (!take("^")) return base;
        return emit(Op::power, {base, is("-") || is("+") ? signed_value() : power()});
    }
    std::uint32_t value() {
        if (at_ >= tokens_.size()) fail("The formula stops too early.");
        if (take("(")) {
            const std::uint32_t inside = choice();
            if (!take(")")) fail("A bracket is never closed.");
            return inside;
        }
        const Token& token = tokens_[at_];
        if (token.kind == Token::number) {
            ++at_;
            return constant(token.value);
        }
        if (token.kind == Token::mark) fail(fmt::format("The sign “{}” has nothing to work on.", token.text));
        if (find_function(token.text)) return call();
        if (at_ + 1 < tokens_.size() && tokens_[at_ + 1].kind == Token::mark && tokens_[at_ + 1].text == "(")
            no_function(token.text);
        ++at_;
        if (token.text == "pi") return constant(std::numbers::pi);
        if (const auto known = constants_.find(token.text); known != constants_.end()) return constant(known->second);
        auto& names = program_.names_;
        const auto found = std::ranges::find(names, token.text);
        const auto number = static_cast<std::uint32_t>(found - names.begin());
        if (found == names.end()) names.push_back(token.text);
        return emit(Op::name, {number});
    }

    [[noreturn]] void no_function(const std::string& name) const {
        std::string like = "One of two values is written: condition ? value : other.";
        if (name != "if") {
            std::vector<std::string_view> words;
            for (const FunctionInfo& function : all_functions()) words.push_back(function.name);
            const std::string_view near = nearest_word(words, name);
            like = near.empty() ? "“bricol formulas” lists them all." : fmt::format("Did you mean “{}”?", near);
        }
        fail(fmt::format("There is no function “{}”. {}", name, like));
    }

    std::uint32_t call() {
        const std::string name = tokens_[at_].text;
        const FunctionInfo* function = find_function(name);
        ++at_;
        if (!take("(")) fail(fmt::format("“{}” needs its values in brackets.", name));
        std::vector<std::uint32_t> values;
        if (!is(")")) do
                values.push_back(choice());
            while (take(","));
        if (!take(")")) fail("A bracket is never closed.");
        if (static_cast<int>(values.size()) < function->least || static_cast<int>(values.size()) > function->most)
            fail(fmt::format("“{}” takes another number of values.", name));
        program_.uses_random_ |= function->op == Op::own_random;
        return emit(function->op, std::move(values));
    }

    std::string_view text_;
    const std::map<std::string, double>& constants_;
    std::vector<Token> tokens_;
    std::size_t at_ = 0;
    FieldProgram program_;
};

Result<FieldProgram> FieldProgram::compile(std::string_view text, const std::map<std::string, double>& constants) {
    auto tokens = tokens_of(text);
    if (!tokens) return tokens.problem();
    return FieldCompiler(text, constants, std::move(*tokens)).compiled();
}

namespace {

template <class F>
void each(std::size_t n, double* to, const double* a, F f) {
    for (std::size_t i = 0; i < n; ++i) to[i] = f(a[i]);
}
template <class F>
void each(std::size_t n, double* to, const double* a, const double* b, F f) {
    for (std::size_t i = 0; i < n; ++i) to[i] = f(a[i], b[i]);
}
template <class F>
void each(std::size_t n, double* to, const double* a, const double* b, const double* c, F f) {
    for (std::size_t i = 0; i < n; ++i) to[i] = f(a[i], b[i], c[i]);
}

void noise_block(std::size_t n, double* to, const double* x, const double* y, const double* z, const double* octaves) {
    if (octaves) {
        for (std::size_t i = 0; i < n; ++i) to[i] = layered_noise(x[i], y[i], z[i], octaves[i]);
        return;
    }
    std::array<float, FieldProgram::block> fx, fy, fz, out;
    for (std::size_t i = 0; i < n; ++i)
        fx[i] = static_cast<float>(x[i]), fy[i] = static_cast<float>(y[i]), fz[i] = static_cast<float>(z[i]);
    gradient_noise({fx.data(), n}, {fy.data(), n}, {fz.data(), n}, 0, {out.data(), n});
    for (std::size_t i = 0; i < n; ++i) to[i] = static_cast<double>(out[i]);
}

}  // namespace

void FieldProgram::run(std::span<const double* const> inputs, std::span<const std::uint32_t> own, std::span<double> out,
                       std::vector<double>& scratch) const {
    const std::size_t n = out.size();
    scratch.resize(static_cast<std::size_t>(registers_) * block);
    const auto reg = [&](std::uint32_t r) { return scratch.data() + static_cast<std::size_t>(r) * block; };
    for (const Instruction& i : code_) {
        double* to = i.to + 1 == registers_ ? out.data() : reg(i.to);
        const double* a = !i.from.empty() && i.op != Op::name ? reg(i.from[0]) : nullptr;
        const double* b = i.from.size() > 1 ? reg(i.from[1]) : nullptr;
        const double* c = i.from.size() > 2 ? reg(i.from[2]) : nullptr;
        switch (i.op) {
            case Op::constant:
                std::fill_n(to, n, i.value);
                break;
            case Op::name:
                std::copy_n(inputs[i.from[0]], n, to);
                break;
            case Op::own_random:
                for (std::size_t k = 0; k < n; ++k)
                    to[k] = random_share(own[k], static_cast<std::uint32_t>(static_cast<std::int64_t>(a[k])));
                break;
            case Op::negate:
                each(n, to, a, [](double x) { return -x; });
                break;
            case Op::add:
                each(n, to, a, b, [](double x, double y) { return x + y; });
                break;
            case Op::subtract:
                each(n, to, a, b, [](double x, double y) { return x - y; });
                break;
            case Op::multiply:
                each(n, to, a, b, [](double x, double y) { return x * y; });
                break;
            case Op::divide:
                each(n, to, a, b, [](double x, double y) { return x / y; });
                break;
            case Op::power:
                each(n, to, a, b, [](double x, double y) { return std::pow(x, y); });
                break;
            case Op::less:
                each(n, to, a, b, [](double x, double y) { return static_cast<double>(x < y); });
                break;
            case Op::less_equal:
                each(n, to, a, b, [](double x, double y) { return static_cast<double>(x <= y); });
                break;
            case Op::greater:
                each(n, to, a, b, [](double x, double y) { return static_cast<double>(x > y); });
                break;
            case Op::greater_equal:
                each(n, to, a, b, [](double x, double y) { return static_cast<double>(x >= y); });
                break;
            case Op::equal:
                each(n, to, a, b, [](double x, double y) { return static_cast<double>(x == y); });
                break;
            case Op::unequal:
                each(n, to, a, b, [](double x, double y) { return static_cast<double>(x != y); });
                break;
            case Op::both:
                each(n, to, a, b, [](double x, double y) { return static_cast<double>(x != 0 && y != 0); });
                break;
            case Op::either:
                each(n, to, a, b, [](double x, double y) { return static_cast<double>(x != 0 || y != 0); });
                break;
            case Op::select:
                each(n, to, a, b, c, [](double x, double y, double z) { return x != 0 ? y : z; });
                break;
            case Op::sine:
                each(n, to, a, [](double x) { return std::sin(x * degree); });
                break;
            case Op::cosine:
                each(n, to, a, [](double x) { return std::cos(x * degree); });
                break;
            case Op::tangent:
                each(n, to, a, [](double x) { return std::tan(x * degree); });
                break;
            case Op::arcsine:
                each(n, to, a, [](double x) { return std::asin(x) / degree; });
                break;
            case Op::arccosine:
                each(n, to, a, [](double x) { return std::acos(x) / degree; });
                break;
            case Op::arctangent:
                each(n, to, a, [](double x) { return std::atan(x) / degree; });
                break;
            case Op::arctangent2:
                each(n, to, a, b, [](double y, double x) { return std::atan2(y, x) / degree; });
                break;
            case Op::floor:
                each(n, to, a, [](double x) { return std::floor(x); });
                break;
            case Op::ceil:
                each(n, to, a, [](double x) { return std::ceil(x); });
                break;
            case Op::round:
                each(n, to, a, [](double x) { return std::round(x); });
                break;
            case Op::root:
                each(n, to, a, [](double x) { return std::sqrt(x); });
                break;
            case Op::absolute:
                each(n, to, a, [](double x) { return std::abs(x); });
                break;
            case Op::exponent:
                each(n, to, a, [](double x) { return std::exp(x); });
                break;
            case Op::logarithm:
                each(n, to, a, [](double x) { return std::log(x); });
                break;
            case Op::sign:
                each(n, to, a, [](double x) { return static_cast<double>((x > 0) - (x < 0)); });
                break;
            case Op::modulo:
                each(n, to, a, b, [](double x, double y) { return x - y * std::floor(x / y); });
                break;
            case Op::clamp:
                each(n, to, a, b, c,
                     [](double x, double low, double high) { return std::min(std::max(x, low), high); });
                break;
            case Op::mix:
                each(n, to, a, b, c, [](double x, double y, double t) { return x + (y - x) * t; });
                break;
            case Op::smoothstep:
                each(n, to, a, b, c, smooth_share);
                break;
            case Op::noise:
                noise_block(n, to, a, b, c, nullptr);
                break;
            case Op::fractal:
                noise_block(n, to, a, b, c, reg(i.from[3]));
                break;
            case Op::minimum:
            case Op::maximum:
                std::copy_n(a, n, to);
                for (std::size_t v = 1; v < i.from.size(); ++v)
                    i.op == Op::minimum
                        ? each(n, to, to, reg(i.from[v]), [](double x, double y) { return std::min(x, y); })
                        : each(n, to, to, reg(i.from[v]), [](double x, double y) { return std::max(x, y); });
                break;
            case Op::least_of_all:  // of the one there is: those over elements were worked out before
            case Op::most_of_all:
            case Op::mean_of_all:
            case Op::sum_of_all:
                std::copy_n(a, n, to);
                break;
            case Op::through: {
                std::array<double, 65> numbers{};
                for (std::size_t k = 0; k < n; ++k) {
                    for (std::size_t v = 0; v < i.from.size(); ++v) numbers[v] = reg(i.from[v])[k];
                    to[k] = ramp_through(numbers.data(), static_cast<int>(i.from.size()));
                }
                break;
            }
        }
    }
}

std::size_t FieldProgram::first_whole() const {
    return static_cast<std::size_t>(
        std::ranges::find_if(code_, [](const Instruction& i) { return i.op >= Op::least_of_all; }) - code_.begin());
}

FieldProgram FieldProgram::before(std::size_t instruction) const {
    FieldProgram out = *this;
    out.code_.resize(instruction);
    out.registers_ = code_[instruction].to;  // its only value stands in the register before its own
    return out;
}

namespace {

/// In order, so that the sum is the same for any number of threads.
double over_all(FieldOp op, std::span<const double> values) {
    if (values.empty()) return 0;
    if (op == FieldOp::least_of_all) return *std::ranges::min_element(values);
    if (op == FieldOp::most_of_all) return *std::ranges::max_element(values);
    const double sum = std::accumulate(values.begin(), values.end(), 0.0);
    return op == FieldOp::sum_of_all ? sum : sum / static_cast<double>(values.size());
}

}  // namespace

std::size_t work_out(const FieldProgram& program, std::span<const FieldReader> readers,
                     std::span<const std::uint32_t> own, std::span<double> out) {
    constexpr std::size_t block = FieldProgram::block;
    const std::size_t count = out.size();
    if (const std::size_t whole = program.first_whole(); whole < program.code_.size()) {
        const std::size_t bad = work_out(program.before(whole), readers, own, out);
        if (bad < count) return bad;
        FieldProgram known = program;
        FieldProgram::Instruction& instruction = known.code_[whole];
        instruction = {FieldOp::constant, instruction.to, {}, over_all(instruction.op, out)};
        return work_out(known, readers, own, out);
    }
    return parallel::reduce(
        parallel::Numbers<std::size_t>(0, count, 16 * block), count,
        [&](const parallel::Numbers<std::size_t>& range, std::size_t bad) {
            stop_point();
            std::vector<double> values(readers.size() * block), scratch;
            std::vector<const double*> inputs(readers.size());
            for (std::size_t i = 0; i < readers.size(); ++i) inputs[i] = values.data() + i * block;
            for (std::size_t begin = range.begin(); begin < range.end(); begin += block) {
                const std::size_t n = std::min(block, range.end() - begin);
                for (std::size_t i = 0; i < readers.size(); ++i) readers[i](begin, {values.data() + i * block, n});
                program.run(inputs, own.empty() ? own : own.subspan(begin, n), out.subspan(begin, n), scratch);
                if (bad == count)
                    for (std::size_t k = 0; k < n; ++k)
                        if (!std::isfinite(out[begin + k])) {
                            bad = begin + k;
                            break;
                        }
            }
            return bad;
        },
        [](std::size_t a, std::size_t b) { return std::min(a, b); });
}

}  // namespace bricol
