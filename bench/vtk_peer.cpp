// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/vtk_peer.h"

#include <vtkCellArray.h>
#include <vtkNew.h>
#include <vtkPoints.h>
#include <vtkPolyData.h>
#include <vtkRotationalExtrusionFilter.h>

struct VtkLathe::Parts {
    vtkNew<vtkPolyData> line;
    vtkNew<vtkRotationalExtrusionFilter> filter;
};

VtkLathe::VtkLathe(const std::vector<std::pair<double, double>>& profile, int segments) : parts_(std::make_unique<Parts>()) {
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
