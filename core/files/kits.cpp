// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/kits.h"

#include <filesystem>
#include <fmt/format.h>
#include <mutex>
#include <xxhash.h>

#include "core/files/beside.h"
#include "core/files/files.h"
#include "core/files/read_shape.h"
#include "core/files/stock.h"
#include "core/recipe/recipe_json.h"

namespace bricol {

namespace {

namespace fs = std::filesystem;

/// What was read from files, kept until they change. Thread safe.
template <class T>
class KeptFiles {
public:
    explicit KeptFiles(std::shared_ptr<FileFence> fence) : fence_(std::move(fence)) {}

    /// `load(path)` reads; `what` names the kind of file for when it is not there ("kit recipe").
    template <class Load>
    Result<T> get(const std::string& written, const std::string& folder, std::string_view what, const Load& load) {
        const std::string path = kit_path(written, folder);
        if (fence_ && !fence_->lets(path))
            return Problem{fmt::format("The {} “{}” lies outside the recipe's folder.", what, written), "",
                           "Copy it into that folder, or allow files outside it: the window asks, the command line "
                           "takes --allow-outside."};
        std::error_code gone;
        const auto changed = fs::last_write_time(path, gone);
        const auto size = gone ? 0 : fs::file_size(path, gone);
        if (gone && is_stock_name(written)) return no_such_stock(written);
        if (gone)
            return Problem{fmt::format("The {} “{}” is not there.", what, written), "",
                           "It may have been moved or renamed: choose it again, or put it back beside this recipe."};
        {
            const std::scoped_lock lock(mutex_);
            if (const auto known = read_.find(path);
                known != read_.end() && known->second.changed == changed && known->second.size == size)
                return known->second.value;
        }
        Result<T> value = load(path);
        if (!value) return value;
        const std::scoped_lock lock(mutex_);
        read_.insert_or_assign(path, Read{changed, size, *value});
        return value;
    }

private:
    struct Read {
        fs::file_time_type changed;
        std::uintmax_t size;
        T value;
    };
    std::shared_ptr<FileFence> fence_;
    std::mutex mutex_;
    std::map<std::string, Read> read_;
};

struct Shelf {
    explicit Shelf(std::shared_ptr<FileFence> fence) : files(std::move(fence)) {}
    std::mutex mutex;
    KeptFiles<Kit> files;
    std::map<std::uint64_t, Kit> inside;

    Result<Kit> file(const std::string& written, const std::string& folder) {
        return files.get(written, folder, "kit recipe", [&](const std::string& path) -> Result<Kit> {
            const auto text = read_file(path);
            if (!text) return text.problem();
            auto recipe = recipe_from_text(*text, written);
            if (!recipe) return recipe.problem();
            std::error_code ignored;
            return Kit{std::make_shared<const Recipe>(std::move(*recipe)), fs::path(path).parent_path().string(),
                       fs::weakly_canonical(path, ignored).string(), XXH3_64bits(text->data(), text->size())};
        });
    }

    Result<Kit> kept_inside(const Json& json, const std::string& folder) {
        const std::string text = json_text(json);
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

void FileFence::enclose(const std::string& folder, bool open) {
    std::error_code none;
    const std::string whole = folder.empty() ? "" : fs::weakly_canonical(folder, none).string();
    const std::scoped_lock lock(mutex_);
    folder_ = whole;
    open_ = open;
    refused_.clear();
}

bool FileFence::lets(const std::string& path) {
    std::error_code none;
    const fs::path whole = fs::weakly_canonical(path, none);
    const std::scoped_lock lock(mutex_);
    if (open_ || folder_.empty()) return true;
    const auto lies_in = [&](const std::string& folder) {
        const fs::path below = whole.lexically_relative(folder);
        return !below.empty() && *below.begin() != "..";
    };
    if (lies_in(folder_) || (!stock_folder().empty() && lies_in(stock_folder()))) return true;
    refused_.insert(whole.string());
    return false;
}

std::set<std::string> FileFence::refused() const {
    const std::scoped_lock lock(mutex_);
    return refused_;
}

FindKit kit_reader(std::shared_ptr<FileFence> fence) {
    auto shelf = std::make_shared<Shelf>(std::move(fence));
    return [shelf](const Json& written, const std::string& folder) -> Result<Kit> {
        if (written.is_object()) return shelf->kept_inside(written, folder);
        if (!written.is_string() || written.get_ref<const std::string&>().empty())
            return Problem{"No recipe has been chosen.", "", "Choose a kit recipe file, or pack steps into one."};
        return shelf->file(written.get<std::string>(), folder);
    };
}

ReadFile file_reader(std::shared_ptr<FileFence> fence) {
    using Text = std::shared_ptr<const std::string>;
    auto known = std::make_shared<KeptFiles<Text>>(std::move(fence));
    return [known](const std::string& name, const std::string& folder) -> Result<Text> {
        if (name.empty()) return Problem{"No file has been chosen.", "", "Choose one."};
        return known->get(name, folder, "file", [](const std::string& path) -> Result<Text> {
            auto text = read_file(path, std::size_t(512) << 20);
            if (!text) return text.problem();
            return std::make_shared<const std::string>(std::move(*text));
        });
    };
}

Environment environment_in(const std::string& folder, Surroundings surroundings, std::shared_ptr<FileFence> fence) {
    if (!fence) fence = std::make_shared<FileFence>(folder);
    const ReadFile files = file_reader(fence);
    return {folder, kit_reader(fence), files, shape_reader(fence), surroundings, beside_reader(files)};
}

std::string kit_path(const std::string& written, const std::string& folder) {
    if (is_stock_name(written)) return stock_path(written);
    const fs::path path(written);
    return (path.is_absolute() || folder.empty() ? path : fs::path(folder) / path).lexically_normal().string();
}

}  // namespace bricol
