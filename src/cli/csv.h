#pragma once
#include <fstream>
#include <memory>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace ledge::cli {

/// A CSV file or standard input ("-") by rows: a header line, commas, quotes kept as they are.
class CsvInput {
public:
    /// Errors: NotFound, BadFormat when it is empty.
    static Result<CsvInput> open(const std::string& file);

    const std::vector<std::string>& header() const { return m_header; }
    /// The column of a name, lower case; -1 when there is none.
    int column(const std::string& name) const;
    /// The columns of names. Errors: BadFormat that says which are missing.
    Result<std::vector<std::size_t>> columns(const std::vector<std::string>& names) const;
    /// The next row that is not blank, padded to the header; false at the end.
    bool next(std::vector<std::string>& row);

private:
    std::string m_name;
    std::unique_ptr<std::ifstream> m_file;  ///< null: standard input
    std::vector<std::string> m_header;
};

}  // namespace ledge::cli
