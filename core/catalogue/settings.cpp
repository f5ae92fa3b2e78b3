// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/settings.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace bricol {

namespace {

/// An enum's value of one or four bytes, found by the key it is chosen by.
void put_word(char* place, const FieldSlot& slot, const ParameterInfo& p, const std::string& key) {
    const auto chosen = std::ranges::find(p.choices, key, &Choice::key) - p.choices.begin();
    const int value = slot.values.at(static_cast<std::size_t>(chosen));
    if (slot.size == 1)
        *place = static_cast<char>(value);
    else
        std::memcpy(place, &value, sizeof value);
}

template <class M>
void move_to(char* place, Value& value) {
    *reinterpret_cast<M*>(place) = std::move(std::get<M>(value));
}

}  // namespace

BoundSetting::BoundSetting(ParameterInfo description, FieldSlot::Type type, const void* settings, const void* field,
                           std::size_t size)
    : info(std::move(description)) {
    slot.type = type;
    slot.offset = static_cast<std::size_t>(static_cast<const char*>(field) - static_cast<const char*>(settings));
    slot.size = static_cast<std::uint8_t>(size);
}
BoundSetting::BoundSetting(const BoundSetting&) = default;
BoundSetting::BoundSetting(BoundSetting&&) noexcept = default;
BoundSetting& BoundSetting::operator=(const BoundSetting&) = default;
BoundSetting& BoundSetting::operator=(BoundSetting&&) noexcept = default;
BoundSetting::~BoundSetting() = default;

field::EnumChoices::EnumChoices(int standard) : standard_(standard) {}
field::EnumChoices::~EnumChoices() = default;

void field::EnumChoices::add(int value, std::string_view key, std::string_view label) {
    const bool first = value == standard_;
    choices_.insert(first ? choices_.begin() : choices_.end(), Choice{key, label});
    values_.insert(first ? values_.begin() : values_.end(), value);
}

ParameterInfo field::EnumChoices::described(std::string_view key, std::string_view label, std::string_view help) {
    return choice_of(key, label, std::move(choices_), help);
}

void field::EnumChoices::give_values(BoundSetting& setting) { setting.slot.values = std::move(values_); }

BoundSettings::BoundSettings() = default;
BoundSettings::BoundSettings(BoundSettings&&) noexcept = default;
BoundSettings::~BoundSettings() = default;

void BoundSettings::add(const BoundSetting& setting) { list_.push_back(setting); }

void BoundSettings::add(BoundSettings&& others) {
    for (BoundSetting& setting : others.list_) list_.push_back(std::move(setting));
}

std::vector<FieldSlot> BoundSettings::described(StepInfo& info) {
    std::vector<FieldSlot> slots;
    for (BoundSetting& setting : list_) {
        info.parameters.push_back(std::move(setting.info));
        slots.push_back(std::move(setting.slot));
    }
    return slots;
}

namespace field {

void add_number(StepInfo& info, const Slots& slots, std::string_view key, std::string_view label, std::string_view help,
                NumberAs number_as, AnyFunction work_out) {
    info.outputs.push_back(
        {key, label, help, [number_as, work_out, slots, parameters = info.parameters](const Values& values) {
             Values own = values;
             return number_as(work_out, own, parameters, slots);
         }});
}

void add_make(StepInfo& info, const Slots& slots, MakeAs make_as, AnyFunction make) {
    info.make = [make_as, make, slots](StepRun& run) { make_as(make, run, slots); };
}

}  // namespace field

void fill_settings(void* settings, std::span<const ParameterInfo> parameters, std::span<const FieldSlot> slots,
                   Values& values) {
    using Type = FieldSlot::Type;
    for (std::size_t i = 0; i < slots.size(); ++i) {
        const FieldSlot& slot = slots[i];
        char* place = static_cast<char*>(settings) + slot.offset;
        Value& value = values.find(parameters[i].key)->second;
        switch (slot.type) {
            case Type::real:
                move_to<double>(place, value);
                break;
            case Type::whole:
                *reinterpret_cast<int*>(place) = static_cast<int>(std::lround(std::get<double>(value)));
                break;
            case Type::toggle:
                move_to<bool>(place, value);
                break;
            case Type::vector:
                move_to<DVec3>(place, value);
                break;
            case Type::text:
                move_to<std::string>(place, value);
                break;
            case Type::word:
                put_word(place, slot, parameters[i], std::get<std::string>(value));
                break;
            case Type::curves:
                move_to<std::vector<Curve>>(place, value);
                break;
            case Type::places:
                move_to<std::vector<Place>>(place, value);
                break;
            case Type::ramp:
                move_to<DrawnRamp>(place, value);
                break;
            case Type::gradient:
                move_to<Gradient>(place, value);
                break;
            case Type::rows:
                move_to<std::vector<FormulaRow>>(place, value);
                break;
            case Type::points:
                move_to<std::vector<DVec3>>(place, value);
                break;
            case Type::lists:
                move_to<std::vector<std::vector<int>>>(place, value);
                break;
            case Type::blocks:
                move_to<std::vector<MixBlock>>(place, value);
                break;
            case Type::kit:
                move_to<KitWritten>(place, value);
                break;
            case Type::dials:
                move_to<DialValues>(place, value);
                break;
            case Type::sticks:
                move_to<DrawnSticks>(place, value);
                break;
            case Type::table:
                move_to<NumberTable>(place, value);
                break;
        }
    }
}

}  // namespace bricol
