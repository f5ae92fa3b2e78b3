// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/stage_step.h"

namespace bricol {

namespace {

struct CameraSettings {
    DVec3 at{1.6, -2.6, 1.4};
    DVec3 aim{0, 0, 0.4};
    double focal = 50;
    double film = 36;
    double roll = 0;
    double f_number = 0;
    double sharp_at = 0;
    int width = 1280, height = 800;
    double exposure = 0;
};

StagePiece place_camera(const CameraSettings& s, StepRun& run) {
    StageCamera camera;
    camera.eye = s.at, camera.aim = s.aim, camera.roll = s.roll;
    camera.focal = s.focal, camera.film = s.film, camera.f_number = s.f_number, camera.sharp_at = s.sharp_at;
    camera.exposure = s.exposure, camera.width = s.width, camera.height = s.height;
    if (glm::distance(s.at, s.aim) < 1e-9)
        run.tell(Severity::error, "no-direction",
                 "The camera stands where it looks to, so it looks nowhere. Move “Stands at” or “Looks at”.");
    return {camera};
}

const StageOf<CameraSettings> camera_step{
    StepInfo{
        .key = "camera",
        .name = "Camera",
        .family = Family::light,
        .purpose = "A place to take pictures from, with its lens and the size of the picture.",
        .words = "view shot lens focal render picture frame depth of field",
        .help =
            "Where it stands, what it looks at, and a lens in millimetres before a film of a stated width, as on a "
            "real camera. With an aperture, things before and behind the sharp distance blur. Pictures and turntables "
            "are taken through it; the first one of the recipe unless another is asked for.",
        .glyph = "M3 8h4l2-3h6l2 3h4v11H3z M12 17a4 4 0 1 0 0 -8a4 4 0 1 0 0 8",
        .telling = "{focal} mm"},
    {pulled(vector_of(&CameraSettings::at, "at", "Stands at", Quantity::length, "Where the camera is."),
            HandleKind::point),
     pulled(vector_of(&CameraSettings::aim, "aim", "Looks at", Quantity::length, "What is in the picture's middle."),
            HandleKind::point),
     number_of(&CameraSettings::focal, "focal", "Focal length", 1, 2000,
               "Millimetres: 24 wide, 50 natural, 100 and more from afar."),
     number_of(&CameraSettings::film, "film", "Film", 1, 500,
               "Width of the film along the picture's longer side, in millimetres; 36 for small film."),
     angle_of(&CameraSettings::roll, "roll", "Lean", -180, 180, "Leans the picture's upper side to the right."),
     number_of(&CameraSettings::f_number, "f_number", "Aperture f/", 0, 128,
               "Focal length over the opening's width: 2.8 blurs what is not at the sharp distance, 16 hardly; 0 keeps "
               "all sharp."),
     when(pulled(length_of(&CameraSettings::sharp_at, "sharp_at", "Sharp at", 0, 10,
                           "Distance of what is sharp; 0 for what it looks at."),
                 HandleKind::reach, "at>aim:ahead", "at"),
          "f_number>0"),
     count_of(&CameraSettings::width, "width", "Picture width", 8, 16384, 3840, "Pixels from side to side."),
     count_of(&CameraSettings::height, "height", "Picture height", 8, 16384, 2160,
              "Pixels from its upper to its lower side."),
     number_of(&CameraSettings::exposure, "exposure", "Exposure", -20, 20, "Steps: one more is twice as bright.")},
    place_camera};

}  // namespace

}  // namespace bricol
