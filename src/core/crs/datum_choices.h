#pragma once
#include <string>
#include <vector>

#include "core/crs/crs.h"
#include "core/crs/datum_operations.h"

namespace ledge::crs {

/// What was chosen between two datums, in either direction.
struct DatumChoice {
    int one = 0, other = 0;  ///< codes of geographic CRSs
    /// The code of an operation, or its name where it has none; "none" takes latitude and longitude
    /// as they are.
    std::string operation;
    bool operator==(const DatumChoice&) const = default;
    bool isBetween(int a, int b) const {
        return (one == a && other == b) || (one == b && other == a);
    }
};

/// Choices for any number of pairs of datums; at most one counts for a pair.
class DatumChoices {
public:
    DatumChoices() = default;
    explicit DatumChoices(std::vector<DatumChoice> choices) : m_choices(std::move(choices)) {}
    bool operator==(const DatumChoices&) const = default;

    const std::vector<DatumChoice>& all() const { return m_choices; }
    /// The operation chosen between two geographic CRSs; empty when none was.
    std::string between(int one, int other) const;

private:
    std::vector<DatumChoice> m_choices;
};

/// By what a path is chosen: codes (or names) of its operations, joined by "+"; "none" for taking
/// latitude and longitude as they are.
std::string choiceText(const DatumPath& path);
/// Whether a path is what a choice means: the whole text, or the code or name of one operation in
/// it.
bool isChosen(const DatumPath& path, const std::string& choice);

/// The same CRS with choices that count wherever it is transformed; null stays null.
CrsPtr withChoices(const CrsPtr& crs, std::vector<DatumChoice> choices);
/// Whether the same choices belong to both.
bool haveSameChoices(const CrsPtr& one, const CrsPtr& other);

/// A CRS whose datum is left towards another's by a chosen operation. Errors: NotFound with the
/// operations that there are.
Result<CrsPtr> withOperation(const CrsPtr& from, const CrsPtr& to, const std::string& operation);

}  // namespace ledge::crs
