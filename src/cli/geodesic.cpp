#include "core/crs/geodesic.h"

#include <iostream>
#include <map>

#include "cli/arguments.h"
#include "cli/csv.h"
#include "core/base/number_list.h"
#include "core/base/numbers.h"

namespace ledge::cli {
namespace {
struct GeodesicOptions {
    std::string crs, ellipsoid, file = "-";
    int digits = 0;
};

Result<crs::Geodesic> geodesicOf(const GeodesicOptions& o, const Context& context) {
    if (!o.crs.empty()) {
        const auto crs = crsArgument(o.crs, context);
        if (!crs) return crs.error();
        if (!*crs)
            return Error{ErrorCode::InvalidArgument, "--crs", "local coordinates have no ellipsoid",
                         "give a CRS, or --ellipsoid A,INVF"};
        return crs::Geodesic((*crs)->ellipsoid);
    }
    const auto numbers = parseNumbers(o.ellipsoid, ',');
    if (!numbers) return numbers.error();
    if (numbers->size() != 2 || !((*numbers)[0] > 0) ||
        ((*numbers)[1] != 0 && !((*numbers)[1] > 50)))
        return Error{ErrorCode::InvalidArgument, "--ellipsoid", "\"" + o.ellipsoid + "\" is none",
                     "give the semi-major axis in metres and the inverse flattening (over 50, or 0 "
                     "for a sphere), as 6378137,298.257223563"};
    return crs::Geodesic({"given", (*numbers)[0], (*numbers)[1]});
}

class Table {
public:
    explicit Table(const GeodesicOptions& o) : m_digits(o.digits) {}
    std::string text(double v) const {
        if (std::isnan(v)) return "";
        return m_digits > 0 ? roundedNumber(v, m_digits) : exactNumber(v);
    }
    void row(std::initializer_list<double> values) const {
        std::string line;
        for (const double v : values) line += (line.empty() ? "" : ",") + text(v);
        std::cout << line << '\n';
    }

private:
    int m_digits;
};

// Rows of four numbers through a function; rows without them give empty cells.
template <typename F>
Result<void> eachRow(const GeodesicOptions& o, const std::vector<std::string>& names,
                     const std::string& header, const F& result) {
    auto in = CsvInput::open(o.file);
    if (!in) return in.error();
    const auto columns = in->columns(names);
    if (!columns) return columns.error();
    std::cout << header << '\n';
    const Table table(o);
    std::vector<std::string> row;
    long unusable = 0;
    while (in->next(row)) {
        std::array<double, 4> v{};
        for (std::size_t i = 0; i < 4; ++i) v[i] = parseNumber(row[(*columns)[i]]).value_or(kNaN);
        const auto out = result(v);
        if (std::isnan(out[0])) ++unusable;
        const auto text = [&](std::size_t i) {
            return std::isnan(out[0]) ? "" : table.text(out[i]);
        };
        std::cout << text(0) << ',' << text(1) << ',' << text(2) << '\n';
    }
    if (unusable > 0)
        std::cerr
            << "ledge: geodesic: " << unusable
            << " rows hold no positions (latitudes within -90 to 90); their cells are empty\n";
    return {};
}

Result<void> inverse(const GeodesicOptions& o, const Context& context) {
    const auto geodesic = geodesicOf(o, context);
    if (!geodesic) return geodesic.error();
    return eachRow(o, {"lon1", "lat1", "lon2", "lat2"},
                   "distance_m,bearing_start_deg,bearing_end_deg",
                   [&](const std::array<double, 4>& v) {
                       const auto line = geodesic->inverse({v[0], v[1]}, {v[2], v[3]});
                       return std::array{line.distance, line.bearingStart, line.bearingEnd};
                   });
}

Result<void> direct(const GeodesicOptions& o, const Context& context) {
    const auto geodesic = geodesicOf(o, context);
    if (!geodesic) return geodesic.error();
    return eachRow(o, {"lon1", "lat1", "bearing_start_deg", "distance_m"},
                   "lon2,lat2,bearing_end_deg", [&](const std::array<double, 4>& v) {
                       const auto end = geodesic->direct({v[0], v[1]}, v[2], v[3]);
                       return std::array{end.at.x, end.at.y, end.bearing};
                   });
}

Result<void> area(const GeodesicOptions& o, const Context& context) {
    const auto geodesic = geodesicOf(o, context);
    if (!geodesic) return geodesic.error();
    auto in = CsvInput::open(o.file);
    if (!in) return in.error();
    const auto columns = in->columns({"ring", "lon", "lat"});
    if (!columns) return columns.error();
    std::vector<std::pair<std::string, std::vector<Point>>> rings;
    std::map<std::string, std::size_t> index;
    std::vector<std::string> row;
    while (in->next(row)) {
        const std::string name = row[(*columns)[0]];
        const auto [it, isNew] = index.emplace(name, rings.size());
        if (isNew) rings.emplace_back(name, std::vector<Point>{});
        rings[it->second].second.push_back({parseNumber(row[(*columns)[1]]).value_or(kNaN),
                                            parseNumber(row[(*columns)[2]]).value_or(kNaN)});
    }
    std::cout << "ring,area_m2,perimeter_m\n";
    const Table table(o);
    for (const auto& [name, points] : rings) {
        const auto ring = geodesic->polygon(points);
        std::cout << name << ',' << table.text(ring.area) << ',' << table.text(ring.perimeter)
                  << '\n';
    }
    return {};
}
}  // namespace

void addGeodesic(CLI::App& app, const AddCommand& add) {
    auto* c =
        app.add_subcommand("geodesic", "Distances, bearings and areas on the ellipsoid, as CSV");
    c->require_subcommand(1);
    const auto make = [&](const char* name, const char* what, auto run) {
        auto* sub = c->add_subcommand(name, what);
        auto o = std::make_shared<GeodesicOptions>();
        auto* crs = sub->add_option("--crs", o->crs, "Ellipsoid of this CRS: EPSG:n, WKT or @file");
        auto* own = sub->add_option("--ellipsoid", o->ellipsoid,
                                    "Semi-major axis in metres and inverse flattening: A,INVF");
        crs->excludes(own);
        sub->add_option("FILE", o->file, "CSV; - or nothing: standard input");
        sub->add_option("--digits", o->digits, "Significant digits instead of exact numbers");
        add(sub, [o, run](const Context& context) -> Result<void> {
            if (o->crs.empty() && o->ellipsoid.empty()) o->crs = "EPSG:4326";
            return run(*o, context);
        });
    };
    make("inverse", "lon1,lat1,lon2,lat2 to distance and bearings", inverse);
    make("direct", "lon1,lat1,bearing_start_deg,distance_m to the end", direct);
    make("area", "ring,lon,lat to area and perimeter; counter-clockwise is positive", area);
}

}  // namespace ledge::cli
