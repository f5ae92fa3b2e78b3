// SPDX-License-Identifier: GPL-3.0-or-later
// A frame buffer of some size and number of samples. Include epoxy's headers before this one.
#pragma once

#include <QSize>

namespace bricol {

struct Target {
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
