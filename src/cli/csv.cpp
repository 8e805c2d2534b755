#include "cli/csv.h"

#include <iostream>
#include <memory>

#include "core/base/csv_line.h"
#include "core/base/numbers.h"

namespace ledge::cli {
namespace {
// Quotes stay, so that other columns pass unchanged.
std::vector<std::string> cells(const std::string& line) { return csvCells(line, CsvQuotes::Keep); }
}  // namespace

Result<CsvInput> CsvInput::open(const std::string& file) {
    CsvInput out;
    out.m_name = file == "-" ? "standard input" : file;
    if (file != "-") {
        out.m_file = std::make_unique<std::ifstream>(file);
        if (!*out.m_file)
            return Error{ErrorCode::NotFound, file, "cannot be opened", "check the path"};
    }
    std::istream& in = out.m_file ? static_cast<std::istream&>(*out.m_file) : std::cin;
    std::string line;
    if (!std::getline(in, line))
        return Error{ErrorCode::BadFormat, out.m_name, "is empty", "give a header line and rows"};
    if (line.starts_with("\xEF\xBB\xBF")) line.erase(0, 3);  // a mark of UTF-8, no part of a name
    out.m_header = cells(line);
    return out;
}

int CsvInput::column(const std::string& name) const {
    for (std::size_t i = 0; i < m_header.size(); ++i)
        if (lowered(trimmed(m_header[i])) == name) return static_cast<int>(i);
    return -1;
}

Result<std::vector<std::size_t>> CsvInput::columns(const std::vector<std::string>& names) const {
    std::vector<std::size_t> out;
    std::string missing, all;
    for (const std::string& name : names) {
        const int i = column(name);
        all += (all.empty() ? "" : ",") + name;
        if (i < 0)
            missing += (missing.empty() ? "" : ", ") + name;
        else
            out.push_back(static_cast<std::size_t>(i));
    }
    if (missing.empty()) return out;
    return Error{ErrorCode::BadFormat, m_name, "has no column " + missing + " in its header line",
                 "name them " + all};
}

bool CsvInput::next(std::vector<std::string>& row) {
    std::istream& in = m_file ? static_cast<std::istream&>(*m_file) : std::cin;
    std::string line;
    while (std::getline(in, line)) {
        if (trimmed(line).empty()) continue;
        row = cells(line);
        row.resize(std::max(row.size(), m_header.size()));
        return true;
    }
    return false;
}

}  // namespace ledge::cli
