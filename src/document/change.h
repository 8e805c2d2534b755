#pragma once
#include <set>

#include "document/document.h"

namespace ledge::doc {

/// What differs between two states of a project, so that what shows it draws no more anew than it
/// must.
struct Change {
    /// Strips that came, went or are otherwise: in what they hold, how they look or where they are
    /// lit. Groups only for what is their own.
    std::set<Id> layers;
    bool isStackMoved = false;  ///< the same strips in another order or in other groups
    std::set<Id> sources;       ///< came, went, or are read otherwise
    std::set<Id> sheets;        ///< came, went, or hold other items
    std::set<Id> views, profiles, questions;
    bool isCrsMoved = false;  ///< the map's CRS, own CRSs or chosen datum operations
    bool isOther = false;     ///< name, units, words for lights

    /// Whether the map is drawn otherwise.
    bool touchesMap() const {
        return !layers.empty() || isStackMoved || !sources.empty() || isCrsMoved;
    }
    bool isNothing() const {
        return !touchesMap() && sheets.empty() && views.empty() && profiles.empty() &&
               questions.empty() && !isOther;
    }
};

/// Costs a look at the list of things and at those that are not shared.
Change changeBetween(const Document& before, const Document& after);

}  // namespace ledge::doc
