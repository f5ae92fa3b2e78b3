// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/csv.h"

#include <algorithm>
#include <fmt/format.h>

namespace bricol {

namespace {

/// What parts the cells, as the first line shows.
char separator_of(std::string_view text) {
    const std::string_view line = text.substr(0, text.find('\n'));
    const auto count = [&](char c) { return std::ranges::count(line, c); };
    if (count('\t') > count(',') && count('\t') >= count(';')) return '\t';
    return count(';') > count(',') ? ';' : ',';
}

std::string trimmed(const std::string& cell) {
    const auto first = cell.find_first_not_of(" \t\r");
    return first == std::string::npos ? std::string() : cell.substr(first, cell.find_last_not_of(" \t\r") - first + 1);
}

/// Takes a table apart letter by letter.
class Reader {
public:
    explicit Reader(std::string_view text) : text_(text), separator_(separator_of(text)) {}

    Result<std::vector<TableRow>> read() {
        for (; at_ < text_.size(); ++at_) {
            const char c = text_[at_];
            if (c == '"' && trimmed(cell_).empty() && !was_quoted_) {
                if (!quoted()) return Problem{"A quote is not closed.", fmt::format("line {}", line_), "Close it."};
            } else if (c == separator_) {
                end_cell();
            } else if (c == '\n') {
                end_row();
                ++line_;
            } else if (!was_quoted_ || (c != ' ' && c != '\t' && c != '\r')) {
                cell_ += c;
            }
        }
        end_row();
        return std::move(rows_);
    }

private:
    bool quoted() {
        cell_.clear();
        for (++at_; at_ < text_.size(); ++at_) {
            if (text_[at_] == '"') {
                if (at_ + 1 >= text_.size() || text_[at_ + 1] != '"') {
                    was_quoted_ = true;
                    return true;
                }
                ++at_;
            }
            cell_ += text_[at_];
        }
        return false;
    }
    void end_cell() {
        row_.push_back(was_quoted_ ? cell_ : trimmed(cell_));
        cell_.clear();
        was_quoted_ = false;
    }
    void end_row() {
        const bool nothing = row_.empty() && !was_quoted_ && trimmed(cell_).empty();
        if (!nothing) {
            end_cell();
            rows_.push_back(std::move(row_));
        }
        cell_.clear();
        row_.clear();
    }

    std::string_view text_;
    char separator_;
    std::size_t at_ = 0, line_ = 1;
    std::string cell_;
    bool was_quoted_ = false;
    TableRow row_;
    std::vector<TableRow> rows_;
};

}  // namespace

Result<std::vector<TableRow>> read_csv(std::string_view text) {
    if (text.starts_with("\xef\xbb\xbf")) text.remove_prefix(3);
    return Reader(text).read();
}

std::string csv_row(const TableRow& cells) {
    std::string line;
    for (std::size_t i = 0; i < cells.size(); ++i) {
        if (i > 0) line.push_back(',');
        if (cells[i].find_first_of(",\"\r\n;\t") == std::string::npos) {
            line += cells[i];
            continue;
        }
        line.push_back('"');
        for (const char c : cells[i]) line.append(c == '"' ? 2 : 1, c);
        line.push_back('"');
    }
    line.push_back('\n');
    return line;
}

}  // namespace bricol
