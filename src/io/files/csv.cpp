#include "io/files/csv.h"

#include <utility>

namespace ledge::io {

std::vector<std::vector<std::string>> csvRows(std::string_view text) {
    std::vector<std::vector<std::string>> out;
    std::vector<std::string> row;
    std::string cell;
    bool isQuoted = false, hasAny = false;
    const auto endCell = [&] { row.push_back(std::exchange(cell, {})); };
    const auto endRow = [&] {
        if (hasAny) {
            endCell();
            out.push_back(std::move(row));
        }
        row.clear();
        hasAny = false;
    };
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (isQuoted) {
            if (c == '"' && i + 1 < text.size() && text[i + 1] == '"')
                cell += '"', ++i;
            else if (c == '"')
                isQuoted = false;
            else
                cell += c;
            continue;
        }
        if (c == '\n') {
            endRow();
            continue;
        }
        if (c == '\r') continue;
        hasAny = true;
        if (c == '"')
            isQuoted = true;
        else if (c == ',')
            endCell();
        else
            cell += c;
    }
    endRow();
    return out;
}

std::string csvCell(const std::string& text) {
    if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
    std::string out = "\"";
    for (const char c : text) out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

}  // namespace ledge::io
