// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dials/dial_form.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/details/number_field.h"
#include "app/dials/dial_row.h"
#include "app/theme/small_parts.h"
#include "core/formula/formula.h"

namespace bricol {

namespace {

/// Kinds as the form offers them: a number by what it measures.
struct KindRow {
    const char* words;
    DialKind kind;
    const char* unit;
};
constexpr KindRow kind_rows[] = {{"length", DialKind::number, "m"},
                                 {"angle", DialKind::number, "deg"},
                                 {"whole number", DialKind::number, "count"},
                                 {"plain number", DialKind::number, ""},
                                 {"choice of words", DialKind::choice, ""},
                                 {"yes or no", DialKind::toggle, ""},
                                 {"colour", DialKind::colour, ""}};

QString joined_words(const std::vector<std::string>& words) {
    QStringList list;
    for (const std::string& word : words) list << QString::fromStdString(word);
    return list.join(", ");
}

std::vector<std::string> parted_words(const QString& text) {
    std::vector<std::string> words;
    for (const QString& word : text.split(',', Qt::SkipEmptyParts))
        if (const std::string one = word.trimmed().toStdString();
            !one.empty() && std::ranges::find(words, one) == words.end())
            words.push_back(one);
    return words;
}

/// Every condition the other dials offer, besides the one that is written.
void fill_conditions(QComboBox* combo, const Recipe& recipe, const Dial& dial) {
    combo->addItem("always", "");
    for (const Dial& other : recipe.dials) {
        const QString name = QString::fromStdString(other.name);
        if (other.name == dial.name) continue;
        if (other.kind == DialKind::toggle) combo->addItem(name + " is on", name);
        if (other.kind == DialKind::number) combo->addItem(name + " is above 0", name + ">0");
        if (other.kind == DialKind::choice)
            for (const std::string& word : other.choices)
                combo->addItem(name + " is " + QString::fromStdString(word), name + "=" + QString::fromStdString(word));
    }
    const QString written = QString::fromStdString(dial.when);
    if (combo->findData(written) < 0) combo->addItem(written, written);
    combo->setCurrentIndex(combo->findData(written));
}

/// The form's fields, alive as long as the form.
struct Fields {
    QLineEdit *name, *words, *heading, *help;
    QComboBox *kind, *when;
    NumberField *low, *high;

    const KindRow& kind_now() const { return kind_rows[static_cast<std::size_t>(kind->currentIndex())]; }
    Dial read(Dial dial) const {
        dial.kind = kind_now().kind;
        dial.unit = kind_now().unit;
        dial.choices = dial.kind == DialKind::choice ? parted_words(words->text()) : std::vector<std::string>();
        dial.heading = heading->text().trimmed().toStdString();
        dial.when = when->currentData().toString().toStdString();
        dial.help = help->text().toStdString();
        if (dial.kind == DialKind::number) dial.low = low->value(), dial.high = high->value();
        if (dial.kind == DialKind::toggle) dial.value = dial.value != 0;
        return dial;
    }
};

QLineEdit* line_of(QWidget* form, const char* object, const QString& text) {
    auto* line = new QLineEdit(text, form);
    line->setObjectName(object);
    return line;
}

Fields make_fields(Session& session, const Dial& dial, QWidget* form) {
    Fields f{};
    f.name = line_of(form, "dialName", QString::fromStdString(dial.name));
    f.words = line_of(form, "dialWords", joined_words(dial.choices));
    f.words->setToolTip("The words to choose from, with commas between them");
    f.heading = line_of(form, "dialHeading", QString::fromStdString(dial.heading));
    f.heading->setToolTip("Begins a group: this dial and those below it stand under these words");
    f.help = line_of(form, "dialHelp", QString::fromStdString(dial.help));
    f.kind = new QComboBox(form);
    f.kind->setObjectName("dialKind");
    for (const KindRow& row : kind_rows) {
        f.kind->addItem(row.words);
        if (row.kind == dial.kind && row.unit == dial.unit) f.kind->setCurrentIndex(f.kind->count() - 1);
    }
    f.when = new QComboBox(form);
    f.when->setObjectName("dialWhen");
    f.when->setToolTip("Hides the dial while it would do nothing");
    fill_conditions(f.when, session.recipe(), dial);
    f.low = new NumberField(form);
    f.high = new NumberField(form);
    for (auto [field, value] : {std::pair{f.low, dial.low}, {f.high, dial.high}}) {
        field->set_kind(dial_quantity(dial), dial_unit(session, dial), {-1e6, 1e6, dial.low, dial.high});
        field->show_value(value);
    }
    f.low->setObjectName("dialLow");
    f.high->setObjectName("dialHigh");
    return f;
}

}  // namespace

QFrame* make_dial_form(Session& session, const Dial& dial, const std::function<void()>& done) {
    auto* form = new QFrame;
    form->setObjectName("dialEditor");
    auto* grid = new QGridLayout(form);
    grid->setContentsMargins(6, 2, 0, 8);
    grid->setSpacing(3);
    grid->setColumnStretch(1, 1);
    const Fields fields = make_fields(session, dial, form);
    enum Row { name, kind, words, low, high, heading, when, help };
    const std::pair<const char*, QWidget*> rows[] = {
        {"name", fields.name}, {"kind", fields.kind},       {"words", fields.words}, {"from", fields.low},
        {"to", fields.high},   {"heading", fields.heading}, {"shown", fields.when},  {"help", fields.help}};
    std::vector<std::pair<QLabel*, QWidget*>> lines;
    for (const auto& [label, field] : rows) {
        auto* text = soft_label(label, form);
        field->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);  // long words give way, not the panel
        field->setMinimumWidth(40);
        grid->addWidget(text, static_cast<int>(lines.size()), 0);
        grid->addWidget(field, static_cast<int>(lines.size()), 1);
        lines.emplace_back(text, field);
    }
    const auto show_what_counts = [fields, lines] {
        const DialKind now = fields.kind_now().kind;
        for (const int row : {words, low, high}) {
            const bool counts = row == words ? now == DialKind::choice : now == DialKind::number;
            lines[static_cast<std::size_t>(row)].first->setVisible(counts);
            lines[static_cast<std::size_t>(row)].second->setVisible(counts);
        }
    };
    show_what_counts();
    QObject::connect(fields.kind, &QComboBox::activated, form, show_what_counts);
    auto* button = new QPushButton("Done", form);
    button->setObjectName("dialDone");
    grid->addWidget(button, static_cast<int>(lines.size()), 1);
    QObject::connect(button, &QPushButton::clicked, form, [&session, old = dial.name, fields, done] {
        const Dial* now = session.recipe().dial(old);
        if (!now) return;
        Edited edited = set_dial(session.recipe(), fields.read(*now));
        const std::string wanted = name_from(fields.name->text().toStdString());
        if (edited && wanted != old) edited = rename_dial(*edited, old, wanted);
        if (session.edit(edited, "Change a dial")) done();
    });
    return form;
}

}  // namespace bricol
