// SPDX-License-Identifier: GPL-3.0-or-later
// Shares of variants given to a cluster: the script, what is said where there is none, and a private Slurm of two nodes
// on this machine (tests/support/slurm.sh).
#include <catch2/catch.hpp>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <map>
#include <thread>

#include "cli/cluster.h"
#include "core/files/files.h"
#include "core/recipe/recipe_json.h"
#include "tests/support/build.h"
#include "tests/support/folder.h"
#include "tests/support/tried.h"
#include "tests/support/node.h"

using namespace bricol;
using namespace bricol::test;
namespace fs = std::filesystem;

namespace {

/// Files of a folder of variants, without what the cluster has said.
/// Slurm while it lives.
class PrivateSlurm {
public:
    explicit PrivateSlurm(std::string folder) : folder_(std::move(folder)) { run("start"); }
    ~PrivateSlurm() {
        int code = 0;
        output_of(script("stop"), &code);
    }
    PrivateSlurm(const PrivateSlurm&) = delete;
    PrivateSlurm& operator=(const PrivateSlurm&) = delete;

    void kill_node(const std::string& node) const { run("kill", node); }
    std::string environment() const { return "SLURM_CONF='" + folder_ + "/slurm.conf' "; }

private:
    std::string script(const std::string& what) const {
        return "bash '" SOURCE_FOLDER "/tests/support/slurm.sh' " + what + " '" + folder_ + "'";
    }
    void run(const std::string& what, const std::string& more = {}) const {
        int code = 0;
        const std::string said = output_of(script(what) + " " + more + " 2>&1 </dev/null", &code);
        INFO(said);
        REQUIRE(code == 0);
    }
    std::string folder_;
};

}  // namespace

TEST_CASE("a share's script can be read, and takes words whole", "[cluster]") {
    const ClusterOrder order{{"/usr/bin/bricol", "variants", "it's a buoy.bricol", "--set", "girth=1 m"},
                             "/shared/buoys",
                             200,
                             {"--partition=long"}};
    const std::string script = array_script(order);
    CHECK(script.starts_with("#!/bin/sh\n"));
    CHECK(script.find("#SBATCH --array=1-200\n") != std::string::npos);
    CHECK(script.find("#SBATCH --partition=long\n") != std::string::npos);
    CHECK(
        script.ends_with("exec '/usr/bin/bricol' 'variants' 'it'\\''s a buoy.bricol' '--set' 'girth=1 m' --shard "
                         "\"$SLURM_ARRAY_TASK_ID/200\"\n"));
    int code = 0;
    CHECK(output_of("printf %s " + shell_word("a'b \"c\" $d"), &code) == "a'b \"c\" $d");
}

TEST_CASE("a cluster that is not there, refuses or is asked wrongly is told", "[cluster][bad input]") {
    const Folder folder;
    const std::string from =
        std::string(command_path()) + " variants '" + buoy_file + "' --count 4 --out '" + (folder / "out") + "' ";
    int code = 0;
    CHECK_THAT(output_of("PATH=/nowhere " + from + "--cluster slurm --shards 2 2>&1", &code),
               Catch::Contains("no Slurm here") && Catch::Contains("variants.sh"));
    CHECK(code == 3);
    CHECK(fs::exists(folder / "out/cluster/variants.sh"));
    // The same folder takes variants all the same.
    output_of(from + "--quiet 2>&1", &code);
    CHECK(code == 0);
    CHECK(fs::exists(folder / "out/index.csv"));
    // One that refuses, as sbatch does without an account.
    { std::ofstream(folder / "sbatch") << "#!/bin/sh\necho 'sbatch: error: Invalid account' >&2\nexit 1\n"; }
    fs::permissions(folder / "sbatch", fs::perms::owner_all);
    CHECK_THAT(
        output_of("PATH='" + folder.path.string() + ":'\"$PATH\" " + from + "--cluster slurm --shards 2 2>&1", &code),
        Catch::Contains("The cluster refuses: sbatch: error: Invalid account"));
    CHECK(code == 3);
    CHECK_THAT(output_of(from + "--cluster slurm 2>&1", &code), Catch::Contains("--shards"));
    CHECK(code == 2);
    CHECK_THAT(output_of(from + "--shards 4 2>&1", &code), Catch::Contains("for a cluster"));
    CHECK(code == 2);
}

TEST_CASE("eight shares of buoys on a cluster that loses a node are what one machine makes", "[cluster][long]") {
    if (sanitized()) return;  // the shares are a program of their own, which its own tests watch
    const char* asked = std::getenv("BRICOL_BUOYS");
    const long count = asked ? std::atol(asked) : 160;
    REQUIRE(count >= 160);  // a node is to die while the shares are under way
    const Folder folder;
    int code = 0;
    const std::string from = std::string(command_path()) + " variants '" + buoy_file + "' --count " +
                             std::to_string(count) + " --seed 5 --threads 1 --kind glb --kind usda --kind obj ";
    const PrivateSlurm slurm(folder / "slurm");
    std::string said;
    std::thread cluster([&] {
        said = output_of(slurm.environment() + from + "--out '" + (folder / "cluster") +
                             "' --cluster slurm --shards 8 --wait --json 2>&1",
                         &code);
    });
    const auto files = [&] {
        std::error_code error;
        return std::distance(fs::directory_iterator(folder / "cluster", error), fs::directory_iterator());
    };
    for (int round = 0; round < 3000 && files() < 40; ++round)
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
    const auto when_killed = files();
    slurm.kill_node("n1");
    cluster.join();
    INFO(said);
    INFO(*read_file(folder / "slurm/ctld.log"));
    CHECK(when_killed >= 40);
    CHECK(when_killed < 3 * count);  // of four for each, and three more
    REQUIRE(code == 0);
    const Json joined = Json::parse(said);
    CHECK(joined["count"] == count);
    CHECK(joined["missing"].empty());
    output_of(from + "--quiet --out '" + (folder / "alone") + "' 2>&1", &code);
    REQUIRE(code == 0);
    auto by_cluster = contents(folder.path / "cluster");
    std::erase_if(by_cluster, [](const auto& file) { return file.first.starts_with("cluster/"); });  // script and logs
    const auto by_one = contents(folder.path / "alone");
    REQUIRE(by_one.size() ==
            static_cast<std::size_t>(4 * count + 3));  // three kinds and a record each; the plan and both indexes
    REQUIRE(by_cluster.size() == by_one.size());
    for (const auto& [name, bytes] : by_one)
        if (by_cluster.at(name) != bytes) FAIL(name);
    CHECK(read_file(folder / "cluster/cluster/variants.sh")->find("--cluster") == std::string::npos);
}
