#pragma once
#include "core/terrain/profile.h"
#include "session/source_cache.h"

namespace ledge::session {

/// One surface along a profile, heights in metres.
struct ProfileRun {
    doc::Id source = 0;
    std::string name;
    std::vector<terrain::ProfilePoint> points;
    terrain::ProfileSummary summary;
};

/// Heights of all its surfaces along a profile, sampled alike: at the finest of their cell sizes,
/// but no more than 20 000 times. Errors: those of terrain::profile; NotFound when none of its
/// sources is in the project.
Result<std::vector<ProfileRun>> runProfile(const doc::Document& document, const SourceCache& cache,
                                           const doc::SavedProfile& profile,
                                           const Progress& progress);

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
