// SPDX-License-Identifier: GPL-3.0-or-later
#include <epoxy/egl.h>
#include <epoxy/gl.h>
//
#include "app/viewport/renderer.h"

#include <QElapsedTimer>
#include <QString>
#include <algorithm>
#include <cmath>
#include <glm/gtc/type_ptr.hpp>
#include <list>

#include "app/theme/theme.h"
#include "app/viewport/dark_corners.h"
#include "app/viewport/gl_program.h"
#include "app/viewport/gl_target.h"
#include "app/viewport/grid_lines.h"
#include "app/viewport/ground_shadow.h"
#include "app/viewport/mesh_programs.h"
#include "app/viewport/moving_pace.h"
#include "app/viewport/shaders.h"

namespace bricol {

namespace {

glm::vec3 rgb(const QColor& c) { return {c.redF(), c.greenF(), c.blueF()}; }
glm::vec3 rgb(theme::Role role) { return rgb(theme::color(role)); }

struct GpuPicture {
    qint64 key = 0;
    GLuint texture = 0;
};

class EglRenderer final : public Renderer {
public:
    EGLDisplay display = EGL_NO_DISPLAY;
    EGLContext context = EGL_NO_CONTEXT;
    GLuint pick_program = 0, line_program = 0, sky_program = 0, picture_program = 0, empty_array = 0;
    GLuint line_buffer = 0, line_array = 0;
    Target coarse, smooth, ids;
    GroundShadow ground_shadow;
    MeshPrograms mesh_programs;
    MovingPace pace;
    MeshStore store;
    std::list<GpuPicture> pictures;
    std::vector<float> depths;
    std::size_t triangles_drawn = 0;
    double most_moving = 25e3;  ///< triangles of shapes that stand alone in a picture while the hand moves
    double most_copied = 25e3;  ///< those of copies, beside what stands alone

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
        const EGLint wanted[] = {
            EGL_CONTEXT_MAJOR_VERSION,           4,       EGL_CONTEXT_MINOR_VERSION, 5, EGL_CONTEXT_OPENGL_PROFILE_MASK,
            EGL_CONTEXT_OPENGL_CORE_PROFILE_BIT, EGL_NONE};
        context = eglCreateContext(display, EGL_NO_CONFIG_KHR, EGL_NO_CONTEXT, wanted);
        if (context == EGL_NO_CONTEXT || !eglMakeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, context)) {
            *why =
                "The graphics driver has no OpenGL 4.5. Update it, or set LIBGL_ALWAYS_SOFTWARE=1 to draw in software.";
            return false;
        }
        mesh_programs.begin([](GLuint) {});
        mesh_programs.use(shading_named("clay"), why);
        pick_program = gl_program(shaders::pick_vertex, shaders::pick_fragment, why);
        line_program = gl_program(shaders::line_vertex, shaders::line_fragment, why);
        sky_program = gl_program(shaders::sky_vertex, shaders::sky_fragment, why);
        picture_program = gl_program(shaders::picture_vertex, shaders::picture_fragment, why);
        glCreateVertexArrays(1, &empty_array);
        glCreateVertexArrays(1, &line_array);
        glCreateBuffers(1, &line_buffer);
        glVertexArrayVertexBuffer(line_array, 0, line_buffer, 0, 28);
        for (const auto& [slot, size, offset] : {std::tuple{0, 3, 0}, {1, 4, 12}}) {
            glEnableVertexArrayAttrib(line_array, slot);
            glVertexArrayAttribFormat(line_array, slot, size, GL_FLOAT, GL_FALSE, offset);
            glVertexArrayAttribBinding(line_array, slot, 0);
        }
        const QString name = driver();
        const bool software = name.contains("llvmpipe") || name.contains("softpipe");
        most_moving = software ? 25e3 : 2e6;
        most_copied = software ? 25e3 : 60e3;
        return why->isEmpty();
    }

    std::size_t triangles() const override { return triangles_drawn; }
    void finish_preparing() override { store.finish_preparing(); }
    QString driver() const override {
        return QString::fromLatin1(reinterpret_cast<const char*>(glGetString(GL_RENDERER)));
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
        glTextureSubImage2D(picture.texture, 0, 0, 0, plain.width(), plain.height(), GL_RGBA, GL_UNSIGNED_BYTE,
                            plain.constBits());
        glTextureParameteri(picture.texture, GL_TEXTURE_MIN_FILTER, GL_LINEAR);
        for (GLenum side : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T})
            glTextureParameteri(picture.texture, side, GL_CLAMP_TO_EDGE);
        pictures.push_front(picture);
        return picture.texture;
    }

    void draw_sky() {
        glUseProgram(sky_program);
        uniform(sky_program, "high", rgb(theme::Role::view_high));
        uniform(sky_program, "low", rgb(theme::Role::view_low));
        glDisable(GL_CULL_FACE);
        glBindVertexArray(empty_array);
        glDepthMask(GL_FALSE);
        glDrawArrays(GL_TRIANGLES, 0, 3);
        glDepthMask(GL_TRUE);
    }

    void draw_grid(const Scene& scene, const Camera& camera, const glm::dmat4& matrix) {
        const std::vector<float> vertices = grid_lines(camera, scene.plane, scene.grid_step);
        glNamedBufferData(line_buffer, static_cast<GLsizeiptr>(vertices.size() * sizeof(float)), vertices.data(),
                          GL_STREAM_DRAW);
        glUseProgram(line_program);
        uniform(line_program, "matrix", matrix);
        glBindVertexArray(line_array);
        glDepthMask(GL_FALSE);
        glDrawArrays(GL_LINES, 0, static_cast<GLsizei>(vertices.size() / 7));
        glDepthMask(GL_TRUE);
    }

    void draw_quad(const glm::dmat4& matrix, const DVec3& corner, const DVec3& across, const DVec3& up, GLuint texture,
                   float opacity, bool mask_only) {
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

    void draw(const GpuMesh& mesh, const GpuPlaces& places) {
        triangles_drawn +=
            static_cast<std::size_t>(mesh.count) / 3 * static_cast<std::size_t>(places.plain + places.mirrored);
        glBindVertexArray(mesh.array);
        glBindBufferBase(GL_UNIFORM_BUFFER, 0, mesh.materials);
        glVertexArrayVertexBuffer(mesh.array, 1, places.buffer, 0, sizeof(GpuPlace));
        if (places.plain > 0) glDrawArraysInstanced(GL_TRIANGLES, 0, mesh.count, places.plain);
        if (places.mirrored == 0) return;
        glVertexArrayVertexBuffer(mesh.array, 1, places.buffer, static_cast<GLintptr>(places.plain * sizeof(GpuPlace)),
                                  sizeof(GpuPlace));
        glFrontFace(GL_CCW);
        glDrawArraysInstanced(GL_TRIANGLES, 0, mesh.count, places.mirrored);
        glFrontFace(GL_CW);
    }

    /// Share of their triangles that copies are drawn with, so that a scene of many stays live in the hand.
    double share_of_copies(const Scene& scene, bool fine) const {
        double alone = 0, copied = 0;
        for (const SceneItem& item : scene.items) {
            const Topology& t = *item.shape->mesh.topology;
            const double triangles = static_cast<double>(t.corner_count()) - 2.0 * static_cast<double>(t.face_count());
            (item.places->size() > 1 ? copied : alone) += triangles * static_cast<double>(item.places->size());
        }
        const double room = std::max(fine ? 60e3 : most_copied, (fine ? 1.5e6 : most_copied + 20e3) - alone);
        return copied > room ? room / copied : 1;
    }

    static double triangles_alone(const SceneItem& item) {
        const Topology& t = *item.shape->mesh.topology;
        return item.places->size() > 1
                   ? 0
                   : static_cast<double>(t.corner_count()) - 2.0 * static_cast<double>(t.face_count());
    }

    void prepare_moving(const Scene& scene) override {
        double all = 0;
        for (const SceneItem& item : scene.items) all += triangles_alone(item);
        if (all <= most_moving) return;
        for (const SceneItem& item : scene.items)
            if (const double own = triangles_alone(item); own > 2000)
                store.prepare(item.shape->mesh, static_cast<std::size_t>(std::max(1000.0, own * most_moving / all)));
    }

    void draw_item(const SceneItem& item, const ShadingInfo& wanted, double share, bool fine, int glass_pass,
                   const Paint& paint = {}) {
        if (item.shape->mesh.face_count() == 0) return;
        const bool copies = item.places->size() > 1 && share < 1;
        const ShadingInfo& shading = item.helper  ? shading_named("wire")
                                     : item.ghost ? shading_named("see_through")
                                                  : wanted;
        const Paint own_paint = shading.paints_attribute ? paint : Paint{};
        const GpuMesh& mesh =
            copies
                ? store.mesh(
                      item.shape->mesh,
                      static_cast<std::size_t>(share * static_cast<double>(item.shape->mesh.topology->corner_count())),
                      own_paint)
            : fine ? store.mesh(item.shape->mesh, ~std::size_t(0), own_paint)
                   : store.moving(item.shape->mesh, own_paint);
        if (shading.glass && !(glass_pass > 0 ? mesh.glass : mesh.solid)) return;
        const GLuint p = mesh_programs.use(shading);
        uniform(p, "clay", rgb(item.clay));
        uniform(p, "alpha", item.helper ? 0.3f : item.ghost ? 0.55f : 1.0f);
        uniform(p, "sharp_only", (item.cage || copies || mesh.light) && shading.sharp_when_many ? 1.0f : 0.0f);
        uniform(p, "glass_pass", glass_pass);
        if (shading.glass)
            glBlendFunc(GL_ONE, GL_SRC1_COLOR);
        else
            glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE);
        if (glass_pass > 0 ? mesh.closed : mesh.closed && !shading.through && !shading.both_sides)
            glEnable(GL_CULL_FACE);
        else
            glDisable(GL_CULL_FACE);
        glCullFace(glass_pass == 1 ? GL_FRONT : GL_BACK);
        glDepthMask(shading.through || glass_pass > 0 ? GL_FALSE : GL_TRUE);
        draw(mesh, store.places(item.places, item.tints));
        glDepthMask(GL_TRUE);
        glCullFace(GL_BACK);
    }

    const GpuMesh& looked_at(const SceneItem& item, bool fine) {
        return fine || item.places->size() > 1 ? store.mesh(item.shape->mesh) : store.moving(item.shape->mesh);
    }

    /// Glass after everything solid, the farthest item first; the far walls of each, then the near ones.
    void draw_glass(const Scene& scene, const Camera& camera, double share, bool fine) {
        std::vector<std::pair<double, const SceneItem*>> order;
        for (const SceneItem& item : scene.items) {
            if (item.ghost || item.helper || item.shape->mesh.face_count() == 0 || !looked_at(item, fine).glass)
                continue;
            const DVec3 at(glm::dmat4(item.places->front()) *
                           glm::dvec4(DVec3(item.shape->mesh.positions->front()), 1));
            order.emplace_back(-glm::dot(at, -camera.direction()), &item);
        }
        std::stable_sort(order.begin(), order.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        for (const auto& [depth, item] : order)
            for (const int pass : {1, 2})
                if (pass == 2 || looked_at(*item, fine).closed) draw_item(*item, *scene.shading, share, fine, pass);
    }

    PickPicture pick(const Scene& scene, const Camera& camera, QSize pixels) override {
        PickPicture picture;
        picture.size = pixels.expandedTo({8, 8});
        picture.pixels.assign(static_cast<std::size_t>(picture.size.width()) * picture.size.height(), glm::uvec2(0));
        eglMakeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, context);
        ids.make(picture.size, 0, GL_RG32UI);
        glBindFramebuffer(GL_FRAMEBUFFER, ids.frame);
        glViewport(0, 0, picture.size.width(), picture.size.height());
        const GLuint nothing[4] = {0, 0, 0, 0};
        const GLfloat far = 1;
        glClearBufferuiv(GL_COLOR, 0, nothing);
        glClearBufferfv(GL_DEPTH, 0, &far);
        glEnable(GL_DEPTH_TEST);
        glDepthFunc(GL_LEQUAL);
        glDisable(GL_BLEND);
        glDisable(GL_CULL_FACE);
        glm::dmat4 flip(1);
        flip[1][1] = -1;
        uniform(pick_program, "matrix",
                flip * camera.projection(static_cast<double>(picture.size.width()) / picture.size.height()) *
                    camera.view_matrix());
        glUseProgram(pick_program);
        for (std::size_t i = 0; i < scene.items.size(); ++i) {
            const SceneItem& item = scene.items[i];
            if (item.ghost || item.shape->mesh.face_count() == 0) continue;
            glProgramUniform1ui(pick_program, glGetUniformLocation(pick_program, "item"), static_cast<GLuint>(i + 1));
            draw(store.mesh(item.shape->mesh), store.places(item.places, item.tints));
        }
        glReadPixels(0, 0, picture.size.width(), picture.size.height(), GL_RG_INTEGER, GL_UNSIGNED_INT,
                     picture.pixels.data());
        return picture;
    }

    QImage render(const Scene& scene, const Camera& camera, QSize pixels, bool fine) override {
        QElapsedTimer clock;
        clock.start();
        const QSize whole = pixels.expandedTo({8, 8}), size = fine ? whole : (whole * pace.share()).expandedTo({8, 8});
        eglMakeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, context);
        triangles_drawn = 0;
        const bool shadow = scene.shadow && !camera.flat() && camera.pitch > 2 && ground_shadow.make(scene, fine);
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
        draw_sky();
        if (scene.grid) draw_grid(scene, camera, matrix);
        if (shadow)
            draw_quad(matrix, ground_shadow.corner(), {ground_shadow.side(), 0, 0}, {0, ground_shadow.side(), 0},
                      ground_shadow.texture(), theme::night() ? 0.55f : 0.30f, true);
        for (const ScenePicture& picture : scene.pictures)
            if (!picture.on_top)
                draw_quad(matrix, picture.corner, picture.across, picture.up, texture_of(picture.image),
                          picture.opacity, false);

        mesh_programs.begin([&](GLuint p) {
            uniform(p, "matrix", matrix);
            uniform(p, "ink", rgb(theme::Role::ink));
            uniform(p, "front_tint", rgb(theme::Role::facing));
            uniform(p, "back_tint", rgb(theme::Role::facing_away));
            uniform(p, "eye", glm::vec3(camera.eye()));
            uniform(p, "toward_eye", glm::vec3(camera.direction()));
            uniform(p, "flat_view", camera.flat() ? 1 : 0);
            uniform(p, "key",
                    glm::vec3(glm::normalize(camera.direction() * 0.75 + camera.up() * 0.75 - camera.right() * 0.7)));
            uniform(p, "line_width", fine ? 1.25f : 1.25f * static_cast<float>(pace.share()));
        });
        const double share = share_of_copies(scene, fine);
        for (const bool ghosts : {false, true})
            for (const SceneItem& item : scene.items)
                if (item.ghost == ghosts) draw_item(item, *scene.shading, share, fine, 0, scene.paint);
        if (scene.shading->glass) draw_glass(scene, camera, share, fine);
        glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE);
        glDisable(GL_CULL_FACE);
        glDisable(GL_DEPTH_TEST);
        for (const ScenePicture& picture : scene.pictures)
            if (picture.on_top)
                draw_quad(matrix, picture.corner, picture.across, picture.up, texture_of(picture.image),
                          picture.opacity, false);

        const int w = size.width(), h = size.height();
        if (fine)
            glBlitNamedFramebuffer(smooth.frame, coarse.frame, 0, 0, w, h, 0, 0, w, h,
                                   GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT, GL_NEAREST);
        glBindFramebuffer(GL_READ_FRAMEBUFFER, coarse.frame);
        QImage image(size, QImage::Format_RGB32);
        glReadPixels(0, 0, w, h, GL_BGRA, GL_UNSIGNED_INT_8_8_8_8_REV, image.bits());
        if (scene.occlusion && !scene.shading->through) {
            depths.resize(static_cast<std::size_t>(w) * static_cast<std::size_t>(h));
            glReadPixels(0, 0, w, h, GL_DEPTH_COMPONENT, GL_FLOAT, depths.data());
            darken_corners(image, depths, camera);
        }
        if (fine) return image;
        pace.took(static_cast<double>(clock.nsecsElapsed()) / 1e6);
        return size == whole ? image : image.scaled(whole, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    }
};

}  // namespace

std::unique_ptr<Renderer> Renderer::create(QString* why) {
    auto renderer = std::make_unique<EglRenderer>();
    if (!renderer->start(why)) return nullptr;
    return renderer;
}

}  // namespace bricol
