// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/preview_page.h"

#include "core/files/preview_script.h"
#include "core/ground/json.h"

namespace bricol {

namespace {

/// RFC 4648, base 64.
std::string base64(std::string_view bytes) {
    constexpr std::string_view letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string out;
    out.reserve((bytes.size() + 2) / 3 * 4);
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        std::uint32_t three = 0;
        for (std::size_t k = 0; k < 3; ++k)
            three = three << 8 | (i + k < bytes.size() ? static_cast<unsigned char>(bytes[i + k]) : 0U);
        for (std::size_t k = 0; k < 4; ++k)
            out += i + k <= bytes.size() || k < 2 ? letters[three >> (18 - 6 * k) & 63] : '=';
        if (i + 1 >= bytes.size()) out[out.size() - 2] = '=';
        if (i + 2 >= bytes.size()) out.back() = '=';
    }
    return out;
}

std::string escaped(std::string_view text) {
    std::string out;
    for (const char c : text) {
        if (c == '<')
            out += "&lt;";
        else if (c == '>')
            out += "&gt;";
        else if (c == '&')
            out += "&amp;";
        else if (c == '"')
            out += "&quot;";
        else
            out += c;
    }
    return out;
}

constexpr std::string_view style = R"(
:root { color-scheme: light dark; --ground: #e9e7e1; --ink: #22282b; --quiet: #5f676a; --line: #c9c6bd; --on: #1f6f78; }
@media (prefers-color-scheme: dark) {
  :root { --ground: #1d2224; --ink: #e4e6e3; --quiet: #9aa3a5; --line: #3a4245; --on: #5fb8c1; }
}
* { box-sizing: border-box; }
body { margin: 0; height: 100vh; display: flex; flex-direction: column; background: var(--ground); color: var(--ink);
  font: 15px/1.45 system-ui, sans-serif; }
header { padding: 14px 20px 10px; display: flex; flex-wrap: wrap; gap: 8px 20px; align-items: baseline; }
h1 { font-size: 19px; font-weight: 600; margin: 0; }
nav { display: flex; flex-wrap: wrap; gap: 6px; }
button { font: inherit; padding: 3px 12px; border: 1px solid var(--line); border-radius: 4px; background: none;
  color: inherit; cursor: pointer; }
button[aria-pressed=true] { border-color: var(--on); color: var(--on); box-shadow: inset 0 -2px var(--on); }
main { flex: 1; min-height: 0; position: relative; }
canvas { position: absolute; inset: 0; width: 100%; height: 100%; display: block; outline-offset: -3px; }
footer { padding: 10px 20px 14px; border-top: 1px solid var(--line); max-height: 30vh; overflow: auto; }
table { border-collapse: collapse; }
th { text-align: left; font-weight: 600; padding: 1px 22px 1px 0; }
td { color: var(--quiet); }
p { margin: 20px; }
)";

}  // namespace

std::optional<Problem> write_preview(const PreviewPage& page, const std::string& path) {
    const FormatInfo* glb = find_format("x.glb");
    ExportOptions options;
    options.scale = glb->scale;
    options.up = glb->up;
    return write_file(path, [&](const Sink& sink) {
        std::string head = "<!doctype html>\n<html lang=\"en\">\n<meta charset=\"utf-8\">\n<title>" +
                           escaped(page.title) +
                           "</title>\n<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n"
                           "<style>" +
                           std::string(style) + "</style>\n<header><h1>" + escaped(page.title) + "</h1><nav>";
        for (const PreviewState& state : page.states)
            if (page.states.size() > 1) head += "<button type=\"button\">" + escaped(state.name) + "</button>";
        head +=
            "</nav></header>\n<main><canvas tabindex=\"0\" aria-label=\"The shape. Drag to turn it.\"></canvas>"
            "<noscript><p>This page shows its shape with a script, which is switched off.</p></noscript></main>\n"
            "<footer>";
        for (const PreviewState& state : page.states) {
            head += "<table hidden>";
            for (const auto& [name, words] : state.numbers)
                head += "<tr><th>" + escaped(name) + "</th><td>" + escaped(words) + "</td></tr>";
            head += "</table>";
        }
        head += "</footer>\n";
        sink(head);
        for (const PreviewState& state : page.states) {
            std::string bytes;
            glb->write(state.shapes, options, [&](std::string_view piece) {
                bytes += piece;
                return true;
            });
            sink("<script type=\"model/gltf-binary\">" + base64(bytes) + "</script>\n");
        }
        sink("<script>");
        sink(preview_script());
        sink("</script>\n</html>\n");
    });
}

}  // namespace bricol
