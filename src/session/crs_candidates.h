#pragma once
#include <string>
#include <vector>

#include "core/crs/crs.h"

namespace ledge::session {

/// A CRS that was searched for.
struct CrsCandidate {
    std::string text;  ///< as parseCrs reads it
    bool isForPlace = true;
    std::string accuracy;  ///< "±1 m", "no operation known"; empty on the same datum
};
/// What a search finds for a map: those meant for a place before others, then those that data on
/// `from`'s datum reach with little loss before those whose datum leads off by an unknown amount,
/// then as the catalogue ranks them; a code typed in full always first. Null `from`: datums are not
/// weighed.
std::vector<CrsCandidate> findCrs(const std::string& typed, Point place, const crs::CrsPtr& from,
                                  std::size_t limit = 60);

/// What can be done between two datums, for choosing.
struct DatumOffer {
    std::string choice;  ///< for DatumChoice; empty: the best by place and accuracy
    std::string text;    ///< in words, with the accuracy
    std::string area;    ///< what it is meant for, in short
};
/// Empty on the same datum. The first is always the choice made without anybody choosing.
std::vector<DatumOffer> datumOffers(const crs::CrsPtr& from, const crs::CrsPtr& to, Point place);

}  // namespace ledge::session
