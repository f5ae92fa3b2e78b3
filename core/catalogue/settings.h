// SPDX-License-Identifier: GPL-3.0-or-later
// A step's settings as a struct of its own: each field is bound once to its key and description, its default is the
// field's. The functions are those of parameter.h with the field in front.
#pragma once

#include <initializer_list>
#include <type_traits>

#include "core/catalogue/step_info.h"
#include "core/catalogue/step_run.h"

namespace bricol {

enum class Axis : int { x, y, z };
/// 0, 1 or 2, as vectors count their components.
constexpr int index_of(Axis axis) { return static_cast<int>(axis); }

/// Where a setting's value goes in the struct of settings, and as what.
struct FieldSlot {
    enum class Type : std::uint8_t {
        real,
        whole,
        toggle,
        vector,
        text,
        word,  ///< one of an enum's values
        curves,
        places,
        ramp,
        gradient,
        rows,
        points,
        lists,
        blocks,
        kit,
        dials,
        sticks,
        table
    };
    Type type = Type::real;
    std::size_t offset = 0;
    std::uint8_t size = 0;    ///< of an enum, bytes
    std::vector<int> values;  ///< of an enum, one for each choice
};

/// One setting, bound to its field. Whatever does not ask for the type of the settings stands outside of templates, so
/// that no step's file compiles it anew.
struct BoundSetting {
    ParameterInfo info;
    FieldSlot slot;

    BoundSetting(ParameterInfo description, FieldSlot::Type type, const void* settings, const void* field,
                 std::size_t size);
    BoundSetting(const BoundSetting&);
    BoundSetting(BoundSetting&&) noexcept;
    BoundSetting& operator=(const BoundSetting&);
    BoundSetting& operator=(BoundSetting&&) noexcept;
    ~BoundSetting();
};

/// One setting of steps whose settings are a T.
template <class T>
struct Setting : BoundSetting {
    using BoundSetting::BoundSetting;
};

/// An enum's value with the key and label it is chosen by.
template <class E>
struct NamedValue {
    E value;
    std::string_view key, label;
};

/// Puts worked-out values into the struct of settings at `settings`; what is large is moved out of `values`.
void fill_settings(void* settings, std::span<const ParameterInfo> parameters, std::span<const FieldSlot> slots,
                   Values& values);

namespace field {

template <class M>
constexpr FieldSlot::Type type_of() {
    using Type = FieldSlot::Type;
    if constexpr (std::is_same_v<M, double>) return Type::real;
    if constexpr (std::is_same_v<M, int>) return Type::whole;
    if constexpr (std::is_same_v<M, bool>) return Type::toggle;
    if constexpr (std::is_same_v<M, DVec3>) return Type::vector;
    if constexpr (std::is_same_v<M, std::string>) return Type::text;
    if constexpr (std::is_enum_v<M>) return Type::word;
    if constexpr (std::is_same_v<M, std::vector<Curve>>) return Type::curves;
    if constexpr (std::is_same_v<M, std::vector<Place>>) return Type::places;
    if constexpr (std::is_same_v<M, DrawnRamp>) return Type::ramp;
    if constexpr (std::is_same_v<M, Gradient>) return Type::gradient;
    if constexpr (std::is_same_v<M, std::vector<FormulaRow>>) return Type::rows;
    if constexpr (std::is_same_v<M, std::vector<DVec3>>) return Type::points;
    if constexpr (std::is_same_v<M, std::vector<std::vector<int>>>) return Type::lists;
    if constexpr (std::is_same_v<M, std::vector<MixBlock>>) return Type::blocks;
    if constexpr (std::is_same_v<M, KitWritten>) return Type::kit;
    if constexpr (std::is_same_v<M, DialValues>) return Type::dials;
    if constexpr (std::is_same_v<M, DrawnSticks>) return Type::sticks;
    if constexpr (std::is_same_v<M, NumberTable>) return Type::table;
}

template <class T>
const T& defaults() {
    static const T settings{};
    return settings;
}

/// The choices of an enum's setting, its standard value first.
class EnumChoices {
public:
    explicit EnumChoices(int standard);
    ~EnumChoices();
    void add(int value, std::string_view key, std::string_view label);
    ParameterInfo described(std::string_view key, std::string_view label, std::string_view help);
    void give_values(BoundSetting& setting);

private:
    int standard_;
    std::vector<Choice> choices_;
    std::vector<int> values_;
};

template <class T, class M>
Setting<T> bound(M T::*member, ParameterInfo info) {
    const T& settings = defaults<T>();
    return {std::move(info), type_of<M>(), &settings, &(settings.*member), sizeof(M)};
}

}  // namespace field

template <class T>
Setting<T> length_of(double T::*f, std::string_view key, std::string_view label, double low, double soft_high,
                     std::string_view help) {
    return field::bound(f, length_of(key, label, field::defaults<T>().*f, low, soft_high, help));
}
template <class T>
Setting<T> offset_of(double T::*f, std::string_view key, std::string_view label, std::string_view help) {
    return field::bound(f, offset_of(key, label, field::defaults<T>().*f, help));
}
template <class T>
Setting<T> angle_of(double T::*f, std::string_view key, std::string_view label, double low, double high,
                    std::string_view help) {
    return field::bound(f, angle_of(key, label, field::defaults<T>().*f, low, high, help));
}
template <class T>
Setting<T> count_of(int T::*f, std::string_view key, std::string_view label, int low, int high, int soft_high,
                    std::string_view help) {
    return field::bound(f, count_of(key, label, field::defaults<T>().*f, low, high, soft_high, help));
}
template <class T>
Setting<T> number_of(double T::*f, std::string_view key, std::string_view label, double low, double high,
                     std::string_view help) {
    return field::bound(f, number_of(key, label, field::defaults<T>().*f, low, high, help));
}
template <class T>
Setting<T> vector_of(DVec3 T::*f, std::string_view key, std::string_view label, Quantity quantity,
                     std::string_view help) {
    return field::bound(f, vector_of(key, label, quantity, field::defaults<T>().*f, help));
}
template <class T>
Setting<T> colour_of(DVec3 T::*f, std::string_view key, std::string_view label, std::string_view help) {
    return field::bound(f, colour_of(key, label, field::defaults<T>().*f, help));
}
template <class T>
Setting<T> screen_colour_of(DVec3 T::*f, std::string_view key, std::string_view label, std::string_view help) {
    return field::bound(f, screen_colour_of(key, label, field::defaults<T>().*f, help));
}
template <class T>
Setting<T> toggle_of(bool T::*f, std::string_view key, std::string_view label, std::string_view help) {
    return field::bound(f, toggle_of(key, label, field::defaults<T>().*f, help));
}
/// The field's own default comes first.
template <class T, class E>
requires std::is_enum_v<E> Setting<T> choice_of(E T::*f, std::string_view key, std::string_view label,
                                                std::initializer_list<NamedValue<std::type_identity_t<E>>> values,
                                                std::string_view help) {
    field::EnumChoices choices(static_cast<int>(field::defaults<T>().*f));
    for (const auto& one : values) choices.add(static_cast<int>(one.value), one.key, one.label);
    Setting<T> setting = field::bound(f, choices.described(key, label, help));
    choices.give_values(setting);
    return setting;
}
/// A choice whose list is not known to the compiler; the field holds the key.
template <class T>
Setting<T> choice_of(std::string T::*f, std::string_view key, std::string_view label, std::vector<Choice> choices,
                     std::string_view help) {
    return field::bound(f, choice_of(key, label, std::move(choices), help));
}
template <class T>
Setting<T> axis_of(Axis T::*f, std::string_view key, std::string_view label, std::string_view help) {
    return choice_of(f, key, label, {{Axis::x, "x", "x"}, {Axis::y, "y", "y"}, {Axis::z, "z", "z, up"}}, help);
}
template <class T>
Setting<T> sampling_of(int T::*f, std::string_view key) {
    ParameterInfo info = sampling_of(key);
    info.standard = field::defaults<T>().*f;
    return field::bound(f, std::move(info));
}
template <class T>
Setting<T> set_of(std::string T::*f, std::string_view key, std::string_view label, std::string_view help) {
    return field::bound(f, set_of(key, label, help));
}
template <class T>
Setting<T> only_of(std::string T::*f, std::string_view help) {
    return field::bound(f, only_of(help));
}
template <class T>
Setting<T> new_set_of(std::string T::*f, std::string_view key, std::string_view label, std::string_view help) {
    return field::bound(f, new_set_of(key, label, field::defaults<T>().*f, help));
}
template <class T>
Setting<T> places_of(std::vector<Place> T::*f, std::string_view key, std::string_view label, std::string_view picks,
                     std::string_view help) {
    return field::bound(f, places_of(key, label, picks, help));
}
template <class T>
Setting<T> cage_of(std::vector<Place> T::*f, std::string_view key, std::string_view label, std::string_view counted_by,
                   std::string_view help) {
    return field::bound(f, cage_of(key, label, counted_by, help));
}
/// A setting of one of the kinds that need no more than a name.
template <class T, class M>
Setting<T> kind_of(M T::*f, ParameterKind kind, std::string_view key, std::string_view label, std::string_view help) {
    return field::bound(f, kind_of(kind, key, label, help));
}
template <class T>
Setting<T> attribute_of(std::string T::*f, std::string_view key, std::string_view label, std::string_view help) {
    return field::bound(f, attribute_of(key, label, field::defaults<T>().*f, help));
}
template <class T>
Setting<T> text_of(std::string T::*f, std::string_view key, std::string_view label, std::string_view help) {
    return field::bound(f, text_of(key, label, field::defaults<T>().*f, help));
}
template <class T>
Setting<T> file_of(std::string T::*f, std::string_view key, std::string_view label, std::string_view filter,
                   std::string_view help) {
    return field::bound(f, file_of(key, label, filter, help));
}
template <class T>
Setting<T> seed_of(int T::*f, std::string_view key = "seed") {
    return field::bound(f, seed_of(key));
}
template <class T>
Setting<T> when(Setting<T> setting, std::string_view condition) {
    setting.info.when = condition;
    return setting;
}
template <class T>
Setting<T> pulled(Setting<T> setting, HandleKind kind, std::string_view axis = {}, std::string_view origin = {},
                  double share = 1) {
    setting.info.handle = {kind, axis, origin, share};
    return setting;
}

/// What in the view fills it in: "joints" for names of joints.
template <class T>
Setting<T> picked_from(Setting<T> setting, std::string_view picks) {
    setting.info.picks = picks;
    return setting;
}

/// Settings in a row, of any step.
class BoundSettings {
public:
    BoundSettings();
    BoundSettings(BoundSettings&&) noexcept;
    ~BoundSettings();
    void add(const BoundSetting& setting);
    void add(BoundSettings&& others);
    /// Adds their descriptions to the step's; where each of them goes in the struct.
    std::vector<FieldSlot> described(StepInfo& info);

private:
    std::vector<BoundSetting> list_;
};

/// Settings of steps whose settings are a T; several groups are put in a row by +.
template <class T>
struct Settings : BoundSettings {
    Settings(std::initializer_list<Setting<T>> list) {
        for (const Setting<T>& setting : list) add(setting);
    }
};
template <class T>
Settings<T> operator+(Settings<T> first, Settings<T> second) {
    first.add(std::move(second));
    return first;
}

/// A number that a step gives beside its settings.
template <class T>
struct NumberGiven {
    std::string_view key, label, help;
    double (*work_out)(const T&) = nullptr;
};

namespace field {

/// A function of a step's file whose argument types are known to the caller below alone.
using AnyFunction = void (*)();
using Slots = std::vector<FieldSlot>;
using MakeAs = void (*)(AnyFunction make, StepRun& run, const Slots& slots);
using NumberAs = double (*)(AnyFunction work_out, Values& own, std::span<const ParameterInfo> parameters,
                            const Slots& slots);

template <class T>
void make_as(AnyFunction make, StepRun& run, const Slots& slots) {
    T settings{};
    fill_settings(&settings, run.info->parameters, slots, run.values);
    run.bind(&settings, slots);
    reinterpret_cast<void (*)(const T&, StepRun&)>(make)(settings, run);
}
template <class T>
double number_as(AnyFunction work_out, Values& own, std::span<const ParameterInfo> parameters, const Slots& slots) {
    T filled{};
    fill_settings(&filled, parameters, slots, own);
    return reinterpret_cast<double (*)(const T&)>(work_out)(filled);
}

/// Adds a number that is worked out of the settings alone; the descriptions must stand in `info`.
void add_number(StepInfo& info, const Slots& slots, std::string_view key, std::string_view label, std::string_view help,
                NumberAs number_as, AnyFunction work_out);
void add_make(StepInfo& info, const Slots& slots, MakeAs make_as, AnyFunction make);

template <class T>
void add_numbers(StepInfo& info, const Slots& slots, std::initializer_list<NumberGiven<T>> gives) {
    for (const NumberGiven<T>& number : gives)
        add_number(info, slots, number.key, number.label, number.help, number_as<T>,
                   reinterpret_cast<AnyFunction>(number.work_out));
}

}  // namespace field

/// A step whose settings are a T. Its file holds one of these at namespace scope.
template <class T>
struct StepOf {
    StepOf(StepInfo info, Settings<T> settings, void (*make)(const T&, StepRun&),
           std::initializer_list<NumberGiven<T>> gives = {}) {
        const std::vector<FieldSlot> slots = settings.described(info);
        field::add_numbers(info, slots, gives);
        field::add_make(info, slots, field::make_as<T>, reinterpret_cast<field::AnyFunction>(make));
        Registered{info};
    }
};

/// Numbers of a block whose settings are a T, under names that stand in what is written.
template <class T>
struct NamedGiven {
    std::vector<std::string> (*names)(const Json& settings) = nullptr;
    std::optional<Result<double>> (*work_out)(const T&, std::string_view name) = nullptr;
};

/// A block that stands aside: it makes no shape, its numbers are asked for by formulas.
template <class T>
struct BlockOf {
    BlockOf(StepInfo info, Settings<T> settings, NamedGiven<T> gives) {
        info.aside = true;
        info.gives = 0;
        const std::vector<FieldSlot> slots = settings.described(info);
        info.named_numbers.names = gives.names;
        info.named_numbers.work_out = [work_out = gives.work_out, slots, parameters = info.parameters](
                                          const Values& values, std::string_view name) {
            T filled{};
            Values own = values;
            fill_settings(&filled, parameters, slots, own);
            return work_out(filled, name);
        };
        Registered{info};
    }
    /// `tells` says what is wrong with the settings; it makes nothing.
    BlockOf(StepInfo info, Settings<T> settings, std::initializer_list<NumberGiven<T>> gives = {},
            void (*tells)(const T&, StepRun&) = nullptr) {
        info.aside = true;
        info.gives = 0;
        const std::vector<FieldSlot> slots = settings.described(info);
        field::add_numbers(info, slots, gives);
        if (tells) field::add_make(info, slots, field::make_as<T>, reinterpret_cast<field::AnyFunction>(tells));
        Registered{info};
    }
};

}  // namespace bricol
