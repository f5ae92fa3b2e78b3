// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/cluster.h"

#include <algorithm>
#include <array>
#include <cstdio>
#include <filesystem>
#include <fmt/format.h>
#include <sys/wait.h>

#include "core/files/files.h"

namespace bricol {

namespace fs = std::filesystem;

namespace {

/// What a command says, errors with it, and how it ended; 127 when it is not there.
std::pair<std::string, int> said_by(const std::string& command) {
    std::string out;
    FILE* pipe = popen((command + " 2>&1").c_str(), "r");
    if (!pipe) return {"", 127};
    std::array<char, 4096> buffer{};
    while (const std::size_t n = fread(buffer.data(), 1, buffer.size(), pipe)) out.append(buffer.data(), n);
    const int status = pclose(pipe);
    while (!out.empty() && out.back() == '\n') out.pop_back();
    return {out, WIFEXITED(status) ? WEXITSTATUS(status) : 1};
}

std::string script_path(const ClusterOrder& order) { return order.folder + "/cluster/variants.sh"; }

}  // namespace

std::string shell_word(const std::string& text) {
    std::string out(1, '\'');
    for (const char c : text) {
        if (c == '\'')
            out.append("'\\''");
        else
            out.push_back(c);
    }
    out.push_back('\'');
    return out;
}

std::string array_script(const ClusterOrder& order) {
    std::string out = fmt::format(
        "#!/bin/sh\n"
        "# {} shares of a plan of variants; each writes what is missing of its own, so that a share may run twice.\n"
        "# Submitted with sbatch; any scheduler that counts can run the last line with numbers from 1 to {}.\n"
        "#SBATCH --job-name=bricol\n#SBATCH --array=1-{}\n#SBATCH --ntasks=1\n#SBATCH --requeue\n",
        order.shards, order.shards, order.shards);
    out += fmt::format("#SBATCH --output={}/cluster/%a.log\n", order.folder);
    for (const std::string& extra : order.extras) out += fmt::format("#SBATCH {}\n", extra);
    out += "exec";
    for (const std::string& word : order.command) out += fmt::format(" {}", shell_word(word));
    return out + fmt::format(" --shard \"$SLURM_ARRAY_TASK_ID/{}\"\n", order.shards);
}

Result<std::string> submit_shards(const ClusterOrder& order) {
    const std::string path = script_path(order);
    std::error_code error;
    fs::create_directories(fs::path(path).parent_path(), error);
    if (error) return Problem{fmt::format("The folder cannot be made: {}.", error.message()), order.folder, ""};
    if (auto problem = write_file(path, array_script(order))) return *problem;
    auto [said, code] = said_by("sbatch --parsable " + shell_word(path));
    if (code == 127)
        return Problem{"There is no Slurm here: sbatch is not found.", path,
                       "The script is kept there; submit it where Slurm is, or run its last line for every share."};
    if (code != 0)
        return Problem{
            "The cluster refuses: " + said + ".", path,
            "The script is kept there; give it what is missing with --cluster-option, or submit it by hand."};
    return said.substr(0, said.find_first_of(";\n"));  // "17;name-of-the-cluster"
}

Result<std::size_t> shards_left(const std::string& job) {
    auto [said, code] = said_by("squeue -h -r -o %t -j " + shell_word(job));
    // Jobs that ended a while ago are not known any more.
    if (code != 0 && said.find("Invalid job id") != std::string::npos) return std::size_t(0);
    if (code != 0)
        return Problem{fmt::format("The cluster does not answer: {}.", said), fmt::format("job {}", job),
                       "The shares go on; join them later with --gather."};
    return said.empty() ? 0 : static_cast<std::size_t>(std::ranges::count(said, '\n')) + 1;
}

}  // namespace bricol
