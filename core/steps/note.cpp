// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Note {
    std::string text;
};

const BlockOf<Note> note_step(StepInfo{.key = "note",
                                       .name = "Note",
                                       .family = Family::look,
                                       .purpose = "Words beside the steps.",
                                       .words = "comment text remark sticky annotation",
                                       .help = "Changes nothing. For what the next person should know.",
                                       .glyph = "M5 4h14v11l-5 5h-9z M14 20v-5h5 M8 8h8 M8 11.5h8",
                                       .telling = "{text}"},
                              {text_of(&Note::text, "text", "Text", "What it says, in your own words.")});

}  // namespace

}  // namespace bricol
