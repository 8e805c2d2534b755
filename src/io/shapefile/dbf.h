#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/feature/feature.h"

namespace ledge::io {

/// A dBASE III table in memory, as it accompanies shapes.
struct Dbf {
    std::vector<Field> fields;
    std::vector<std::vector<Value>> rows;
    std::vector<std::string> notes;
};

/// Reads at most `rowLimit` rows. Text that is no UTF-8 is taken as ISO 8859-1.
/// Errors: BadFormat, Cancelled.
Result<Dbf> readDbf(const std::filesystem::path& path, std::size_t rowLimit,
                    const Progress& progress = {});

/// Bytes of a table for these features; field names are cut to 10 bytes and made unique.
/// Stopped work gives a part of it.
std::string dbfBytes(const FeatureTable& table, const Progress& progress = {});

}  // namespace ledge::io
