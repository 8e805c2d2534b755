#pragma once
#include "core/globe/reproject.h"
#include "io/registry.h"

namespace ledge::session {

/// What becomes of features on their way from one file to another.
struct Converting {
    std::optional<std::vector<std::string>> columns;  ///< nothing: all
    /// The CRS they are in; nothing: the file's own.
    std::optional<crs::CrsPtr> from;
    crs::CrsPtr to;  ///< null: they keep their coordinates
    globe::Reprojecting how;
    Box extent;  ///< in the CRS they end in; only what meets it is written. Empty: all
};

/// Whether they can be converted in parts: the source knows them by keys of their own, the format
/// of the target takes parts, and the target is not the file that is read.
bool convertsInParts(const FeatureSource& source, std::size_t layer,
                     const std::filesystem::path& from, const std::filesystem::path& to);

/// Reads, reprojects and writes a layer at once, a part in each stage: memory does not grow with
/// the file. Gives what is to be told of features outside and cut; empty when nothing is.
/// Errors: those of reading, reprojected() and writing; Cancelled.
Result<std::string> convertInParts(const FeatureSource& source, std::size_t layer,
                                   const Converting& converting, const std::filesystem::path& to,
                                   const Progress& progress,
                                   io::Replacing replacing = io::Replacing::Own);

}  // namespace ledge::session
