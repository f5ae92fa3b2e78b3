// SPDX-License-Identifier: GPL-3.0-or-later
// Another recipe: the name of a file, or the recipe itself. Its formulas are its own: nothing outside rewrites them.
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

class KitKind final : public Kind {
    std::string_view name() const override { return "kit"; }
    Value standard(const ParameterInfo&) const override { return KitWritten{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        if (written.is_string() || written.is_object()) return KitWritten{std::make_shared<const Json>(written)};
        reading.tell(std::string(p.key), "The name of a recipe file, or a recipe, is wanted.");
        return standard(p);
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& kit = std::get<KitWritten>(value);
        digest.add(kit.text != nullptr);
        if (kit.text) digest.add(std::string_view(json_text(*kit.text)));
    }
    Json schema(const ParameterInfo&) const override {
        return {{"oneOf", Json::array({{{"type", "string"}}, {{"$ref", "#"}}})}};
    }
    std::string told(const ParameterInfo&, const Shown& shown) const override {
        return !shown.written               ? "none chosen"
               : shown.written->is_string() ? shown.written->get<std::string>()
                                            : "packed steps";
    }
};

}  // namespace

const Kind& kit() {
    static const KitKind kind;
    return kind;
}

}  // namespace bricol::kinds
