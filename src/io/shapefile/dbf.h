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
    std::string encoding;  ///< in which its text was read
};

/// Reads at most `rowLimit` rows. Text is read in `encoding` or, without one, in that of the code
/// page that the table states; where that says nothing, as UTF-8, and what is none as ISO 8859-1.
/// Errors: BadFormat, Cancelled.
Result<Dbf> readDbf(const std::filesystem::path& path, std::size_t rowLimit,
                    const std::string& encoding = {}, const Progress& progress = {});

/// Bytes of a table for these features; field names are cut to 10 bytes and made unique.
/// Stopped work gives a part of it.
/// What of the attributes would be lost in it: shortened names, cut texts, types it lacks.
std::vector<std::string> limitsOfDbf(const FeatureTable& table);
std::string dbfBytes(const FeatureTable& table, const Progress& progress = {});

}  // namespace ledge::io
