// SPDX-License-Identifier: GPL-3.0-or-later
// Plans of dial settings, tables, and folders of variants.
#include <array>
#include <barrier>
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <set>
#include <tbb/global_control.h>
#include <thread>

#include "core/files/csv.h"
#include "core/files/variant_folder.h"
#include "core/files/variant_record.h"
#include "core/inspect/trial.h"
#include "core/recipe/recipe_json.h"
#include "tests/support/build.h"
#include "tests/support/folder.h"
#include "tests/support/node.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;
namespace fs = std::filesystem;

namespace {

Recipe four_dials() {
    return recipe_of(Json::array({step("block", "box", {{"size", {"= width", "= width", "= height"}}}),
                                  step("cut", "transform", {{"size", {"= 1 + lid", 1, 1}}})}),
                     Json::array({{{"name", "width"}, {"value", 1}, {"min", 0.5}, {"max", 2}, {"unit", "m"}},
                                  {{"name", "height"}, {"value", 1}, {"min", 1}, {"max", 4}, {"unit", "count"}},
                                  {{"name", "style"}, {"kind", "choice"}, {"value", "b"}, {"choices", {"a", "b", "c"}}},
                                  {{"name", "lid"}, {"kind", "toggle"}, {"value", false}}}));
}

const std::vector<std::string> all = {"width", "height", "style", "lid"};

VariantsReport written(const Recipe& recipe, const VariantPlan& plan, const fs::path& folder, std::size_t shard = 0,
                       std::size_t shards = 1) {
    VariantOrder order{recipe, {}, plan, folder.string()};
    order.suffixes = {"obj", "glb"};
    order.shard = shard, order.shards = shards;
    return write_variants(order);
}

/// Breaks where its only dial is 3.
Recipe breaks_at_three() {
    return recipe_of(Json::array({step("block", "box", {{"size", {"= sqrt(0.5 - (n == 3))", 1, 1}}})}),
                     Json::array({{{"name", "n"}, {"value", 1}, {"min", 1}, {"max", 6}, {"unit", "count"}}}));
}

}  // namespace

TEST_CASE("random settings lie in their ranges, and each dial is its own", "[variants]") {
    const Recipe recipe = four_dials();
    const VariantPlan plan = random_plan(recipe, all, 3000, 7), fewer = random_plan(recipe, {"style"}, 3000, 7);
    std::map<std::string, int> words, counts;
    double sum = 0;
    for (std::size_t i = 0; i < plan.count; ++i) {
        const WrittenDials one = plan.at(i);
        REQUIRE(with_dials(recipe, one));
        ++words[one.at("style").get<std::string>()];
        ++counts[one.at("height").dump()];
        sum += one.at("width").get<double>();
        CHECK(fewer.at(i).at("style") == one.at("style"));
    }
    // Means of uniform numbers, four standard deviations of 3000 draws: 1.5/√12/√3000 · 4 = 0.032; shares of 1/3:
    // 0.034.
    CHECK(sum / 3000 == Approx(1.25).margin(0.032));
    for (const char* word : {"a", "b", "c"}) CHECK(words[word] / 3000.0 == Approx(1.0 / 3).margin(0.034));
    CHECK(counts.size() == 4);
    CHECK(random_plan(recipe, all, 10, 8).at(0) != plan.at(0));
}

TEST_CASE("even settings meet every stretch of every dial as often as it is long", "[variants]") {
    const Recipe recipe = four_dials();
    const VariantPlan plan = even_plan(recipe, all, 400, 1);
    std::vector<int> tenths(10, 0);
    std::set<std::string> cells;
    for (std::size_t i = 0; i < plan.count; ++i) {
        const double share = (plan.at(i).at("width").get<double>() - 0.5) / 1.5;
        ++tenths[std::min<std::size_t>(9, static_cast<std::size_t>(share * 10))];
        cells.insert(plan.at(i).at("height").dump() + plan.at(i).at("style").dump() + plan.at(i).at("lid").dump());
    }
    // 400 = 256 + 128 + 16 samples, each of the three blocks stratified: a tenth is off by less than two in each.
    for (const int count : tenths) CHECK(std::abs(count - 40) < 6);
    CHECK(cells.size() == 4 * 3 * 2);
}

TEST_CASE("a grid is every value with every other", "[variants]") {
    const Recipe recipe = four_dials();
    const auto plan = grid_plan(recipe, "width=4,style,lid=yes,height=1|3");
    REQUIRE(plan);
    CHECK(plan->count == 4 * 3 * 1 * 2);
    CHECK(plan->at(0).at("width") == 0.5);
    CHECK(plan->at(0).at("height") == 1);
    CHECK(plan->at(1).at("height") == 3);
    CHECK(plan->at(23).at("width") == 2);
    CHECK(plan->at(23).at("style") == "c");
    std::set<std::string> different;
    for (std::size_t i = 0; i < plan->count; ++i) different.insert(json_text(Json(plan->at(i))));
    CHECK(different.size() == plan->count);
    CHECK(grid_plan(recipe, "width=50 cm|1.2 m")->at(1).at("width") == 1.2);
    CHECK(grid_plan(recipe, "height=40")->count == 4);
    const auto why = [&](const char* text) { return grid_plan(recipe, text).problem().text(); };
    CHECK_THAT(why("with=3"), Catch::Contains("Did you mean “width”?"));
    CHECK_THAT(why("width"), Catch::Contains("width=5"));
    CHECK_THAT(why("width=9 m"), Catch::Contains("outside the range"));
    CHECK_THAT(why("width=3,width=4"), Catch::Contains("twice"));
    CHECK_THAT(why("width=99999,style,height=1000|1"), Catch::Contains("range") || Catch::Contains("settings"));
    CHECK_THAT(why(""), Catch::Contains("at least one dial"));
}

TEST_CASE("tables are read as RFC 4180 has them", "[variants]") {
    const auto rows = read_csv(
        "\xef\xbb\xbf"
        "a, b ,\"c,\"\"d\"\"\"\r\n\r\n1,,\" x\ny\"\n");
    REQUIRE(rows);
    REQUIRE(rows->size() == 2);
    CHECK((*rows)[0] == TableRow{"a", "b", "c,\"d\""});
    CHECK((*rows)[1] == TableRow{"1", "", " x\ny"});
    CHECK(read_csv("a;b\n1,5;2\n")->at(1) == TableRow{"1,5", "2"});
    CHECK(read_csv("a\tb\n1\t2")->at(1) == TableRow{"1", "2"});
    CHECK_FALSE(read_csv("a\n\"open\n"));
    const TableRow hard{"plain", "with, comma", "with \"quotes\"", "two\nlines", ""};
    CHECK(read_csv(csv_row(hard))->at(0) == hard);
}

TEST_CASE("a table sets dials row by row, and says which cell cannot be read", "[variants]") {
    const Recipe recipe = four_dials();
    const auto plan = table_plan(recipe, {{"style", "width", "lid"}, {"a", "80 cm", "yes"}, {"", "1.5", "no"}});
    REQUIRE(plan);
    CHECK(plan->count == 2);
    CHECK(plan->at(0) == WrittenDials{{"style", "a"}, {"width", 0.8}, {"lid", true}});
    CHECK_FALSE(plan->at(1).contains("style"));
    const auto why = [&](const std::vector<std::vector<std::string>>& rows) {
        const auto read = table_plan(recipe, rows);
        return read ? std::string("read") : read.problem().where + " " + read.problem().text();
    };
    CHECK_THAT(why({{"widht"}, {"1"}}), Catch::Contains("Did you mean “width”? Dials: width, height, style, lid."));
    CHECK_THAT(why({{"qqqq"}, {"1"}}), Catch::Contains("There is no dial “qqqq”. Dials: "));
    CHECK_THAT(why({{"width", "width"}, {"1", "1"}}), Catch::Contains("twice"));
    CHECK_THAT(why({{"width"}, {"1"}, {"3 kg"}}), Catch::Contains("row 3, column width"));
    CHECK_THAT(why({{"width"}, {"9"}}), Catch::Contains("row 2, column width") && Catch::Contains("0.5 to 2"));
    CHECK_THAT(why({{"style"}, {"z"}}), Catch::Contains("a, b, c"));
    CHECK_THAT(why({{"width"}, {"1", "2"}}), Catch::Contains("row 2"));
    CHECK_THAT(why({{"width"}}), Catch::Contains("no rows"));
}

TEST_CASE("more like this stays near, and between two goes from one to the other", "[variants]") {
    const Recipe recipe = four_dials();
    const WrittenDials one{{"width", 1.0}, {"height", 2}, {"style", "a"}, {"lid", false}};
    const WrittenDials other{{"width", 2.0}, {"height", 4}, {"style", "c"}, {"lid", true}};
    const VariantPlan near = near_plan(recipe, one, 200, 0.1, 3);
    for (std::size_t i = 0; i < near.count; ++i) {
        CHECK(std::abs(near.at(i).at("width").get<double>() - 1) <= 0.15 + 1e-9);
        CHECK(std::abs(near.at(i).at("height").get<double>() - 2) <= 1);
        REQUIRE(with_dials(recipe, near.at(i)));
    }
    const VariantPlan between = between_plan(recipe, one, other, 3);
    CHECK(between.at(0) == WrittenDials{{"width", 1.25}, {"height", 3}, {"style", "a"}, {"lid", false}});
    CHECK(between.at(1).at("width") == 1.5);
    CHECK(between.at(2).at("style") == "c");
}

TEST_CASE("a disk that fills up amid variants ends the run, and the next one goes on", "[variants][bad input]") {
    // A limit on file size stands in for a full disk: records go through, the larger GLB stops in its middle.
    const Folder folder;
    const std::string command = std::string(command_path()) +
                                " variants '" SOURCE_FOLDER "/demo/buoy.bricol' --count 3 --out '" + (folder / "v") +
                                "' --quiet 2>&1";
    int code = 0;
    const std::string said = output_of("bash -c \"ulimit -f 24; trap '' XFSZ; " + command + "\"", &code);
    INFO(said);
    CHECK(code == 3);
    CHECK(said.find("could not be written") != std::string::npos);
    for (const auto& entry : fs::directory_iterator(folder.path / "v"))
        CHECK(entry.path().filename() == "plan.json");  // neither halves nor records of what is not there
    output_of(command, &code);
    CHECK(code == 0);
    CHECK(contents(folder.path / "v").size() == 3 * 2 + 3);
}

TEST_CASE("shares that begin at the same moment in an empty folder do not take each other for strangers",
          "[variants]") {
    const Recipe recipe = four_dials();
    const VariantPlan plan = random_plan(recipe, all, 8, 5);
    for (int round = 0; round < 12; ++round) {
        const Folder folder;
        std::array<VariantsReport, 8> done;
        std::barrier start(8);
        std::vector<std::jthread> shares;
        for (std::size_t share = 0; share < 8; ++share)
            shares.emplace_back([&, share] {
                start.arrive_and_wait();
                done[share] = written(recipe, plan, folder.path / "v", share, 8);
            });
        shares.clear();
        for (const VariantsReport& share : done) {
            if (share.problem) FAIL(share.problem->text());
            CHECK(share.made == 1);
        }
    }
}

TEST_CASE("a folder of variants is the same in one run, in shards and at any number of threads", "[variants]") {
    const Recipe recipe = four_dials();
    const VariantPlan plan = random_plan(recipe, all, 12, 5);
    const Folder whole, shards;
    {
        const tbb::global_control bound(tbb::global_control::max_allowed_parallelism, 4);
        const VariantsReport done = written(recipe, plan, whole.path / "v");
        REQUIRE_FALSE(done.problem);
        CHECK(done.made == 12);
        CHECK(done.missing == 0);
        REQUIRE(gather_variants((whole.path / "v").string()));
    }
    const tbb::global_control bound(tbb::global_control::max_allowed_parallelism, 1);
    for (const std::size_t shard : {2, 0, 1, 1})
        REQUIRE_FALSE(written(recipe, plan, shards.path / "v", shard, 3).problem);
    // What a killed run has left goes; somebody's own file stays.
    for (const char* name : {"v/0003.glb.4711-12", "v/notes.4711-12"}) {
        std::ofstream(shards.path / name) << "half";
    }
    const auto gathered = gather_variants((shards.path / "v").string());
    REQUIRE(gathered);
    CHECK(fs::remove(shards.path / "v/notes.4711-12"));
    CHECK(gathered->count == 12);
    CHECK(gathered->missing.empty());
    const auto a = contents(whole.path / "v"), b = contents(shards.path / "v");
    CHECK(a.size() == 12 * 3 + 3);
    CHECK(a == b);
    const auto rows = read_csv(a.at("index.csv"));
    REQUIRE(rows);
    CHECK(rows->size() == 13);
    const Json index = Json::parse(a.at("index.json"));
    CHECK(index["variants"].size() == 12);
    CHECK(index["variants"][3]["number"] == 3);
    const WrittenDials third = plan.at(3);
    CHECK(index["variants"][3]["dials"]["width"] == third.at("width"));
    const double width = third.at("width").get<double>(), stretch = third.at("lid").get<bool>() ? 2 : 1;
    CHECK(index["variants"][3]["size"][0].get<double>() == Approx(width * stretch));
    CHECK(index["variants"][3]["files"][0]["hash"] == hash_words(text_content(a.at("0003.obj"))));
}

TEST_CASE("what is there and whole is kept, what is not is made again", "[variants]") {
    const Recipe recipe = four_dials();
    const VariantPlan plan = random_plan(recipe, all, 6, 5);
    const Folder folder;
    const fs::path v = folder.path / "v";
    REQUIRE(written(recipe, plan, v).made == 6);
    const auto before = contents(v);
    CHECK(written(recipe, plan, v).kept == 6);
    fs::remove(v / "0001.obj");
    std::ofstream(v / "0002.glb", std::ios::app) << "x";
    fs::remove(v / "0003.json");
    std::ofstream(v / "0004.json") << "{";
    const VariantsReport again = written(recipe, plan, v);
    CHECK(again.made == 4);
    CHECK(again.kept == 2);
    CHECK(contents(v) == before);
    // Another recipe's are not taken for this one's.
    Recipe other = *set_setting(recipe, "p", "cut", "move", Json::array({1, 0, 0}));
    CHECK(written(other, plan, v).made == 6);
    std::ofstream(folder.path / "mine.txt") << "mine";
    const VariantsReport refused = written(recipe, plan, folder.path);
    REQUIRE(refused.problem);
    CHECK_THAT(refused.problem->text(), Catch::Contains("other files"));
    CHECK(fs::exists(folder.path / "mine.txt"));
}

TEST_CASE("a broken variant is listed and does not stop the rest", "[variants]") {
    const Recipe recipe = breaks_at_three();
    const auto plan = grid_plan(recipe, "n=6");
    REQUIRE(plan);
    const Folder folder;
    const VariantsReport done = written(recipe, *plan, folder.path / "v");
    CHECK(done.made == 6);
    CHECK(done.broken == 1);
    CHECK_FALSE(done.problem);
    CHECK_FALSE(fs::exists(folder.path / "v/0002.obj"));
    CHECK(fs::exists(folder.path / "v/0003.obj"));
    const Json record = Json::parse(*read_file((folder.path / "v/0002.json").string()));
    CHECK(record["errors"] == true);
    CHECK(record["findings"][0]["step"] == "block");
    fs::remove(folder.path / "v/0004.json");
    const auto gathered = gather_variants((folder.path / "v").string());
    REQUIRE(gathered);
    CHECK(gathered->broken == 1);
    CHECK(gathered->missing == std::vector<std::size_t>{4});
    CHECK_FALSE(gather_variants(folder.path.string()));
}

TEST_CASE("large counts get folders of a thousand", "[variants]") {
    CHECK(variant_place(7, 100) == "0007");
    CHECK(variant_place(9999, 10000) == "9999");
    CHECK(variant_place(1234567, 10000000) == "0001234/1234567");
    CHECK(variant_place(0, 10001) == "00000/00000");
}

TEST_CASE("the command makes presets, variants, shards and trials, and says what is wrong", "[variants][cli][wide]") {
    const Folder folder;
    const std::string lantern = std::string("'") + SOURCE_FOLDER + "/demo/lantern.bricol' ";
    const auto run = [&](const std::string& arguments, int& code) {
        return output_of(std::string("'") + test::command_path() + "' " + arguments + " 2>&1", &code);
    };
    int code = -1;
    const Json squat =
        Json::parse(run("make " + lantern + "--preset Squat --set lit=no --set 'tone=#80ff80' --json", code));
    CHECK(code == 0);
    CHECK(squat["parts"][0]["box"]["size"][2].get<double>() < 0.2);
    CHECK_THAT(run("make " + lantern + "--preset Squad", code), Catch::Contains("Squat"));
    CHECK(code == 2);
    CHECK_THAT(run("make " + lantern + "--set fittings=gold", code), Catch::Contains("brass, zinc, steel"));
    CHECK(code == 2);
    const Json dials = Json::parse(run("dials " + lantern + "--json", code));
    CHECK(dials["presets"].size() == 4);
    CHECK(dials["dials"][5]["choices"].size() == 3);

    const std::string plain = folder / "a", parted = folder / "b";
    run("variants " + lantern + "--count 5 --seed 2 --kind obj --quiet --out " + plain, code);
    CHECK(code == 0);
    for (const char* shard : {"2/2", "1/2"})
        run("variants " + lantern + "--count 5 --seed 2 --kind obj --quiet --shard " + shard + " --out " + parted,
            code);
    CHECK_FALSE(fs::exists(folder / "b/index.json"));
    const Json joined = Json::parse(run("variants --gather " + parted + " --json", code));
    CHECK(joined["count"] == 5);
    CHECK(contents(plain) == contents(parted));
    folder.write("t.csv", std::string("height,fittings\n20 cm,zinc\n,steel\n"));
    const Json table =
        Json::parse(run("variants " + lantern + "--json --kind obj --table " + (folder / "t.csv") +
                            " --pictures --picture-size 32x32 --picture-samples 2 --out " + (folder / "c"),
                        code));
    CHECK(table["made"] == 2);
    CHECK(read_file(folder / "c/0001.png")->substr(1, 3) == "PNG");
    folder.write("bad.csv", std::string("height\n20 kg\n"));
    CHECK_THAT(run("variants " + lantern + "--table " + (folder / "bad.csv") + " --out " + (folder / "d"), code),
               Catch::Contains("row 2, column height"));
    CHECK(code == 3);
    CHECK_FALSE(fs::exists(folder / "d"));
    CHECK_THAT(run("variants " + lantern + "--shard 3/2 --out " + (folder / "d"), code),
               Catch::Contains("third of eight"));
    CHECK(code == 2);

    folder.write("three.bricol", recipe_json(breaks_at_three()));
    const std::string three = folder / "three.bricol";
    run("variants " + three + " --grid n=6 --quiet --out " + (folder / "e"), code);
    CHECK(code == 1);
    const Json trial = Json::parse(run("trial " + three + " --samples 10 --json", code));
    CHECK(code == 1);
    CHECK(trial["holds"] == false);
    CHECK(trial["dials"][0]["safe_max"] == 2);
    CHECK(trial["findings"][0]["setting"]["n"] == 3);
    CHECK_THAT(run("trial " + three, code), Catch::Contains("safe 1 to 2") && Catch::Contains("n=3"));
    run("trial " + lantern + "--samples 20 --quiet", code);
    CHECK(code == 0);
}

TEST_CASE("a short trial of demo recipes breaks nothing", "[trial][demo][released]") {
    // The others' ends and random settings are tried one by one in "dials hold"; these are quick enough for pairs.
    for (const char* demo : {"bobbin", "buoy", "daymark", "fender", "fender-wired", "icebox", "kelp", "lantern", "loom",
                             "netline", "pebble", "rack", "wheel", "windsock"}) {
        INFO(demo);
        const Recipe recipe = *load_recipe(std::string(SOURCE_FOLDER) + "/demo/" + demo + ".bricol");
        MakeOptions making;
        making.environment = environment_in(std::string(SOURCE_FOLDER) + "/demo");
        const Trial trial = try_dials(recipe, making, {50, 1, false});
        CHECK(trial.broke == 0);
        CHECK(trial.made > 20);
    }
}
