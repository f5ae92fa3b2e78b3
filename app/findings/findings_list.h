// SPDX-License-Identifier: GPL-3.0-or-later
// Every finding of the recipe in one place.
#pragma once

#include <QScrollArea>
#include <functional>

#include "app/document/session.h"

namespace bricol {

class FindingsList : public QScrollArea {
    Q_OBJECT
public:
    explicit FindingsList(Session& session, QWidget* parent = nullptr);
    int count() const { return count_; }  ///< cautions and errors

signals:
    void showPlaces(const std::vector<bricol::Vec3>& places);
    void countChanged(int count);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void gather();
    void rebuild();
    Session& session_;
    int count_ = 0;
    std::vector<std::tuple<std::string, std::string, Finding>> listed_;
    bool listed_once_ = false, stale_ = false;  ///< stale: its lines are of another list
};

}  // namespace bricol
