// SPDX-License-Identifier: GPL-3.0-or-later
#include <CLI/CLI.hpp>
#include <exception>
#include <functional>

#include "cli/commands.h"
#include "core/files/format.h"
#include "core/files/stock.h"
#include "core/ground/kept_memory.h"
#include "core/ground/version.h"

namespace {

using namespace bricol;

void add_common(CLI::App* command, CommonOptions& common) {
    command->add_flag("--json", common.json, "One JSON document on standard output");
    command->add_flag("--quiet", common.quiet, "No progress and no report");
    command->add_option("--threads", common.threads, "Threads to use (default: all)")->check(CLI::Range(1, 1024));
}

void add_recipe(CLI::App* command, MakeCommand& making) {
    command->add_option("recipe", making.recipe, "The .bricol file, or stock:NAME")->required();
    command->add_option("--preset", making.preset, "Goes to this preset of the recipe first");
    command->add_option("--set", making.settings, "DIAL=VALUE: 0.4, \"38 mm\", a choice's word, yes, #7a4b20")
        ->take_all();
    command->add_option("--part", making.parts, "Only this part")->take_all();
    command->add_option("--frame", making.frame, "Value of “frame” in formulas");
    command->add_option("--seed", making.seed, "Value of “seed” in formulas");
    command->add_flag("--allow-outside", making.allow_outside,
                      "Read kits and drawings outside the recipe's folder too");
}

void add_still_options(CLI::App* still, StillCommand& picture) {
    still->add_option("--size", picture.size, "Width and height in pixels (default: the camera's, or 960x600)");
    still->add_option("--samples", picture.samples, "Light paths a pixel (default: 64)")->check(CLI::Range(1, 1 << 20));
    still->add_option("--time", picture.seconds, "Ends after so many seconds at the latest")
        ->check(CLI::Range(0.0, 1e6));
    still->add_option("--noise", picture.noise, "Ends when the noise is below, in percent")
        ->check(CLI::Range(0.0, 100.0));
    still->add_option("--exposure", picture.exposure, "Steps: one more is twice as bright")
        ->check(CLI::Range(-20.0, 20.0));
    still->add_option("--camera", picture.camera, "Through which camera, by its name (default: the recipe's first)");
    still
        ->add_option("--backdrop", picture.backdrop,
                     "A sheet that rises behind, a plain that catches shadow, two colours, or nothing (default: the "
                     "recipe's, or a sheet)")
        ->check(CLI::IsMember({"bent", "plain", "gradient", "nothing"}));
    still->add_flag("--dark", picture.dark, "On a dark ground");
    still->add_flag("--plain", picture.plain, "Brightness cut off instead of bent, as measured");
    still->add_flag("--raw", picture.raw, "Without the filter against noise");
}

void add_turntable_options(CLI::App* turntable, MakeCommand& making, TurntableCommand& table) {
    turntable->add_option("--out", making.outputs, "A folder for PNGs, or a file that ends in .webp or .gif")
        ->expected(1)
        ->required();
    turntable->add_option("--frames", table.frames, "Pictures once round (default: 120)")->check(CLI::Range(1, 100000));
    turntable->add_option("--first", table.first, "What formulas see as `frame` in the first one (default: 0)");
    turntable->add_option("--rate", table.rate, "Pictures a second (default: 25)")->check(CLI::Range(0.1, 100.0));
    turntable
        ->add_option("--turn", table.turn, "What goes round: the shapes, the camera, or nothing but what formulas move")
        ->check(CLI::IsMember({"shapes", "camera", "none"}));
}

void add_variants_options(CLI::App* variants, MakeCommand& making, VariantsCommand& order) {
    // The recipe is not wanted when a folder is gathered.
    variants->add_option("recipe", making.recipe, "The .bricol file");
    variants->add_option("--preset", making.preset, "Goes to this preset of the recipe first");
    variants->add_option("--set", making.settings, "DIAL=VALUE for dials that do not vary")->take_all();
    variants->add_option("--part", making.parts, "Only this part")->take_all();
    variants->add_option("--frame", making.frame, "Value of “frame” in formulas");
    variants->add_flag("--allow-outside", making.allow_outside,
                       "Read kits and drawings outside the recipe's folder too");
    variants->add_option("--out", order.out, "Folder to write to; what is there already and whole is kept");
    variants->add_option("--count", order.count, "How many (default: 100)")->check(CLI::Range(1, 100000000));
    variants->add_option("--seed", order.seed, "Another number, other settings");
    variants->add_option("--dial", order.dials, "Only this dial varies (default: all but colours)")->take_all();
    auto* even = variants->add_flag("--even", order.even, "Spread evenly instead of at random");
    auto* grid = variants->add_option("--grid", order.grid,
                                      "Every value with every other: girth=5,style,lid=yes,height=1.2|150 cm");
    auto* table = variants->add_option("--table", order.table, "A row each of a CSV file; its first row names dials");
    grid->excludes(even)->excludes(table);
    table->excludes(even);
    variants->add_option("--kind", order.kinds, "Kinds of file: " + suffix_words() + " (default: glb)")->take_all();
    variants->add_flag("--pictures", order.pictures, "A picture of each beside its files");
    variants->add_option("--shard", order.shard, "I/N: only the I-th of N shares");
    variants->add_option("--cluster", order.cluster, "Gives the shares to a cluster's scheduler")
        ->check(CLI::IsMember({"slurm"}));
    variants->add_option("--shards", order.shards, "With --cluster: how many shares; 30 s of work each or more")
        ->check(CLI::Range(1, 1000000));
    variants
        ->add_option("--cluster-option", order.cluster_options,
                     "A line for the scheduler: --cluster-option=--partition=long")
        ->take_all()
        ->allow_extra_args(false);
    variants->add_flag("--wait", order.wait, "With --cluster: waits for all shares, then joins their records");
    variants->add_option("--gather", order.gather, "Joins the records of a folder of variants into its index");
    order.still.size = "256x256";
    order.still.samples = 16;
    variants->add_option("--picture-size", order.still.size, "Size of the pictures (default: 256x256)");
    variants->add_option("--picture-samples", order.still.samples, "Their light paths a pixel (default: 16)")
        ->check(CLI::Range(1, 1 << 16));
    variants->add_option("--camera", order.still.camera, "Through which camera (default: the recipe's first)");
    variants->add_flag("--dark", order.still.dark, "Pictures on a dark ground");
}

void add_trial_options(CLI::App* command, TrialCommand& trial) {
    command->add_option("--samples", trial.samples, "Settings of all dials at once (default: 200)")
        ->check(CLI::Range(0, 10000000));
    command->add_option("--try-seed", trial.seed, "Another number, other settings");
    command->add_flag("--cautions", trial.cautions, "Cautions count as breaking too");
    command->add_flag("--thorough", trial.thorough, "Also look for crossing faces, as check does");
    command->add_option("--pictures", trial.pictures, "Folder for a picture of each thing that was found");
}

void add_handover_options(CLI::App* command, MakeCommand& making, HandoverCommand& order) {
    command->add_option("--out", order.out, "Folder to write to")->required();
    command->add_option("--kind", order.kinds, "Kinds of file: " + suffix_words() + " (default: glb)")->take_all();
    command->add_flag("--apart", order.apart, "A file a part, its pivot at the file's origin");
    command->add_option("--unit", making.unit, "Length unit of the files")
        ->check(CLI::IsMember({"m", "cm", "mm", "in", "ft"}));
    command->add_option("--up", making.up, "Up axis of the files")->check(CLI::IsMember({"y", "z"}));
    command->add_option("--pivot", order.pivot,
                        "Of each part: own (default), foot, middle, or a point in metres: 0,0,1.2");
    command->add_option("--levels", order.levels, "Lighter levels, in percent of the triangles: 50,25,10");
    command->add_option("--collision", order.collision, "Shapes to collide with")
        ->check(CLI::IsMember({"none", "hull", "boxes", "pieces"}));
    command->add_option("--collision-most", order.most_pieces, "How many of them a part gets (default: 16)")
        ->check(CLI::Range(1, 1024));
    command->add_option("--collision-name", order.collision_name,
                        "What they are called (default: {part}_collision_{n})");
    command->add_flag("--light-uvs", order.light_uvs, "A second set of UVs without overlaps, for baked light");
    command->add_flag("--no-values", order.no_values, "Leave the values and sets of your own on points out");
    command->add_flag("--joined-copies", order.joined_copies,
                      "glTF: all copies of a shape in one node (EXT_mesh_gpu_instancing)");
    command->add_flag("--cages", order.cages, "USD: meshes with creases are cages to be smoothed");
    command->add_option("--frames", order.frames, "What these values of “frame” move goes along: 0..24");
    command->add_option("--rate", order.rate, "Frames a second (default: 25)")->check(CLI::Range(0.1, 1000.0));
    command->add_flag("--presets", order.presets, "Also what the recipe's presets make (USD, and the page)");
    command->add_flag("--page", order.page, "A page to look at it: preview.html");
}

/// What was typed, and what each command does with it.
struct Typed {
    CommonOptions common;
    MakeCommand making;
    ValuesCommand listing;
    StillCommand picture;
    TurntableCommand table;
    VariantsCommand many;
    TrialCommand trying;
    HandoverCommand handing;
    std::string step;
    bool manual = false, schema = false;
    std::vector<std::pair<CLI::App*, std::function<int()>>> commands;
};

void add_making(CLI::App& program, Typed& typed) {
    auto* make = program.add_subcommand("make", "Make a recipe and export it");
    add_recipe(make, typed.making);
    make->add_option("--out", typed.making.outputs, "File to write: " + suffix_words())->take_all();
    make->add_option("--unit", typed.making.unit, "Length unit of the file")
        ->check(CLI::IsMember({"m", "cm", "mm", "in", "ft"}));
    make->add_option("--up", typed.making.up, "Up axis of the file")->check(CLI::IsMember({"y", "z"}));
    make->add_flag("--values", typed.making.attributes, "Also write the values and sets of your own on points");
    make->add_flag("--thorough", typed.making.thorough,
                   "Also look for crossing faces and for what runs into one another, as check does");
    typed.commands.emplace_back(make, [&typed] { return run_make(typed.making, typed.common); });
    auto* handover = program.add_subcommand("handover", "A folder that an engine or a renderer takes as it is");
    add_recipe(handover, typed.making);
    add_handover_options(handover, typed.making, typed.handing);
    typed.commands.emplace_back(handover, [&typed] { return run_handover(typed.making, typed.handing, typed.common); });
    auto* check = program.add_subcommand("check", "Findings and measures; exit code 1 when there is an error finding");
    add_recipe(check, typed.making);
    typed.commands.emplace_back(check, [&typed] {
        typed.making.check_only = true;
        return run_make(typed.making, typed.common);
    });
    auto* values = program.add_subcommand("values", "The numbers on a step's elements, as CSV or JSON");
    add_recipe(values, typed.making);
    values->add_option("--step", typed.listing.step, "PART, STEP or PART.STEP (default: the last shown part)");
    values->add_option("--on", typed.listing.on, "Kind of element, or the whole shape (default: vertices)")
        ->check(CLI::IsMember({"vertices", "edges", "faces", "corners", "knots", "instances", "whole"}));
    values->add_option("--only", typed.listing.set, "Only members of this set");
    values->add_flag("--spread", typed.listing.spread_only, "Least, mean, most and deviation of every column, no rows");
    typed.commands.emplace_back(values, [&typed] { return run_values(typed.making, typed.listing, typed.common); });
}

void add_pictures(CLI::App& program, Typed& typed) {
    auto* still = program.add_subcommand("still", "One finished picture: light followed through the shapes");
    add_recipe(still, typed.making);
    still->add_option("--out", typed.making.outputs, "File to write: .png or .exr")->take_all()->required();
    add_still_options(still, typed.picture);
    typed.commands.emplace_back(still, [&typed] { return run_still(typed.making, typed.picture, typed.common); });
    auto* turntable =
        program.add_subcommand("turntable", "A row of finished pictures: a turn, or what formulas make of `frame`");
    add_recipe(turntable, typed.making);
    add_turntable_options(turntable, typed.making, typed.table);
    add_still_options(turntable, typed.table.still);
    typed.commands.emplace_back(turntable, [&typed] { return run_turntable(typed.making, typed.table, typed.common); });
}

void add_many(CLI::App& program, Typed& typed) {
    auto* variants = program.add_subcommand("variants", "The recipe under many dial settings, each to its own files");
    add_variants_options(variants, typed.making, typed.many);
    typed.commands.emplace_back(variants, [&typed] { return run_variants(typed.making, typed.many, typed.common); });
    auto* trial = program.add_subcommand("trial", "Where the recipe breaks when its dials are turned");
    add_recipe(trial, typed.making);
    add_trial_options(trial, typed.trying);
    typed.commands.emplace_back(trial, [&typed] { return run_trial(typed.making, typed.trying, typed.common); });
    auto* dials = program.add_subcommand("dials", "The recipe's dials and presets");
    dials->add_option("recipe", typed.making.recipe, "The .bricol file")->required();
    typed.commands.emplace_back(dials, [&typed] { return run_dials(typed.making.recipe, typed.common); });
}

void add_manuals(CLI::App& program, Typed& typed) {
    auto* steps = program.add_subcommand("steps", "The catalogue of steps and their parameters");
    steps->add_option("step", typed.step, "Only this step");
    steps->add_flag("--manual", typed.manual, "The reference manual's page, in Markdown");
    steps->add_flag("--schema", typed.schema, "JSON Schema of the recipe file");
    typed.commands.emplace_back(steps,
                                [&typed] { return run_steps(typed.step, typed.manual, typed.schema, typed.common); });
    auto* stock = program.add_subcommand("stock", "The standard parts that recipes may name as stock:NAME");
    typed.commands.emplace_back(stock, [&typed] { return run_stock(typed.common); });
    auto* formulas = program.add_subcommand("formulas", "What formulas understand, every function with an example");
    formulas->add_flag("--manual", typed.manual, "The reference manual's page, in Markdown");
    typed.commands.emplace_back(formulas, [&typed] { return run_formulas(typed.manual, typed.common); });
}

}  // namespace

int main(int count, char** arguments) {
    keep_freed_memory();
    CLI::App program{"Bricol: parametric assets from recipes."};
    program.require_subcommand(1);
    program.set_version_flag("--version", "bricol " + std::string(version()));
    Typed typed;
    add_making(program, typed);
    add_pictures(program, typed);
    add_many(program, typed);
    add_manuals(program, typed);
    for (auto& [command, run] : typed.commands) add_common(command, typed.common);
    typed.many.typed.assign(arguments, arguments + count);
    try {
        program.parse(count, arguments);
    } catch (const CLI::ParseError& error) {
        return program.exit(error) == 0 ? exit_good : exit_wrong_use;
    }
    if (is_stock_name(typed.making.recipe)) typed.making.recipe = stock_path(typed.making.recipe);
    try {
        for (auto& [command, run] : typed.commands)
            if (command->parsed()) return run();
    } catch (const std::exception& error) {
        return say_broken(error);
    }
    return exit_wrong_use;
}
