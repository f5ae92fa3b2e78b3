// SPDX-License-Identifier: GPL-3.0-or-later
// A layout that puts small widgets side by side and begins a new line where the room ends.
#pragma once

#include <QLayout>
#include <QList>

namespace bricol {

class Flow : public QLayout {
public:
    explicit Flow(QWidget* parent = nullptr, int gap = 3);
    ~Flow() override;
    void addItem(QLayoutItem* item) override { items_.append(item); }
    int count() const override { return static_cast<int>(items_.size()); }
    QLayoutItem* itemAt(int index) const override { return items_.value(index); }
    QLayoutItem* takeAt(int index) override;
    Qt::Orientations expandingDirections() const override { return {}; }
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override { return laid({0, 0, width, 0}, false); }
    void setGeometry(const QRect& room) override;
    QSize sizeHint() const override { return minimumSize(); }
    QSize minimumSize() const override;

private:
    /// Lays the widgets out, or only says how high they would stand.
    int laid(const QRect& room, bool apply) const;

    QList<QLayoutItem*> items_;
    int gap_;
};

}  // namespace bricol
