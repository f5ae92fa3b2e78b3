// SPDX-License-Identifier: GPL-3.0-or-later
#include <epoxy/egl.h>
#include <epoxy/gl.h>
//
#include "app/viewport/renderer.h"

#include <QString>
#include <algorithm>
#include <cmath>
#include <glm/gtc/type_ptr.hpp>
#include <list>

#include "app/theme/theme.h"
#include "app/viewport/mesh_buffer.h"

namespace bricol {

namespace {

constexpr const char* mesh_vertex = R"(#version 450 core
layout(location=0) in vec3 position; layout(location=1) in vec4 normal; layout(location=2) in uint mask;
uniform mat4 matrix; uniform mat4 flatten;
out vec3 at; out vec3 n; out vec3 sides; flat out uint edges;
void main() {
    vec4 p = flatten * vec4(position, 1);
    gl_Position = matrix * p; at = position; n = normal.xyz; edges = mask;
    sides = vec3(gl_VertexID % 3 == 0, gl_VertexID % 3 == 1, gl_VertexID % 3 == 2);
})";

// Light: a soft sky, a key light over the viewer's left shoulder, a thin rim that lifts the outline from the ground.
constexpr const char* mesh_fragment = R"(#version 450 core
in vec3 at; in vec3 n; in vec3 sides; flat in uint edges;
uniform vec3 clay, ink, front_tint, back_tint, eye, toward_eye, key; uniform int flat_view, shading; uniform float alpha, line_width, sharp_only;
out vec4 color;
float edge_cover(uint bits, float width) {
    vec3 d = sides / max(fwidth(sides), vec3(1e-6));
    vec3 far = vec3(1e6);
    if ((bits & 1u) == 0u) d.x = far.x; if ((bits & 2u) == 0u) d.y = far.y; if ((bits & 4u) == 0u) d.z = far.z;
    return 1.0 - smoothstep(width - 0.5, width + 0.5, min(d.x, min(d.y, d.z)));
}
void main() {
    vec3 v = flat_view == 1 ? toward_eye : normalize(eye - at);
    vec3 m = length(n) > 0.001 ? normalize(n) : vec3(0, 0, 1);
    if (!gl_FrontFacing) m = -m;
    float sky = 0.5 + 0.5 * m.z;
    float lit = max(dot(m, key), 0.0);
    float wrap = max((dot(m, key) + 0.35) / 1.35, 0.0);
    float rim = pow(1.0 - max(dot(m, v), 0.0), 3.0);
    vec3 h = normalize(key + v);
    float gloss = pow(max(dot(m, h), 0.0), 28.0) * 0.06;
    vec3 base = clay;
    if (shading == 4) base = gl_FrontFacing ? front_tint : back_tint;
    else if (!gl_FrontFacing) base *= vec3(0.62, 0.58, 0.56);
    vec3 shade = base * (mix(vec3(0.34, 0.33, 0.33), vec3(0.50, 0.52, 0.54), sky) + 0.50 * wrap * vec3(1.0, 0.985, 0.95) + 0.10 * lit) + gloss;
    shade *= 1.0 - 0.30 * rim;
    float wire = 0.0;
    if (shading == 1 || shading == 4) wire = max(edge_cover(edges, line_width * 0.3) * 0.34, edge_cover(edges >> 3, line_width * 0.5) * 0.72);
    if (shading == 0) wire = edge_cover(edges >> 3, line_width * 0.6) * 0.5;
    if (sharp_only > 0.5) wire = edge_cover(edges >> 3, line_width * 0.6) * 0.5;
    if (shading == 2) {
        wire = max(edge_cover(edges, line_width * 0.5) * 0.75, edge_cover(edges >> 3, line_width * 0.8));
        if (wire < 0.02) discard;
        color = vec4(ink, wire * alpha);
        return;
    }
    if (shading == 3) {
        wire = max(edge_cover(edges, line_width * 0.5) * 0.35, edge_cover(edges >> 3, line_width * 0.7) * 0.8);
        color = vec4(mix(shade, ink, wire), mix(0.16 + 0.45 * rim, 0.85, wire) * alpha);
        return;
    }
    color = vec4(mix(shade, ink, wire), alpha);
})";

constexpr const char* line_vertex = R"(#version 450 core
layout(location=0) in vec3 position; layout(location=1) in vec4 tint; uniform mat4 matrix; out vec4 ink;
void main() { gl_Position = matrix * vec4(position, 1); ink = tint; })";
constexpr const char* line_fragment = R"(#version 450 core
in vec4 ink; out vec4 color; void main() { color = ink; })";

constexpr const char* sky_vertex = R"(#version 450 core
out float height; void main() { vec2 p = vec2(gl_VertexID == 1 ? 3 : -1, gl_VertexID == 2 ? 3 : -1); height = p.y; gl_Position = vec4(p, 0.99999, 1); })";
constexpr const char* sky_fragment = R"(#version 450 core
in float height; uniform vec3 high, low; out vec4 color;
void main() { color = vec4(mix(high, low, clamp(height * 0.5 + 0.5, 0.0, 1.0)), 1); })";

constexpr const char* picture_vertex = R"(#version 450 core
uniform mat4 matrix; uniform vec3 corner, across, up; out vec2 uv;
void main() { uv = vec2(gl_VertexID & 1, gl_VertexID >> 1); gl_Position = matrix * vec4(corner + across * uv.x + up * uv.y, 1); })";
constexpr const char* picture_fragment = R"(#version 450 core
in vec2 uv; uniform sampler2D image; uniform float opacity; uniform vec3 tint; uniform int mask_only; out vec4 color;
void main() {
    vec4 c = texture(image, vec2(uv.x, mask_only == 1 ? uv.y : 1.0 - uv.y));
    color = mask_only == 1 ? vec4(tint, c.r * opacity) : vec4(c.rgb, c.a * opacity);
})";

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

GLuint program(const char* vertex, const char* fragment, QString* why) {
    const GLuint id = glCreateProgram(), v = shader(GL_VERTEX_SHADER, vertex, why), f = shader(GL_FRAGMENT_SHADER, fragment, why);
    glAttachShader(id, v);
    glAttachShader(id, f);
    glLinkProgram(id);
    glDeleteShader(v);
    glDeleteShader(f);
    return id;
}

glm::vec3 rgb(const QColor& c) { return {c.redF(), c.greenF(), c.blueF()}; }
glm::vec3 rgb(theme::Role role) { return rgb(theme::color(role)); }

/// A frame buffer of some size and number of samples.
struct Target {
    GLuint frame = 0, color = 0, depth = 0;
    QSize size;
    int samples = 0;

    void make(QSize wanted, int wanted_samples) {
        if (size == wanted && samples == wanted_samples) return;
        drop();
        size = wanted;
        samples = wanted_samples;
        glCreateFramebuffers(1, &frame);
        glCreateRenderbuffers(1, &color);
        glCreateRenderbuffers(1, &depth);
        glNamedRenderbufferStorageMultisample(color, samples, GL_RGBA8, size.width(), size.height());
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

struct GpuMesh {
    const void *points = nullptr, *topology = nullptr;
    std::weak_ptr<const Array<Vec3>> alive;  // an address may be used again by another mesh
    GLuint buffer = 0, array = 0;
    GLsizei count = 0;
    bool closed = false;
};

struct GpuPicture {
    qint64 key = 0;
    GLuint texture = 0;
};

class EglRenderer final : public Renderer {
public:
    EGLDisplay display = EGL_NO_DISPLAY;
    EGLContext context = EGL_NO_CONTEXT;
    GLuint mesh_program = 0, line_program = 0, sky_program = 0, picture_program = 0, empty_array = 0;
    GLuint line_buffer = 0, line_array = 0, shadow_texture = 0;
    Target coarse, smooth, shadow_target;
    std::list<GpuMesh> meshes;
    std::list<GpuPicture> pictures;
    std::vector<const void*> shadow_of;
    std::vector<float> shadow_box;

    ~EglRenderer() override {
        if (display == EGL_NO_DISPLAY) return;
        eglMakeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, EGL_NO_CONTEXT);
        if (context != EGL_NO_CONTEXT) eglDestroyContext(display, context);
    }

    bool start(QString* why) {
        display = eglGetPlatformDisplayEXT(EGL_PLATFORM_SURFACELESS_MESA, EGL_DEFAULT_DISPLAY, nullptr);
        if (display == EGL_NO_DISPLAY || !eglInitialize(display, nullptr, nullptr) || !eglBindAPI(EGL_OPENGL_API)) {
            *why = "No OpenGL driver answered. Install the Mesa drivers (libegl-mesa0, libgl1-mesa-dri).";
            return false;
        }
        const EGLint wanted[] = {EGL_CONTEXT_MAJOR_VERSION, 4, EGL_CONTEXT_MINOR_VERSION, 5, EGL_CONTEXT_OPENGL_PROFILE_MASK,
                                 EGL_CONTEXT_OPENGL_CORE_PROFILE_BIT, EGL_NONE};
        context = eglCreateContext(display, EGL_NO_CONFIG_KHR, EGL_NO_CONTEXT, wanted);
        if (context == EGL_NO_CONTEXT || !eglMakeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, context)) {
            *why = "The graphics driver has no OpenGL 4.5. Update it, or set LIBGL_ALWAYS_SOFTWARE=1 to draw in software.";
            return false;
        }
        mesh_program = program(mesh_vertex, mesh_fragment, why);
        line_program = program(line_vertex, line_fragment, why);
        sky_program = program(sky_vertex, sky_fragment, why);
        picture_program = program(picture_vertex, picture_fragment, why);
        glCreateVertexArrays(1, &empty_array);
        glCreateVertexArrays(1, &line_array);
        glCreateBuffers(1, &line_buffer);
        glVertexArrayVertexBuffer(line_array, 0, line_buffer, 0, 28);
        for (const auto& [slot, size, offset] : {std::tuple{0, 3, 0}, {1, 4, 12}}) {
            glEnableVertexArrayAttrib(line_array, slot);
            glVertexArrayAttribFormat(line_array, slot, size, GL_FLOAT, GL_FALSE, offset);
            glVertexArrayAttribBinding(line_array, slot, 0);
        }
        return why->isEmpty();
    }

    QString driver() const override { return QString::fromLatin1(reinterpret_cast<const char*>(glGetString(GL_RENDERER))); }

    const GpuMesh& upload(const Shape& shape) {
        const void *points = shape.mesh.positions.get(), *topology = shape.mesh.topology.get();
        for (auto it = meshes.begin(); it != meshes.end(); ++it)
            if (it->points == points && it->topology == topology && it->alive.lock()) {
                meshes.splice(meshes.begin(), meshes, it);
                return meshes.front();
            }
        if (meshes.size() > 24) {
            glDeleteBuffers(1, &meshes.back().buffer);
            glDeleteVertexArrays(1, &meshes.back().array);
            meshes.pop_back();
        }
        GpuMesh mesh{points, topology, shape.mesh.positions, 0, 0, 0, false};
        const Array<DrawVertex> vertices = draw_vertices(shape.mesh);
        const Adjacency& near = shape.mesh.topology->adjacency();
        mesh.closed = true;
        for (Index e = 0; e < shape.mesh.edge_count() && mesh.closed; ++e) mesh.closed = near.faces_of_edge(e).size() == 2;
        mesh.count = static_cast<GLsizei>(vertices.size());
        glCreateBuffers(1, &mesh.buffer);
        glNamedBufferData(mesh.buffer, static_cast<GLsizeiptr>(vertices.size() * sizeof(DrawVertex)), vertices.data(), GL_STATIC_DRAW);
        glCreateVertexArrays(1, &mesh.array);
        glVertexArrayVertexBuffer(mesh.array, 0, mesh.buffer, 0, sizeof(DrawVertex));
        for (int slot = 0; slot < 3; ++slot) {
            glEnableVertexArrayAttrib(mesh.array, slot);
            glVertexArrayAttribBinding(mesh.array, slot, 0);
        }
        glVertexArrayAttribFormat(mesh.array, 0, 3, GL_FLOAT, GL_FALSE, offsetof(DrawVertex, position));
        glVertexArrayAttribFormat(mesh.array, 1, 4, GL_INT_2_10_10_10_REV, GL_TRUE, offsetof(DrawVertex, normal));
        glVertexArrayAttribIFormat(mesh.array, 2, 1, GL_UNSIGNED_INT, offsetof(DrawVertex, mask));
        meshes.push_front(mesh);
        return meshes.front();
    }

    GLuint texture_of(const QImage& image) {
        for (const GpuPicture& p : pictures)
            if (p.key == image.cacheKey()) return p.texture;
        if (pictures.size() > 8) {
            glDeleteTextures(1, &pictures.back().texture);
            pictures.pop_back();
        }
        const QImage plain = image.convertToFormat(QImage::Format_RGBA8888);
        GpuPicture picture{image.cacheKey(), 0};
        glCreateTextures(GL_TEXTURE_2D, 1, &picture.texture);
        glTextureStorage2D(picture.texture, 1, GL_RGBA8, plain.width(), plain.height());
        glTextureSubImage2D(picture.texture, 0, 0, 0, plain.width(), plain.height(), GL_RGBA, GL_UNSIGNED_BYTE, plain.constBits());
        glTextureParameteri(picture.texture, GL_TEXTURE_MIN_FILTER, GL_LINEAR);
        for (GLenum side : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T}) glTextureParameteri(picture.texture, side, GL_CLAMP_TO_EDGE);
        pictures.push_front(picture);
        return picture.texture;
    }

    void uniform(GLuint p, const char* name, const glm::vec3& v) { glProgramUniform3fv(p, glGetUniformLocation(p, name), 1, glm::value_ptr(v)); }
    void uniform(GLuint p, const char* name, float v) { glProgramUniform1f(p, glGetUniformLocation(p, name), v); }
    void uniform(GLuint p, const char* name, int v) { glProgramUniform1i(p, glGetUniformLocation(p, name), v); }
    void uniform(GLuint p, const char* name, const glm::dmat4& m) {
        const glm::mat4 f(m);
        glProgramUniformMatrix4fv(p, glGetUniformLocation(p, name), 1, GL_FALSE, glm::value_ptr(f));
    }

    void draw_grid(const Scene& scene, const Camera& camera, const glm::dmat4& matrix) {
        // The plane that faces the artist: the ground, or the plane of a flat view.
        DVec3 a(1, 0, 0), b(0, 1, 0);
        theme::Role first = theme::Role::axis_x, second = theme::Role::axis_y;
        if (camera.view == View::front) b = DVec3(0, 0, 1), second = theme::Role::axis_z;
        if (camera.view == View::side) a = DVec3(0, 1, 0), b = DVec3(0, 0, 1), first = theme::Role::axis_y, second = theme::Role::axis_z;
        std::vector<float> vertices;
        const double reach = camera.flat() ? camera.distance * 1.4 : camera.distance * 2.2;
        const DVec3 middle = a * glm::dot(camera.target, a) + b * glm::dot(camera.target, b);
        const auto add = [&](const DVec3& p, const glm::vec3& ink, double strength) {
            const double far = glm::distance(p, middle) / reach;
            const double fade = camera.flat() ? 1 : std::max(0.0, 1 - far * far);
            for (int i = 0; i < 3; ++i) vertices.push_back(static_cast<float>(p[i]));
            for (int i = 0; i < 3; ++i) vertices.push_back(ink[i]);
            vertices.push_back(static_cast<float>(strength * fade));
        };
        const auto lines = [&](double step, theme::Role role, double strength) {
            const int count = std::min(120, static_cast<int>(reach / step) + 1);
            const double ca = std::round(glm::dot(middle, a) / step), cb = std::round(glm::dot(middle, b) / step);
            for (int i = -count; i <= count; ++i)
                for (int direction = 0; direction < 2; ++direction) {
                    const DVec3 along = direction ? b : a, across = direction ? a : b;
                    const double place = ((direction ? ca : cb) + i) * step;
                    const double centre = (direction ? cb : ca) * step;
                    const bool axis = std::abs(place) < step * 0.01;
                    const glm::vec3 ink = rgb(axis ? (direction ? second : first) : role);
                    const int pieces = camera.flat() ? 1 : 8;  // so that the fade follows the line
                    for (int k = -pieces; k < pieces; ++k) {
                        add(across * place + along * (centre + reach * k / pieces), ink, axis ? 0.9 : strength);
                        add(across * place + along * (centre + reach * (k + 1) / pieces), ink, axis ? 0.9 : strength);
                    }
                }
        };
        lines(scene.grid_step, theme::Role::grid, 0.55);
        lines(scene.grid_step * 10, theme::Role::grid_strong, 0.75);
        glNamedBufferData(line_buffer, static_cast<GLsizeiptr>(vertices.size() * sizeof(float)), vertices.data(), GL_STREAM_DRAW);
        glUseProgram(line_program);
        uniform(line_program, "matrix", matrix);
        glBindVertexArray(line_array);
        glDepthMask(GL_FALSE);
        glDrawArrays(GL_LINES, 0, static_cast<GLsizei>(vertices.size() / 7));
        glDepthMask(GL_TRUE);
    }

    /// A soft contact shadow: the shapes seen from above as a mask, blurred, laid on the ground.
    bool make_shadow(const Scene& scene) {
        std::vector<const void*> key;
        std::optional<Box> box;
        for (const SceneItem& item : scene.items) {
            if (item.ghost || item.shape->mesh.face_count() == 0) continue;
            key.push_back(item.shape->mesh.positions.get());
            for (const Vec3& p : *item.shape->mesh.positions) {
                if (!box) box = Box{DVec3(p), DVec3(p)};
                box->low = glm::min(box->low, DVec3(p));
                box->high = glm::max(box->high, DVec3(p));
            }
        }
        if (!box) return false;
        if (key == shadow_of && shadow_texture) return true;
        shadow_of = key;
        const double size = std::max(box->size().x, box->size().y) * 0.72 + 0.01;
        const DVec3 middle = box->centre();
        shadow_box = {static_cast<float>(middle.x - size), static_cast<float>(middle.y - size), static_cast<float>(2 * size)};
        constexpr int pixels = 160;
        shadow_target.make({pixels, pixels}, 0);
        glBindFramebuffer(GL_FRAMEBUFFER, shadow_target.frame);
        glViewport(0, 0, pixels, pixels);
        glClearColor(0, 0, 0, 0);
        glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
        glDisable(GL_DEPTH_TEST);
        glDisable(GL_CULL_FACE);
        glDisable(GL_BLEND);
        glUseProgram(mesh_program);
        const glm::dmat4 from_above = glm::ortho(middle.x - size, middle.x + size, middle.y - size, middle.y + size, -1e4, 1e4);
        uniform(mesh_program, "matrix", from_above);
        glm::dmat4 flatten(1);
        flatten[2][2] = 0;
        uniform(mesh_program, "flatten", flatten);
        uniform(mesh_program, "shading", 0);
        uniform(mesh_program, "clay", glm::vec3(2));
        uniform(mesh_program, "alpha", 1.0f);
        for (const SceneItem& item : scene.items) {
            if (item.ghost || item.shape->mesh.face_count() == 0) continue;
            const GpuMesh& mesh = upload(*item.shape);
            glBindVertexArray(mesh.array);
            glDrawArrays(GL_TRIANGLES, 0, mesh.count);
        }
        std::vector<std::uint8_t> raw(pixels * pixels * 4);
        glReadPixels(0, 0, pixels, pixels, GL_RGBA, GL_UNSIGNED_BYTE, raw.data());
        std::vector<float> mask(pixels * pixels), other(mask.size());
        for (std::size_t i = 0; i < mask.size(); ++i) mask[i] = raw[4 * i + 3] > 0 ? 1.0f : 0.0f;
        for (int round = 0; round < 3; ++round)  // three box blurs are nearly a Gaussian
            for (int direction = 0; direction < 2; ++direction) {
                constexpr int radius = 7;
                for (int y = 0; y < pixels; ++y) {
                    float sum = 0;
                    const auto at = [&](int x) { return x < 0 || x >= pixels ? 0.0f : mask[direction ? x * pixels + y : y * pixels + x]; };
                    for (int x = -radius; x < radius; ++x) sum += at(x);
                    for (int x = 0; x < pixels; ++x) {
                        sum += at(x + radius);
                        other[direction ? x * pixels + y : y * pixels + x] = sum / (2 * radius + 1);
                        sum -= at(x - radius);
                    }
                }
                std::swap(mask, other);
            }
        std::vector<std::uint8_t> bytes(mask.size());
        for (std::size_t i = 0; i < mask.size(); ++i) bytes[i] = static_cast<std::uint8_t>(std::clamp(mask[i], 0.0f, 1.0f) * 255);
        if (!shadow_texture) {
            glCreateTextures(GL_TEXTURE_2D, 1, &shadow_texture);
            glTextureStorage2D(shadow_texture, 1, GL_R8, pixels, pixels);
            for (GLenum side : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T}) glTextureParameteri(shadow_texture, side, GL_CLAMP_TO_EDGE);
            glTextureParameteri(shadow_texture, GL_TEXTURE_MIN_FILTER, GL_LINEAR);
        }
        glPixelStorei(GL_UNPACK_ALIGNMENT, 1);
        glTextureSubImage2D(shadow_texture, 0, 0, 0, pixels, pixels, GL_RED, GL_UNSIGNED_BYTE, bytes.data());
        glPixelStorei(GL_UNPACK_ALIGNMENT, 4);
        return true;
    }

    void draw_quad(const glm::dmat4& matrix, const DVec3& corner, const DVec3& across, const DVec3& up, GLuint texture, float opacity, bool mask_only) {
        glUseProgram(picture_program);
        uniform(picture_program, "matrix", matrix);
        uniform(picture_program, "corner", glm::vec3(corner));
        uniform(picture_program, "across", glm::vec3(across));
        uniform(picture_program, "up", glm::vec3(up));
        uniform(picture_program, "opacity", opacity);
        uniform(picture_program, "tint", glm::vec3(0.04f, 0.06f, 0.08f));
        uniform(picture_program, "mask_only", mask_only ? 1 : 0);
        glBindTextureUnit(0, texture);
        glBindVertexArray(empty_array);
        glDepthMask(GL_FALSE);
        glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
        glDepthMask(GL_TRUE);
    }

    void draw_item(const SceneItem& item, Shading shading) {
        if (item.shape->mesh.face_count() == 0) return;
        const GpuMesh& mesh = upload(*item.shape);
        const bool through = shading == Shading::see_through || shading == Shading::wire || item.ghost;
        uniform(mesh_program, "shading", static_cast<int>(item.ghost ? Shading::see_through : shading));
        uniform(mesh_program, "clay", rgb(item.clay));
        uniform(mesh_program, "alpha", item.ghost ? 0.55f : 1.0f);
        uniform(mesh_program, "sharp_only", item.cage && shading == Shading::wire_over_clay ? 1.0f : 0.0f);
        if (mesh.closed && !through && shading != Shading::facing)
            glEnable(GL_CULL_FACE);
        else
            glDisable(GL_CULL_FACE);
        glDepthMask(through ? GL_FALSE : GL_TRUE);
        glBindVertexArray(mesh.array);
        glDrawArrays(GL_TRIANGLES, 0, mesh.count);
        glDepthMask(GL_TRUE);
    }

    QImage render(const Scene& scene, const Camera& camera, QSize pixels, bool fine) override {
        const QSize size = pixels.expandedTo({8, 8});
        eglMakeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, context);
        const bool shadow = scene.shadow && !camera.flat() && camera.pitch > 2 && make_shadow(scene);
        coarse.make(size, 0);
        if (fine) smooth.make(size, 4);
        glBindFramebuffer(GL_FRAMEBUFFER, fine ? smooth.frame : coarse.frame);
        glViewport(0, 0, size.width(), size.height());
        glEnable(GL_DEPTH_TEST);
        glDepthFunc(GL_LEQUAL);
        glEnable(GL_BLEND);
        glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE);
        glFrontFace(GL_CW);  // the projection is flipped, because pictures start at the top
        glCullFace(GL_BACK);
        glClear(GL_DEPTH_BUFFER_BIT);

        glm::dmat4 flip(1);
        flip[1][1] = -1;
        const double aspect = static_cast<double>(size.width()) / size.height();
        const glm::dmat4 matrix = flip * camera.projection(aspect) * camera.view_matrix();
        glUseProgram(sky_program);
        uniform(sky_program, "high", rgb(theme::Role::view_high));
        uniform(sky_program, "low", rgb(theme::Role::view_low));
        glDisable(GL_CULL_FACE);
        glBindVertexArray(empty_array);
        glDepthMask(GL_FALSE);
        glDrawArrays(GL_TRIANGLES, 0, 3);
        glDepthMask(GL_TRUE);
        if (scene.grid) draw_grid(scene, camera, matrix);
        if (shadow)
            draw_quad(matrix, {shadow_box[0], shadow_box[1], 0}, {shadow_box[2], 0, 0}, {0, shadow_box[2], 0}, shadow_texture, theme::night() ? 0.55f : 0.30f, true);
        for (const ScenePicture& picture : scene.pictures)
            if (!picture.on_top) draw_quad(matrix, picture.corner, picture.across, picture.up, texture_of(picture.image), picture.opacity, false);

        glUseProgram(mesh_program);
        uniform(mesh_program, "matrix", matrix);
        uniform(mesh_program, "flatten", glm::dmat4(1));
        uniform(mesh_program, "ink", rgb(theme::Role::ink));
        uniform(mesh_program, "front_tint", rgb(theme::Role::facing));
        uniform(mesh_program, "back_tint", rgb(theme::Role::facing_away));
        uniform(mesh_program, "eye", glm::vec3(camera.eye()));
        uniform(mesh_program, "toward_eye", glm::vec3(camera.direction()));
        uniform(mesh_program, "flat_view", camera.flat() ? 1 : 0);
        uniform(mesh_program, "key", glm::vec3(glm::normalize(camera.direction() * 0.75 + camera.up() * 0.75 - camera.right() * 0.7)));
        uniform(mesh_program, "line_width", 1.25f);
        for (const bool ghosts : {false, true})
            for (const SceneItem& item : scene.items)
                if (item.ghost == ghosts) draw_item(item, scene.shading);
        glDisable(GL_CULL_FACE);
        glDisable(GL_DEPTH_TEST);
        for (const ScenePicture& picture : scene.pictures)
            if (picture.on_top) draw_quad(matrix, picture.corner, picture.across, picture.up, texture_of(picture.image), picture.opacity, false);

        if (fine)
            glBlitNamedFramebuffer(smooth.frame, coarse.frame, 0, 0, size.width(), size.height(), 0, 0, size.width(), size.height(), GL_COLOR_BUFFER_BIT, GL_NEAREST);
        glBindFramebuffer(GL_READ_FRAMEBUFFER, coarse.frame);
        QImage image(size, QImage::Format_RGB32);
        glReadPixels(0, 0, size.width(), size.height(), GL_BGRA, GL_UNSIGNED_INT_8_8_8_8_REV, image.bits());
        return image;
    }
};

}  // namespace

std::unique_ptr<Renderer> Renderer::create(QString* why) {
    auto renderer = std::make_unique<EglRenderer>();
    if (!renderer->start(why)) return nullptr;
    return renderer;
}

}  // namespace bricol
