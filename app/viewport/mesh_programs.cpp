// SPDX-License-Identifier: GPL-3.0-or-later
#include <epoxy/gl.h>
//
#include "app/viewport/mesh_programs.h"

#include "app/viewport/gl_program.h"
#include "app/viewport/shaders.h"

namespace bricol {

void MeshPrograms::begin(std::function<void(unsigned program)> common) {
    common_ = std::move(common);
    ++picture_;
}

unsigned MeshPrograms::use(const ShadingInfo& shading, QString* why) {
    programs_.resize(all_shadings().size());
    Program& program = programs_[static_cast<std::size_t>(shading_number(shading))];
    if (!program.id) {
        const std::string fragment =
            shaders::mesh_fragment_head + shading_function(shading) + shaders::mesh_fragment_main;
        QString refused;
        program.id = gl_program(shaders::mesh_vertex, fragment.c_str(), &refused);
        if (!refused.isEmpty()) qCritical("%s: %s", shading.text, qPrintable(refused));
        if (why) *why += refused;
    }
    if (program.picture != picture_) {
        common_(program.id);
        program.picture = picture_;
    }
    glUseProgram(program.id);
    return program.id;
}

}  // namespace bricol
