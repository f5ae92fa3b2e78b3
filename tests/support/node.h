// SPDX-License-Identifier: GPL-3.0-or-later
// Runs one of the outside checks in tests/node.
#pragma once

#include <array>
#include <catch2/catch.hpp>
#include <cstdio>
#include <nlohmann/json.hpp>
#include <string>

namespace bricol::test {

inline std::string output_of(const std::string& command, int* code = nullptr) {
    std::string out;
    FILE* pipe = popen(command.c_str(), "r");
    REQUIRE(pipe);
    std::array<char, 65536> buffer;
    while (const std::size_t n = fread(buffer.data(), 1, buffer.size(), pipe)) out.append(buffer.data(), n);
    const int status = pclose(pipe);
    if (code) *code = WEXITSTATUS(status);
    return out;
}

inline nlohmann::json node(const std::string& script, const std::string& arguments) {
    int code = 0;
    const std::string out = output_of("cd '" NODE_FOLDER "' && node " + script + " " + arguments, &code);
    INFO("node " << script << ": run tests/node's npm install first?\n" << out);
    REQUIRE(code == 0);
    return nlohmann::json::parse(out);
}

}  // namespace bricol::test
