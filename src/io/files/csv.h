#pragma once
#include <string>
#include <string_view>
#include <vector>

namespace ledge::io {

/// Text with a sign between cells (RFC 4180), row by row: quoted cells may hold that sign, line
/// breaks and doubled quotes; a quote within a cell that does not begin with one is a letter. Blank
/// lines are left out. The text has to outlive it.
class CsvReader {
public:
    explicit CsvReader(std::string_view text, char delimiter = ',')
        : m_text(text), m_delimiter(delimiter) {}
    /// The next row; false at the end.
    bool next(std::vector<std::string>& row);
    /// Bytes read so far.
    std::size_t at() const { return m_at; }
    /// Whether a quote was open where the text ended.
    bool isCut() const { return m_isCut; }

private:
    bool take(std::vector<std::string>& row);

    std::string_view m_text;
    char m_delimiter;
    std::size_t m_at = 0;
    bool m_isCut = false;
};

/// All rows of a text with commas.
std::vector<std::vector<std::string>> csvRows(std::string_view text);
/// A cell, quoted when it must be.
std::string csvCell(const std::string& text, char delimiter = ',');

}  // namespace ledge::io
