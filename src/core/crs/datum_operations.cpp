#include "core/crs/datum_operations.h"

#include <algorithm>
#include <set>

#include "core/base/csv_line.h"
#include "core/base/numbers.h"
#include "core/crs/datum_choices.h"
#include "core/crs/resources.h"
#include "core/crs/shift_grid.h"

namespace ledge::crs {
namespace {
std::vector<DatumOperation> readOperations(std::string_view table) {
    using Kind = DatumOperation::Kind;
    std::vector<DatumOperation> out;
    bool isHeader = true;
    while (!table.empty()) {
        const std::size_t end = table.find('\n');
        const std::string_view line = table.substr(0, end);
        table.remove_prefix(end == std::string_view::npos ? table.size() : end + 1);
        if (line.empty() || line.front() == '#') continue;
        if (isHeader) {
            isHeader = false;
            continue;
        }
        const auto f = csvCells(line, CsvQuotes::Drop);
        if (f.size() < 22) continue;
        const auto number = [&f](std::size_t i) { return parseNumber(f[i]).value_or(0); };
        DatumOperation o;
        o.code = static_cast<int>(number(0));
        o.name = f[1];
        o.source = static_cast<int>(number(2));
        o.target = static_cast<int>(number(3));
        o.kind = f[4] == "null"                 ? Kind::Null
                 : f[4] == "molodensky-badekas" ? Kind::MolodenskyBadekas
                 : f[4] == "longitude rotation" ? Kind::LongitudeRotation
                                                : Kind::GeocentricShift;
        if (o.kind == Kind::GeocentricShift || o.kind == Kind::MolodenskyBadekas) {
            const double sign = f[4] == "position vector" ? 1 : -1;
            o.shift = {number(5),        number(6),         number(7), sign * number(8),
                       sign * number(9), sign * number(10), number(11)};
            o.pivot = {number(12), number(13), number(14)};
        }
        o.accuracyMetres = parseNumber(f[15]).value_or(kNaN);
        o.area = {f[16], {number(17), number(18), number(19), number(20)}};
        if (o.area.box.xMax < o.area.box.xMin) o.area.box.xMax += 360;
        o.isConfirmed = f[21] == "high";
        out.push_back(std::move(o));
    }
    return out;
}

bool rotates(const Helmert& h) { return h.rx != 0 || h.ry != 0 || h.rz != 0 || h.ppm != 0; }

// A place both CRSs are meant for; the world when their areas are not known.
Box sharedPlace(const Crs& from, const Crs& to) {
    const Box world{-180, -90, 180, 90};
    const Box a = from.area ? from.area->box : world, b = to.area ? to.area->box : world;
    for (const double turn : {0.0, 360.0, -360.0}) {
        const Box shared = a.intersected({b.xMin + turn, b.yMin, b.xMax + turn, b.yMax});
        if (!shared.isEmpty()) return shared;
    }
    return a;
}

class Finder {
public:
    Finder(const Crs& from, const Crs& to, const Box& place, std::span<const DatumOperation> grids)
        : m_target(to.geographicCode), m_place(place) {
        for (const DatumOperation& o : grids) m_operations.push_back(&o);
        for (const DatumOperation& o : reviewedOperations()) m_operations.push_back(&o);
        // What the definitions list counts where nothing reviewed leads away from their datum.
        for (const Crs* crs : {&from, &to}) {
            if (!crs->ownOperation) continue;
            DatumOperation own = *crs->ownOperation;
            own.source = crs->geographicCode;
            m_own.push_back(own.name);
            keep(std::move(own));
        }
        addFromDefinition(from);
        addFromDefinition(to);
        visit({}, from.geographicCode, {from.geographicCode});
    }
    std::vector<DatumPath> found;

private:
    static constexpr std::size_t kLongest = 3;

    void addFromDefinition(const Crs& crs) {
        if (!crs.toWgs84 || crs.geographicCode == 4326) return;
        for (const DatumOperation* o : m_operations)
            if (o->source == crs.geographicCode || o->target == crs.geographicCode) return;
        DatumOperation o;
        o.name = crs.geographicName + " to WGS 84, as the definition lists it";
        o.source = crs.geographicCode;
        o.target = 4326;
        o.kind = DatumOperation::Kind::GeocentricShift;
        o.shift = *crs.toWgs84;
        o.area = crs.area.value_or(AreaOfUse{"", {-180, -90, 180, 90}});
        m_definitions.push_back(o.name);
        keep(std::move(o));
    }

    void keep(DatumOperation o) {
        m_kept.push_back(std::make_unique<DatumOperation>(std::move(o)));
        m_operations.push_back(m_kept.back().get());
    }

    void visit(const std::vector<DatumPath::Step>& steps, int at, const std::set<int>& seen) {
        if (at == m_target) {
            if (!steps.empty()) found.push_back(pathOf(steps));
            return;
        }
        if (steps.size() == kLongest) return;
        for (const DatumOperation* o : m_operations) {
            const bool isForward = o->source == at, isBack = o->target == at;
            if (!isForward && !isBack) continue;
            const int next = isForward ? o->target : o->source;
            if (seen.contains(next)) continue;
            // Between two datums of old the way leads over one of today, not over a third old one.
            if (steps.size() + 1 < kLongest || next == m_target) {
                auto longer = steps;
                longer.push_back({*o, !isForward});
                auto passed = seen;
                passed.insert(next);
                visit(longer, next, passed);
            }
        }
    }

    DatumPath pathOf(const std::vector<DatumPath::Step>& steps) const {
        DatumPath path;
        path.steps = steps;
        double square = 0;
        for (const auto& step : steps) {
            const DatumOperation& o = step.operation;
            square += o.accuracyMetres * o.accuracyMetres;
            const auto isOneOf = [&o](const std::vector<std::string>& names) {
                return std::find(names.begin(), names.end(), o.name) != names.end();
            };
            if (isOneOf(m_own))
                path.isOwn = true;
            else if (!m_place.isEmpty() && !o.area.contains(m_place.centre()))
                path.isOutsideArea = true;
            if (isOneOf(m_definitions)) path.isFromDefinition = true;
        }
        path.accuracyMetres = std::sqrt(square);
        return path;
    }

    int m_target;
    Box m_place;
    std::vector<const DatumOperation*> m_operations;
    std::vector<std::unique_ptr<DatumOperation>> m_kept;
    std::vector<std::string> m_own, m_definitions;  ///< names of such operations
};

double ranked(const DatumPath& path) {
    const bool isKnown = std::isfinite(path.accuracyMetres);
    bool hasGrid = false;
    for (const auto& step : path.steps)
        hasGrid |= step.operation.kind == DatumOperation::Kind::Grid;
    return (path.isChosen ? -1e12 : 0) + (path.isUnknown ? 1e9 : 0) + (path.isOwn ? -1e9 : 0) +
           (path.isOutsideArea ? 1e6 : 0) + (isKnown ? path.accuracyMetres : 500) +
           0.01 * static_cast<double>(path.steps.size()) - (hasGrid ? 1e3 : 0);
}
}  // namespace

namespace {
constexpr std::ptrdiff_t kMostPaths = 40;

// The best path that means what was chosen on either side.
void markChosen(std::vector<DatumPath>& paths, const Crs& from, const Crs& to) {
    for (const Crs* crs : {&from, &to}) {
        if (!crs->choices) continue;
        const std::string chosen = crs->choices->between(from.geographicCode, to.geographicCode);
        DatumPath* best = nullptr;
        for (DatumPath& path : paths)
            if (!chosen.empty() && isChosen(path, chosen) &&
                (!best || ranked(path) < ranked(*best)))
                best = &path;
        if (!best) continue;
        best->isChosen = true;
        return;
    }
}
}  // namespace

std::span<const DatumOperation> reviewedOperations() {
    static const std::vector<DatumOperation> operations = readOperations(datumOperationsTable());
    return operations;
}

std::string DatumOperation::methodText() const {
    switch (kind) {
    case Kind::Null: return "null operation";
    case Kind::GeocentricShift:
        return rotates(shift) ? "7-parameter shift" : "geocentric translation";
    case Kind::MolodenskyBadekas: return "Molodensky-Badekas shift";
    case Kind::LongitudeRotation: return "longitude rotation";
    case Kind::Grid: return "grid of shifts";
    }
    return "";
}

std::string DatumPath::accuracyText() const {
    if (isSameDatum) return "exact";
    if (!std::isfinite(accuracyMetres)) return "accuracy unknown";
    return "±" + formatNumber(accuracyMetres, {accuracyMetres < 1 ? 2 : 0, false}) + " m";
}

std::string DatumPath::text() const {
    if (isSameDatum) return "same datum";
    if (isUnknown && isChosen) return "latitude and longitude taken as they are, as chosen";
    if (isUnknown)
        return "no operation known between these datums: latitude and longitude taken as they are";
    std::string out;
    for (const Step& step : steps) {
        if (!out.empty()) out += ", then ";
        out += (step.isInverse ? "reverse of " : "") + step.operation.name;
    }
    out += " (" + accuracyText();
    if (isChosen) out += ", chosen";
    if (isFromDefinition) out += ", not reviewed";
    if (isOutsideArea) out += ", meant for another area";
    return out + ")";
}

std::vector<DatumPath> datumPaths(const Crs& from, const Crs& to, const Box& place,
                                  std::span<const DatumOperation> grids) {
    if (hasSameDatum(from, to)) {
        DatumPath same;
        same.isSameDatum = true;
        return {same};
    }
    std::vector<DatumPath> out;
    // Definitions without a code carry their own shift to WGS 84, or none.
    Crs source = from, target = to;
    if (source.geographicCode == 0) source.geographicCode = -1;
    if (target.geographicCode == 0) target.geographicCode = -2;
    Finder finder(source, target, place.isEmpty() ? sharedPlace(from, to) : place, grids);
    out = std::move(finder.found);
    DatumPath copied;
    copied.isUnknown = true;
    copied.accuracyMetres = kNaN;
    out.push_back(copied);
    markChosen(out, from, to);
    std::stable_sort(out.begin(), out.end(),
                     [](const DatumPath& a, const DatumPath& b) { return ranked(a) < ranked(b); });
    if (out.size() > kMostPaths) out.erase(out.begin() + kMostPaths, out.end() - 1);
    return out;
}

}  // namespace ledge::crs
