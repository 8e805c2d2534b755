#include "core/crs/datum_choices.h"

#include <algorithm>

#include "core/base/numbers.h"

namespace ledge::crs {
namespace {
constexpr const char* kNone = "none";

std::string keyOf(const DatumOperation& operation) {
    return operation.code != 0 ? std::to_string(operation.code) : operation.name;
}
}  // namespace

std::string DatumChoices::between(int one, int other) const {
    for (const DatumChoice& choice : m_choices)
        if (choice.isBetween(one, other)) return choice.operation;
    return {};
}

std::string choiceText(const DatumPath& path) {
    if (path.isUnknown) return kNone;
    std::string out;
    for (const DatumPath::Step& step : path.steps)
        out += (out.empty() ? "" : "+") + keyOf(step.operation);
    return out;
}

bool isChosen(const DatumPath& path, const std::string& choice) {
    std::string wanted = trimmed(choice);
    if (lowered(wanted).starts_with("epsg:")) wanted.erase(0, 5);
    if (path.isUnknown || wanted == kNone) return path.isUnknown && wanted == kNone;
    if (choiceText(path) == wanted) return true;
    return std::any_of(path.steps.begin(), path.steps.end(), [&](const DatumPath::Step& step) {
        return keyOf(step.operation) == wanted || step.operation.name == wanted;
    });
}

CrsPtr withChoices(const CrsPtr& crs, std::vector<DatumChoice> choices) {
    if (!crs || (choices.empty() && !crs->choices)) return crs;
    auto out = std::make_shared<Crs>(*crs);
    out->choices =
        choices.empty() ? nullptr : std::make_shared<const DatumChoices>(std::move(choices));
    return out;
}

bool haveSameChoices(const CrsPtr& one, const CrsPtr& other) {
    const auto none = std::make_shared<const DatumChoices>();
    const auto of = [&](const CrsPtr& crs) { return crs && crs->choices ? crs->choices : none; };
    return *of(one) == *of(other);
}

Result<CrsPtr> withOperation(const CrsPtr& from, const CrsPtr& to, const std::string& operation) {
    if (!from || !to)
        return Error{ErrorCode::InvalidArgument, "operation " + operation,
                     "an operation leads from one CRS to another", "name both CRSs"};
    const auto paths = datumPaths(*from, *to);
    std::string known;
    for (const DatumPath& path : paths) {
        if (isChosen(path, operation))
            return withChoices(from,
                               {{from->geographicCode, to->geographicCode, trimmed(operation)}});
        if (known.size() < 400) known += (known.empty() ? "" : "; ") + choiceText(path);
    }
    if (paths.front().isSameDatum)
        return Error{ErrorCode::InvalidArgument, "operation " + operation,
                     "both CRSs stand on the same datum", "leave the operation out"};
    return Error{ErrorCode::NotFound, "operation " + operation,
                 "does not lead from " + from->geographicName + " to " + to->geographicName,
                 "there are: " + known};
}

}  // namespace ledge::crs
