// SPDX-License-Identifier: GPL-3.0-or-later
// A recipe that a host has opened.
#pragma once

#include <deque>

#include "api/handles.h"
#include "core/make/make.h"

namespace bricol::api {

struct OpenRecipe {
    std::mutex mutex;  ///< everything below but `stop`
    Recipe recipe;
    Environment environment;
    Maker maker;
    std::atomic<bool> making = false, stop = false;

    /// Texts for the host, where they stay until the next turn of a dial.
    void note_words();
    std::deque<std::string> words;
    std::vector<std::string> headings;
    std::vector<std::vector<const char*>> choices;
    std::vector<const char*> preset_names;
};

Handles<OpenRecipe>& recipes();
bricol_status no_recipe();

}  // namespace bricol::api
