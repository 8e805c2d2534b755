#include "io/files/csv.h"

#include <utility>

namespace ledge::io {

bool CsvReader::next(std::vector<std::string>& row) {
    while (m_at < m_text.size()) {
        row.clear();
        if (take(row)) return true;
    }
    return false;
}

// One line, or several where a quoted cell goes on; false when it is blank.
bool CsvReader::take(std::vector<std::string>& row) {
    std::string cell;
    bool isQuoted = false, hasAny = false;
    const auto isBlank = [&] { return cell.find_first_not_of(" \t") == std::string::npos; };
    for (; m_at < m_text.size(); ++m_at) {
        const char c = m_text[m_at];
        if (isQuoted) {
            const bool isDoubled = c == '"' && m_at + 1 < m_text.size() && m_text[m_at + 1] == '"';
            if (isDoubled)
                cell += '"', ++m_at;
            else if (c == '"')
                isQuoted = false;
            else
                cell += c;
            continue;
        }
        if (c == '\n') {
            ++m_at;
            break;
        }
        if (c == '\r') continue;
        hasAny = true;
        if (c == '"' && isBlank()) {
            cell.clear();
            isQuoted = true;
        } else if (c == m_delimiter) {
            row.push_back(std::exchange(cell, {}));
        } else {
            cell += c;
        }
    }
    m_isCut = isQuoted;
    if (!hasAny) return false;
    row.push_back(std::move(cell));
    return true;
}

std::vector<std::vector<std::string>> csvRows(std::string_view text) {
    std::vector<std::vector<std::string>> out;
    CsvReader reader(text);
    for (std::vector<std::string> row; reader.next(row);) out.push_back(row);
    return out;
}

std::string csvCell(const std::string& text, char delimiter) {
    if (text.find_first_of("\"\n\r") == std::string::npos &&
        text.find(delimiter) == std::string::npos)
        return text;
    std::string out = "\"";
    for (const char c : text) out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

}  // namespace ledge::io
