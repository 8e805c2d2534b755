#pragma once
#include "carto/profile_runs.h"
#include "session/source_cache.h"

namespace ledge::session {

using carto::ProfileRun;

/// Rasters whose heights a new profile shows: those of lit strips that read heights, top first.
std::vector<doc::Id> surfacesOf(const doc::Document& document);

/// A table as CSV: distance in metres, the position in the CRS of the line, which its columns name,
/// and a column of metres for each surface. Rounded to centimetres (degrees to 1e-7): what lies
/// between samples is not known to more.
std::string profileCsv(const std::vector<ProfileRun>& runs, const crs::CrsPtr& crs);

/// The position at a distance along a run, in the CRS of the line.
Point positionAt(const ProfileRun& run, double distance);
/// The distance along a run of the sample nearest to a position.
double distanceNear(const ProfileRun& run, Point at);

/// "Profile 3": a name no other has.
std::string newProfileName(const doc::Document& document);
/// A name, with a number behind it where another profile has it.
std::string freeProfileName(const doc::Document& document, const std::string& wanted);

}  // namespace ledge::session
