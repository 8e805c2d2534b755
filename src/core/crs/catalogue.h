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
        int code = 0;  ///< 0: one of the ready world CRSs
        bool isGeographic = false;
        std::string_view name, areaName;
        Box area;
        std::string_view line;  ///< of the table
        std::string text;       ///< by which parseCrs knows it: "EPSG:n" or "world:…"
    };
    /// Ascending by code.
    const std::vector<Entry>& entries() const { return m_entries; }
    const Entry* entry(int code) const;

    /// Some microseconds. A code that was withdrawn, has heights or a vertical part gives the
    /// definition used instead, with a remark that says so. Errors: NotFound for codes that are not
    /// in the table, Unsupported for methods we lack.
    Result<CrsPtr> byCode(int code) const;
    /// The code that is used for another one; the same code when it stands for itself.
    int usedFor(int code) const;
    /// Whether a datum of this name (normalised) is in the table.
    bool knowsDatum(const std::string& normalised) const {
        return m_geographicByDatum.contains(normalised);
    }
    /// Definitions by code, name, country, place, method or nickname, best first: all words must
    /// occur. The ready world CRSs are among them.
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
    Result<CrsPtr> defined(const Entry& entry) const;
    void addWorldCrss();

    /// What stands for a code.
    struct Replacement {
        int code = 0;
        std::string_view kind, name;
    };

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
    std::vector<Entry> m_worlds;
    /// Of entries, then of the world CRSs, lower case: "code name | area | method and nicknames".
    std::vector<std::string> m_searchTexts;
    std::map<int, Replacement> m_replaced;
    std::vector<std::pair<int, std::string_view>> m_missing;
    std::multimap<std::string, int> m_geographicByDatum;
};

}  // namespace ledge::crs
