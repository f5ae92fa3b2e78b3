// SPDX-License-Identifier: GPL-3.0-or-later
// Programs of shaders and their numbers.
#pragma once

#include <QString>
#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>

namespace bricol {

/// A linked program, its shaders given up. `why` says what the driver refused and stays as it is otherwise.
unsigned gl_program(const char* vertex, const char* fragment, QString* why);

void uniform(unsigned program, const char* name, const glm::vec3& v);
void uniform(unsigned program, const char* name, float v);
void uniform(unsigned program, const char* name, int v);
void uniform(unsigned program, const char* name, const glm::dmat4& m);

}  // namespace bricol
