#pragma once
#include "carto/profile_runs.h"
#include "session/source_cache.h"

namespace ledge::session {

using carto::ProfileRun;

/// Rasters whose heights a new profile shows: those of lit strips that read heights, top first.
std::vector<doc::Id> surfacesOf(const doc::Document& document);

/// distance, x, y and one column a surface, as CSV.
std::string profileCsv(const std::vector<ProfileRun>& runs);

/// The position at a distance along a run, in the CRS of the line.
Point positionAt(const ProfileRun& run, double distance);
/// The distance along a run of the sample nearest to a position.
double distanceNear(const ProfileRun& run, Point at);

/// "Profile 3": a name no other has.
std::string newProfileName(const doc::Document& document);

}  // namespace ledge::session
