// SPDX-License-Identifier: GPL-3.0-or-later
// Any text as a drawing, and its curves through what is done to curves.
#include <string_view>

#include "core/kernels/curve_edit.h"
#include "core/kernels/flatten.h"
#include "core/kernels/path.h"
#include "core/kernels/resample.h"
#include "core/kernels/svg_outline.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace bricol;
    const auto drawing = read_svg_outline(std::string_view(reinterpret_cast<const char*>(data), size), 2000);
    if (!drawing) return 0;
    for (const Curve& curve : drawing->curves) {
        bool far = false;  // such places are refused at the step that made them
        for (const Knot& knot : curve.knots)
            for (const Vec3& v : {knot.at, knot.in, knot.out})
                for (int i = 0; i < 3; ++i) far |= !(v[i] > -1e9f && v[i] < 1e9f);
        if (far) continue;
        const Polyline line = flatten(curve);
        const double length = length_of(line);
        (void)trimmed(curve, 0.1 * length, 0.8 * length);
        (void)resampled(curve, {});
        (void)make_path(line, {});
    }
    return 0;
}
