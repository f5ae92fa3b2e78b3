// SPDX-License-Identifier: GPL-3.0-or-later
// The programs that meshes are drawn with.
#pragma once

#include <QString>
#include <functional>
#include <vector>

#include "app/viewport/shadings.h"

namespace bricol {

/// One program for every shading, made when it is first used. In one for all of them, drivers that draw in software
/// would work out every shading for each pixel and keep the one that was asked for.
class MeshPrograms {
public:
    /// Begins a picture; `common` sets what holds for all of it, once for each program that is used.
    void begin(std::function<void(unsigned program)> common);
    /// Takes a shading's program in hand. `why` says what the driver refused; the program is then good for nothing.
    unsigned use(const ShadingInfo& shading, QString* why = nullptr);

private:
    struct Program {
        unsigned id = 0;
        std::size_t picture = 0;  ///< its common numbers are of
    };
    std::vector<Program> programs_;  ///< by the shading's number
    std::function<void(unsigned)> common_;
    std::size_t picture_ = 0;
};

}  // namespace bricol
