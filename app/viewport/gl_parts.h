// SPDX-License-Identifier: GPL-3.0-or-later
// What drawing with OpenGL is made of: shader programs and frame buffers.
#pragma once

#include <epoxy/gl.h>

#include <QSize>
#include <QString>

namespace bricol {

inline GLuint shader(GLenum kind, const char* text, QString* why) {
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

/// Linked from two texts; what the driver says against them goes into `why`.
inline GLuint program(const char* vertex, const char* fragment, QString* why) {
    const GLuint id = glCreateProgram(), v = shader(GL_VERTEX_SHADER, vertex, why),
                 f = shader(GL_FRAGMENT_SHADER, fragment, why);
    glAttachShader(id, v);
    glAttachShader(id, f);
    glLinkProgram(id);
    glDeleteShader(v);
    glDeleteShader(f);
    return id;
}

/// A frame buffer of some size and number of samples.
struct DrawTarget {
    GLuint frame = 0, color = 0, depth = 0;
    QSize size;
    int samples = 0;

    void make(QSize wanted, int wanted_samples, GLenum format = GL_RGBA8) {
        if (size == wanted && samples == wanted_samples) return;
        drop();
        size = wanted;
        samples = wanted_samples;
        glCreateFramebuffers(1, &frame);
        glCreateRenderbuffers(1, &color);
        glCreateRenderbuffers(1, &depth);
        glNamedRenderbufferStorageMultisample(color, samples, format, size.width(), size.height());
        glNamedRenderbufferStorageMultisample(depth, samples, GL_DEPTH_COMPONENT32F, size.width(), size.height());
        glNamedFramebufferRenderbuffer(frame, GL_COLOR_ATTACHMENT0, GL_RENDERBUFFER, color);
        glNamedFramebufferRenderbuffer(frame, GL_DEPTH_ATTACHMENT, GL_RENDERBUFFER, depth);
    }
    void drop() {
        if (!frame) return;
        glDeleteFramebuffers(1, &frame);
        glDeleteRenderbuffers(1, &color);
        glDeleteRenderbuffers(1, &depth);
        frame = 0;
    }
};

}  // namespace bricol
