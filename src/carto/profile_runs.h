#pragma once
#include "carto/profile_chart.h"
#include "core/terrain/profile.h"
#include "document/drawing_data.h"

namespace ledge::carto {

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
Result<std::vector<ProfileRun>> runProfile(const doc::Document& document,
                                           const doc::DrawingData& data,
                                           const doc::SavedProfile& profile,
                                           const Progress& progress);

/// The chart of such runs, a colour of the series for each.
ProfileChart chartOf(const std::vector<ProfileRun>& runs, LengthUnit unit);

}  // namespace ledge::carto
