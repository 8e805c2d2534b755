#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include "core/feature/feature.h"

namespace ledge::io {

/// A dBASE III table in memory, as it accompanies shapes.
struct Dbf {
    std::vector<Field> fields;
    std::vector<std::vector<Value>> rows;
    std::vector<std::string> notes;
};

/// Reads at most `rowLimit` rows. Text that is no UTF-8 is taken as ISO 8859-1.
/// Errors: BadFormat.
Result<Dbf> readDbf(const std::filesystem::path& path, std::size_t rowLimit);

/// Bytes of a table for these features; field names are cut to 10 bytes and made unique.
std::string dbfBytes(const FeatureTable& table);

}  // namespace ledge::io
