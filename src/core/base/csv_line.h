#pragma once
#include <string>
#include <string_view>
#include <vector>

namespace ledge {

enum class CsvQuotes {
    Drop,  ///< cells as they are meant
    Keep,  ///< cells as they stand, to be written again unchanged
};

/// Cells of one line of text with commas between them; commas within quotes belong to the cell. A
/// carriage return at the end is left out. Texts that break lines inside a cell: io/files/csv.h.
inline std::vector<std::string> csvCells(std::string_view line, CsvQuotes quotes) {
    std::vector<std::string> out(1);
    bool isQuoted = false;
    for (const char c : line) {
        if (c == '"') isQuoted = !isQuoted;
        if (c == ',' && !isQuoted)
            out.emplace_back();
        else if (c != '\r' && !(c == '"' && quotes == CsvQuotes::Drop))
            out.back() += c;
    }
    return out;
}

}  // namespace ledge
