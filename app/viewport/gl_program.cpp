// SPDX-License-Identifier: GPL-3.0-or-later
#include <epoxy/gl.h>
//
#include "app/viewport/gl_program.h"

#include <glm/gtc/type_ptr.hpp>

namespace bricol {

namespace {

GLuint shader(GLenum kind, const char* text, QString* why) {
    const GLuint id = glCreateShader(kind);
    glShaderSource(id, 1, &text, nullptr);
    glCompileShader(id);
    GLint good = 0;
    glGetShaderiv(id, GL_COMPILE_STATUS, &good);
    if (!good && why) {
        char log[1024];
        glGetShaderInfoLog(id, sizeof log, nullptr, log);
        *why = QString("The graphics driver refused a shader: %1").arg(log);
    }
    return id;
}

}  // namespace

unsigned gl_program(const char* vertex, const char* fragment, QString* why) {
    const GLuint id = glCreateProgram(), v = shader(GL_VERTEX_SHADER, vertex, why),
                 f = shader(GL_FRAGMENT_SHADER, fragment, why);
    glAttachShader(id, v);
    glAttachShader(id, f);
    glLinkProgram(id);
    glDeleteShader(v);
    glDeleteShader(f);
    return id;
}

void uniform(unsigned program, const char* name, const glm::vec3& v) {
    glProgramUniform3fv(program, glGetUniformLocation(program, name), 1, glm::value_ptr(v));
}
void uniform(unsigned program, const char* name, float v) {
    glProgramUniform1f(program, glGetUniformLocation(program, name), v);
}
void uniform(unsigned program, const char* name, int v) {
    glProgramUniform1i(program, glGetUniformLocation(program, name), v);
}
void uniform(unsigned program, const char* name, const glm::dmat4& m) {
    const glm::mat4 f(m);
    glProgramUniformMatrix4fv(program, glGetUniformLocation(program, name), 1, GL_FALSE, glm::value_ptr(f));
}

}  // namespace bricol
