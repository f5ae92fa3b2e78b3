// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/kits.h"

#include <filesystem>
#include <fmt/format.h>
#include <mutex>
#include <xxhash.h>

#include "core/files/files.h"
#include "core/recipe/recipe_json.h"

namespace bricol {

namespace {

namespace fs = std::filesystem;

struct Shelf {
    struct Read {
        fs::file_time_type changed;
        std::uintmax_t size = 0;
        Kit kit;
    };
    std::mutex mutex;
    std::map<std::string, Read> files;
    std::map<std::uint64_t, Kit> inside;

    Result<Kit> file(const std::string& written, const std::string& folder) {
        const std::string path = kit_path(written, folder);
        std::error_code gone;
        const auto changed = fs::last_write_time(path, gone);
        const auto size = gone ? 0 : fs::file_size(path, gone);
        if (gone)
            return Problem{fmt::format("The kit recipe “{}” is not there.", written), "",
                           "It may have been moved or renamed: choose it again, or put it back beside this recipe."};
        {
            const std::scoped_lock lock(mutex);
            if (const auto known = files.find(path);
                known != files.end() && known->second.changed == changed && known->second.size == size)
                return known->second.kit;
        }
        const auto text = read_file(path);
        if (!text) return text.problem();
        auto recipe = recipe_from_text(*text, written);
        if (!recipe) return recipe.problem();
        Kit kit{std::make_shared<const Recipe>(std::move(*recipe)), fs::path(path).parent_path().string(),
                fs::weakly_canonical(path, gone).string(), XXH3_64bits(text->data(), text->size())};
        const std::scoped_lock lock(mutex);
        files[path] = {changed, size, kit};
        return kit;
    }

    Result<Kit> kept_inside(const Json& json, const std::string& folder) {
        const std::string text = json.dump();
        const std::uint64_t content = XXH3_64bits(text.data(), text.size());
        const std::uint64_t key = content ^ std::hash<std::string>{}(folder);
        {
            const std::scoped_lock lock(mutex);
            if (const auto known = inside.find(key); known != inside.end()) return known->second;
        }
        auto recipe = recipe_from_json(json);
        if (!recipe) return recipe.problem();
        Kit kit{std::make_shared<const Recipe>(std::move(*recipe)), folder, "", content};
        const std::scoped_lock lock(mutex);
        if (inside.size() > 512) inside.clear();
        inside[key] = kit;
        return kit;
    }
};

}  // namespace

FindKit kit_reader() {
    auto shelf = std::make_shared<Shelf>();
    return [shelf](const Json& written, const std::string& folder) -> Result<Kit> {
        if (written.is_object()) return shelf->kept_inside(written, folder);
        if (!written.is_string() || written.get_ref<const std::string&>().empty())
            return Problem{"No recipe has been chosen.", "", "Choose a kit recipe file, or pack steps into one."};
        return shelf->file(written.get<std::string>(), folder);
    };
}

ReadFile file_reader() {
    struct Read {
        fs::file_time_type changed;
        std::uintmax_t size = 0;
        std::shared_ptr<const std::string> text;
    };
    struct Known {
        std::mutex mutex;
        std::map<std::string, Read> files;
    };
    auto known = std::make_shared<Known>();
    return [known](const std::string& name, const std::string& folder) -> Result<std::shared_ptr<const std::string>> {
        if (name.empty()) return Problem{"No file has been chosen.", "", "Choose one."};
        const std::string path = kit_path(name, folder);
        std::error_code gone;
        const auto changed = fs::last_write_time(path, gone);
        const auto size = gone ? 0 : fs::file_size(path, gone);
        if (gone)
            return Problem{fmt::format("The file “{}” is not there.", name), "",
                           "It may have been moved or renamed: choose it again, or put it back beside this recipe."};
        const std::scoped_lock lock(known->mutex);
        if (const auto at = known->files.find(path);
            at != known->files.end() && at->second.changed == changed && at->second.size == size)
            return at->second.text;
        auto text = read_file(path, std::size_t(64) << 20);
        if (!text) return text.problem();
        auto kept = std::make_shared<const std::string>(std::move(*text));
        known->files[path] = {changed, size, kept};
        return kept;
    };
}

Environment environment_in(const std::string& folder, Surroundings surroundings) {
    return {folder, kit_reader(), file_reader(), surroundings};
}

std::string kit_path(const std::string& written, const std::string& folder) {
    const fs::path path(written);
    return (path.is_absolute() || folder.empty() ? path : fs::path(folder) / path).lexically_normal().string();
}

}  // namespace bricol
