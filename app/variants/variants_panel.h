// SPDX-License-Identifier: GPL-3.0-or-later
// The recipe under many dial settings: made, looked through, kept, thrown out, compared, exported.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>

#include "app/variants/compare_view.h"
#include "app/variants/variant_export.h"
#include "app/variants/variant_settings.h"
#include "app/variants/variant_sheet.h"

namespace bricol {

class VariantsPanel : public QWidget {
    Q_OBJECT
public:
    VariantsPanel(Session& session, Renderer* renderer, QWidget* parent);

    VariantSheet& sheet() { return *sheet_; }
    VariantMaker& maker() { return maker_; }
    VariantMaker& comparing() { return comparing_; }
    VariantSettings& settings() { return *settings_; }
    /// Makes the variants of a plan; they take the place of those there.
    void make(const VariantPlan& plan);
    /// Writes those that are shown, or the pinned ones, to a folder.
    void export_to(const QString& folder, bool pinned);

private:
    QWidget* make_side();
    QLayout* make_bar();
    QPushButton* push(const char* name, const QString& text, const QString& tip, void (VariantsPanel::*run)());
    void make_or_stop();
    void take(const std::shared_ptr<const VariantMade>& made, int run);
    void refresh();
    void pin(std::size_t number);
    void pin_chosen();
    void throw_out();
    void more_like_this();
    void between_these();
    void compare();
    void take_compared(const std::shared_ptr<const VariantMade>& made, int run);
    void open_chosen();
    void open_as_dials(std::size_t number);
    void ask_export();
    void open_menu(const QPoint& at);
    /// The whole setting of a cell: what varies, and the recipe's own dials as they stood when it was made.
    WrittenDials whole(std::size_t number) const;

    Session& session_;
    VariantMaker maker_, comparing_;
    VariantExport export_;
    VariantSheet* sheet_;
    CompareView* compare_;
    QStackedWidget* pages_;
    VariantSettings* settings_;
    QComboBox* order_;
    QLabel* words_;
    QPushButton *make_, *pin_, *out_, *more_, *between_, *side_by_side_, *open_, *export_button_;
    Recipe made_of_;  ///< the recipe when the variants were made
    std::vector<CompareView::Shown> compared_;
    std::size_t done_ = 0, broken_ = 0;
};

}  // namespace bricol
