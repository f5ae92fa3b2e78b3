// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/vtk_peer.h"

#include <vtkCellArray.h>
#include <vtkDoubleArray.h>
#include <vtkNew.h>
#include <vtkPointData.h>
#include <vtkPoints.h>
#include <vtkPolyData.h>
#include <vtkRotationalExtrusionFilter.h>
#include <vtkTubeFilter.h>

struct VtkLathe::Parts {
    vtkNew<vtkPolyData> line;
    vtkNew<vtkRotationalExtrusionFilter> filter;
};

VtkLathe::VtkLathe(const std::vector<std::pair<double, double>>& profile, int segments)
    : parts_(std::make_unique<Parts>()) {
    vtkNew<vtkPoints> points;
    vtkNew<vtkCellArray> lines;
    lines->InsertNextCell(static_cast<vtkIdType>(profile.size()));
    for (const auto& [r, h] : profile) lines->InsertCellPoint(points->InsertNextPoint(r, 0, h));
    parts_->line->SetPoints(points);
    parts_->line->SetLines(lines);
    parts_->filter->SetInputData(parts_->line);
    parts_->filter->SetResolution(segments);
    parts_->filter->CappingOff();
}

VtkLathe::~VtkLathe() = default;

std::size_t VtkLathe::run() {
    parts_->filter->Modified();
    parts_->filter->Update();
    return static_cast<std::size_t>(parts_->filter->GetOutput()->GetNumberOfCells());
}

struct VtkTube::Parts {
    vtkNew<vtkPolyData> line;
    vtkNew<vtkTubeFilter> filter;
};

VtkTube::VtkTube(const std::vector<double>& places, const std::vector<double>& radii, int sides)
    : parts_(std::make_unique<Parts>()) {
    vtkNew<vtkPoints> points;
    vtkNew<vtkCellArray> lines;
    vtkNew<vtkDoubleArray> widths;
    widths->SetName("radius");
    lines->InsertNextCell(static_cast<vtkIdType>(radii.size()));
    for (std::size_t i = 0; i < radii.size(); ++i) {
        lines->InsertCellPoint(points->InsertNextPoint(places[3 * i], places[3 * i + 1], places[3 * i + 2]));
        widths->InsertNextValue(radii[i]);
    }
    parts_->line->SetPoints(points);
    parts_->line->SetLines(lines);
    parts_->line->GetPointData()->SetScalars(widths);
    parts_->filter->SetInputData(parts_->line);
    parts_->filter->SetNumberOfSides(sides);
    parts_->filter->SetVaryRadiusToVaryRadiusByAbsoluteScalar();
    parts_->filter->SetGenerateTCoordsToNormalizedLength();
    parts_->filter->CappingOff();
}

VtkTube::~VtkTube() = default;

std::size_t VtkTube::run() {
    parts_->filter->Modified();
    parts_->filter->Update();
    return static_cast<std::size_t>(parts_->filter->GetOutput()->GetNumberOfCells());
}
