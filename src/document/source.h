#pragma once
#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/constants.h"
#include "core/base/locator.h"
#include "core/feature/edit_log.h"
#include "document/id.h"
#include "document/shared.h"

namespace ledge::doc {

enum class HeightUnit : std::uint8_t { Metre, Foot };
constexpr double metresPer(HeightUnit unit) {
    return unit == HeightUnit::Foot ? kMetresPerFoot : 1.0;
}

/// Size and time of change by which a file is known again.
struct FileStamp {
    std::int64_t bytes = -1;      ///< -1: not there
    std::int64_t modifiedMs = 0;  ///< since 1970
    bool operator==(const FileStamp&) const = default;
};

/// A grid of shifts (NTv2) from the data's datum to that of a geographic CRS.
struct ShiftGrid {
    std::filesystem::path path;  ///< absolute; stored relative to the project
    int target = 4326;           ///< EPSG code of the geographic CRS
    bool operator==(const ShiftGrid&) const = default;
};

/// A file that something was derived from, read as it was then.
struct LineageInput : Locator {
    std::string name;                        ///< by which a formula knows it; may be empty
    int band = 0;                            ///< from 0
    std::optional<std::string> declaredCrs;  ///< as in SourceRef
    std::optional<ShiftGrid> shiftGrid;
    HeightUnit heightUnit = HeightUnit::Metre;
    FileStamp stamp;
    bool operator==(const LineageInput&) const = default;
};

/// How a source was derived: enough to tell it and to do it again.
struct Lineage {
    std::string operation;  ///< by its name, such as "hillshade"
    std::vector<LineageInput> inputs;
    std::map<std::string, std::string> parameters;  ///< spelled as the command spells them
    std::vector<std::string> remarks =
        {};  ///< what was said when it was done: what was left out, cut
    bool operator==(const Lineage&) const = default;
};

/// A file in use and what the project knows about it beyond what the file says.
struct SourceRef : Locator {  // nowhere for a live source: computed by its lineage when read
    Id id = 0;
    std::string name;
    std::optional<std::string> declaredCrs;  ///< EPSG:n or WKT; replaces what the file says
    std::optional<ShiftGrid> shiftGrid;
    HeightUnit heightUnit = HeightUnit::Metre;
    std::string credit;
    std::optional<Lineage> lineage;  ///< when it was derived here
    Shared<EditLog> edits;           ///< of its table, not saved to it yet
    /// Only features for which this holds, as a layer asks for them (see readBy); no part of what
    /// a project says of the source.
    std::string filter;
    bool isLive() const { return isNowhere() && lineage; }
    bool operator==(const SourceRef&) const = default;
};

}  // namespace ledge::doc
