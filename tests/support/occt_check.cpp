// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/occt_check.h"

#include <Geom_BSplineCurve.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>

namespace bricol::test {

NurbsPoint occt_point(const Nurbs& curve, double u) {
    const auto n = static_cast<int>(curve.points.size());
    TColgp_Array1OfPnt poles(1, n);
    TColStd_Array1OfReal weights(1, n);
    for (int i = 0; i < n; ++i) {
        poles.SetValue(i + 1, gp_Pnt(curve.points[i].x, curve.points[i].y, curve.points[i].z));
        weights.SetValue(i + 1, curve.weights.empty() ? 1.0 : curve.weights[i]);
    }
    std::vector<double> distinct;
    std::vector<int> times;
    for (const double k : curve.knots) {
        if (distinct.empty() || k != distinct.back()) distinct.push_back(k), times.push_back(0);
        ++times.back();
    }
    TColStd_Array1OfReal knots(1, static_cast<int>(distinct.size()));
    TColStd_Array1OfInteger multiplicities(1, static_cast<int>(distinct.size()));
    for (int i = 0; i < static_cast<int>(distinct.size()); ++i)
        knots.SetValue(i + 1, distinct[i]), multiplicities.SetValue(i + 1, times[i]);
    const Handle(Geom_BSplineCurve) spline = new Geom_BSplineCurve(poles, weights, knots, multiplicities, curve.degree);
    gp_Pnt p;
    gp_Vec d1, d2;
    spline->D2(u, p, d1, d2);
    return {{p.X(), p.Y(), p.Z()}, {d1.X(), d1.Y(), d1.Z()}, {d2.X(), d2.Y(), d2.Z()}};
}

}  // namespace bricol::test
