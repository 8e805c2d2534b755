#pragma once
#include <map>
#include <string_view>
#include <vector>

#include "core/crs/crs.h"

namespace ledge::crs {

/// Sets method and parameters of a CRS whose units, prime meridian and axes are set, from a
/// method's name and values in the CRS's own units. Null fields are passed over. Whether the values
/// are possible shows when the projection is made. Errors: Unsupported method.
Result<void>
setProjection(Crs& crs, const std::string& method, std::span<const std::string> normalisedNames,
              std::span<const std::pair<double ProjectionParameters::*, double>> values);

/// The shipped definitions: every geographic 2D and projected CRS of the EPSG dataset whose text is
/// available, with names and areas of use. Constant, made once, safe for any thread.
class Catalogue {
public:
    static const Catalogue& shipped();

    struct Entry {
        int code = 0;
        bool isGeographic = false;
        std::string_view name, areaName;
        Box area;
        std::string_view line;  ///< of the table
    };
    /// Ascending by code.
    const std::vector<Entry>& entries() const { return m_entries; }
    const Entry* entry(int code) const;

    /// Some microseconds. Errors: NotFound for codes that are not in the table, Unsupported for
    /// methods we lack.
    Result<CrsPtr> byCode(int code) const;
    /// Definitions by code, name, country or place, best first: all words must occur.
    std::vector<const Entry*> find(std::string_view text, std::size_t limit = 50) const;
    /// What suits a place: projected definitions whose area of use contains it, the closest
    /// fitting first, on datums of today before those of old.
    std::vector<const Entry*> suitable(Point lonLat, std::size_t limit = 12) const;
    /// The definition that a CRS without a code equals, by parameters; null when there is none.
    CrsPtr match(const Crs& crs) const;
    /// Codes without a definition in the table, with their names.
    const std::vector<std::pair<int, std::string_view>>& missing() const { return m_missing; }

private:
    explicit Catalogue(std::string_view table);
    Result<Crs> geographic(const Entry& entry) const;

    struct NamedUnit {
        std::string_view name;
        double size = 1;
    };
    struct Area {
        Box box;
        std::string_view name;
    };
    std::vector<Area> m_areas;
    std::vector<Ellipsoid> m_ellipsoids;
    std::vector<NamedUnit> m_units;
    std::vector<Entry> m_entries;
    std::vector<std::string> m_searchTexts;  ///< of entries, lower case
    std::vector<std::pair<int, std::string_view>> m_missing;
    std::multimap<std::string, int> m_geographicByDatum;
};

}  // namespace ledge::crs
