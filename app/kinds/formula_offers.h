// SPDX-License-Identifier: GPL-3.0-or-later
// Names and functions offered while a formula is typed.
#pragma once

#include <QLineEdit>
#include <QListWidget>
#include <QPointer>
#include <functional>

#include "app/document/session.h"
#include "core/shape/attributes.h"

namespace bricol {

struct Offer {
    QString name;  ///< what is put in; a function's ends with its bracket
    QString says;  ///< "mix(a, b, t): from a at t = 0 to b at t = 1"
};

/// What a formula in a step may ask for: functions, dials, numbers of its part's steps and what was made of them,
/// numbers of other parts' steps. `on` adds what the elements that reach the step carry, for rows.
std::vector<Offer> formula_offers(const Session& session, const std::string& part, const std::string& step,
                                  std::optional<Domain> on = std::nullopt);

/// A list below a field: what begins with the word at the cursor, then what holds it. Down and Up choose, Tab or Enter
/// puts in what is chosen (Tab the first), Escape closes the list and leaves the text.
class FormulaOffers : public QObject {
    Q_OBJECT
public:
    /// `gather` is asked when typing begins; without `everywhere` only what starts with "=" is a formula.
    FormulaOffers(QLineEdit* field, std::function<std::vector<Offer>()> gather, bool everywhere = false);
    ~FormulaOffers() override;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    bool take_key(int key);
    void look();
    void show_list(const std::vector<const Offer*>& found);
    void put_in(int row);
    void leave();
    /// The beginning of the word that the cursor stands behind.
    int word_begin() const;

    QLineEdit* field_;
    std::function<std::vector<Offer>()> gather_;
    bool everywhere_;
    std::vector<Offer> all_;
    QPointer<QListWidget> list_;  ///< the window's, which may go first
};

}  // namespace bricol
