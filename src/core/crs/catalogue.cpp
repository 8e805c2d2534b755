#include "core/crs/catalogue.h"

#include <algorithm>
#include <charconv>

#include "core/base/numbers.h"
#include "core/crs/datum_names.h"
#include "core/crs/method_table.h"
#include "core/crs/resources.h"
#include "core/crs/world_crs.h"

namespace ledge::crs {
namespace {
std::vector<std::string_view> split(std::string_view line, char separator) {
    std::vector<std::string_view> out;
    std::size_t begin = 0;
    while (true) {
        const std::size_t end = line.find(separator, begin);
        out.push_back(line.substr(begin, end - begin));
        if (end == std::string_view::npos) return out;
        begin = end + 1;
    }
}

int intOf(std::string_view text) {
    int value = 0;
    std::from_chars(text.data(), text.data() + text.size(), value);
    return value;
}
double numberOf(std::string_view text) { return parseNumber(text).value_or(0); }

// Datums in use today, for suggestions: satellite-based, by the start of their names.
bool isOfToday(std::string_view name) {
    for (const std::string_view start :
         {"WGS 84",         "ETRS89",      "NAD83(2011)", "NAD83(CSRS)", "GDA2020",
          "NZGD2000",       "SIRGAS 2000", "JGD2011",     "RGF93 v2b",   "CGCS2000",
          "China Geodetic", "KGD2002",     "Korea 2000",  "SWEREF99",    "IRENET95",
          "CH1903+",        "NAD83",       "GDA94",       "RGF93",       "Hartebeesthoek94",
          "ISN2016",        "OSGB36",      "Amersfoort"})
        if (name.starts_with(start)) return true;
    return false;
}

// What people call some definitions beside their names.
std::string_view nicknames(int code) {
    switch (code) {
    case 3857: return "web mercator spherical mercator";
    case 4326: return "gps longitude latitude";
    case 4087: return "plate carree equirectangular";
    default: return "";
    }
}

std::string spaced(std::string_view name) {
    std::string out(name);
    std::replace(out.begin(), out.end(), '_', ' ');
    return out;
}

std::string codeText(int code) { return "EPSG:" + std::to_string(code); }
}  // namespace

const Catalogue& Catalogue::shipped() {
    static const Catalogue catalogue(definitionsTable());
    return catalogue;
}

Catalogue::Catalogue(std::string_view table) {
    while (!table.empty()) {
        const std::size_t end = table.find('\n');
        const std::string_view line = table.substr(0, end);
        table.remove_prefix(end == std::string_view::npos ? table.size() : end + 1);
        if (line.empty()) continue;
        const auto fields = split(line, '\t');
        switch (line.front()) {
        case 'A': {
            Box box{numberOf(fields[2]), numberOf(fields[3]), numberOf(fields[4]),
                    numberOf(fields[5])};
            if (box.xMax < box.xMin) box.xMax += 360;
            m_areas.push_back({box, fields[6]});
            break;
        }
        case 'E':
            m_ellipsoids.push_back(
                {std::string(fields[2]), numberOf(fields[3]), numberOf(fields[4])});
            break;
        case 'U': m_units.push_back({fields[2], numberOf(fields[3])}); break;
        case 'R': m_replaced[intOf(fields[1])] = {intOf(fields[2]), fields[3], fields[4]}; break;
        case 'X': m_missing.emplace_back(intOf(fields[1]), fields[2]); break;
        default: {
            const Area& area = m_areas[static_cast<std::size_t>(intOf(fields.back()))];
            m_entries.push_back(
                {intOf(fields[1]), line.front() == 'G', fields[2], area.name, area.box, line, {}});
            m_entries.back().text = codeText(m_entries.back().code);
            if (line.front() == 'G')
                m_geographicByDatum.emplace(normalisedDatum(fields[3]), intOf(fields[1]));
        }
        }
    }
    std::sort(m_entries.begin(), m_entries.end(),
              [](const Entry& a, const Entry& b) { return a.code < b.code; });
    for (const Entry& entry : m_entries)
        m_searchTexts.push_back(lowered(
            std::to_string(entry.code) + " " + std::string(entry.name) + " | " +
            std::string(entry.areaName) + " | " +
            (entry.isGeographic ? std::string("geographic") : spaced(split(entry.line, '\t')[4])) +
            " " + std::string(nicknames(entry.code))));
    addWorldCrss();
}

void Catalogue::addWorldCrss() {
    for (const WorldCrs& world : worldCrss()) {
        Entry entry;
        entry.name = world.name;
        entry.areaName = "World";
        entry.area = {-180, -90, 180, 90};
        entry.text = worldCrsText(world, {0, 0});
        m_worlds.push_back(std::move(entry));
        m_searchTexts.push_back(lowered(std::string(world.key) + " " + std::string(world.name) +
                                        " | world | " + methodName(world.method) + " " +
                                        std::string(nameOf(world.keeps)) + " " +
                                        std::string(world.otherNames)));
    }
}

int Catalogue::usedFor(int code) const {
    const auto it = m_replaced.find(code);
    return it == m_replaced.end() ? code : it->second.code;
}

const Catalogue::Entry* Catalogue::entry(int code) const {
    const auto it = std::lower_bound(m_entries.begin(), m_entries.end(), code,
                                     [](const Entry& e, int c) { return e.code < c; });
    return it != m_entries.end() && it->code == code ? &*it : nullptr;
}

Result<Crs> Catalogue::geographic(const Entry& entry) const {
    const auto fields = split(entry.line, '\t');
    Crs crs;
    crs.name = crs.geographicName = std::string(entry.name);
    crs.code = crs.geographicCode = entry.code;
    crs.datumName = std::string(fields[3]);
    crs.ellipsoid = m_ellipsoids[static_cast<std::size_t>(intOf(fields[4]))];
    crs.primeMeridian = numberOf(fields[5]);
    const NamedUnit& unit = m_units[static_cast<std::size_t>(intOf(fields[6]))];
    crs.angularUnit = {std::string(unit.name), unit.size};
    if (std::abs(unit.size - kRadiansPerDegree) < 1e-15) crs.angularUnit.size = kRadiansPerDegree;
    crs.toWgs84.reset();
    if (fields[7] != "-") {
        const auto shift = split(fields[7], ',');
        Helmert h;
        h.dx = numberOf(shift[0]), h.dy = numberOf(shift[1]), h.dz = numberOf(shift[2]);
        crs.toWgs84 = h;
    }
    crs.area = AreaOfUse{std::string(entry.areaName), entry.area};
    return crs;
}

Result<CrsPtr> Catalogue::byCode(int code) const {
    const Entry* found = entry(code);
    const std::string name = "EPSG:" + std::to_string(code);
    if (const auto other = m_replaced.find(code); !found && other != m_replaced.end()) {
        const auto& [target, kind, part] = other->second;
        const Entry* used = entry(target);
        if (!used) return Error{ErrorCode::Unsupported, name, "what replaced it is not known", ""};
        auto made = defined(*used);
        if (!made) return made;
        auto remarked = std::make_shared<Crs>(**made);
        remarked->remark = {
            kind == "withdrawn" ? name + " was withdrawn; " + codeText(target) + " replaced it"
            : kind == "heights"
                ? name + " has heights above the ellipsoid; longitude and latitude are " +
                      codeText(target)
                : name + " is compound: " + codeText(target) + ", and heights in " +
                      std::string(part) + ", which are taken as they are"};
        return CrsPtr(std::move(remarked));
    }
    if (!found) {
        for (const auto& [missing, text] : m_missing)
            if (missing == code)
                return Error{ErrorCode::Unsupported, name + ", " + std::string(text),
                             "its definition is not in the shipped table",
                             "give its definition as WKT, for example @file.prj"};
        return Error{ErrorCode::NotFound, name, "no such CRS is built in",
                     "look for it with: ledge crs find NAME; or give its definition as WKT, for "
                     "example @file.prj"};
    }
    return defined(*found);
}

Result<CrsPtr> Catalogue::defined(const Entry& definition) const {
    const Entry* const found = &definition;
    const std::string name = codeText(definition.code);
    if (found->isGeographic) {
        auto crs = geographic(*found);
        if (!crs) return crs.error();
        return CrsPtr(std::make_shared<Crs>(*std::move(crs)));
    }
    const auto fields = split(found->line, '\t');
    const Entry* base = entry(intOf(fields[3]));
    if (!base) return Error{ErrorCode::Unsupported, name, "its geographic CRS is not known", ""};
    auto made = geographic(*base);
    if (!made) return made.error();
    Crs crs = *std::move(made);
    crs.name = std::string(found->name);
    crs.code = definition.code;
    crs.area = AreaOfUse{std::string(found->areaName), found->area};
    std::vector<std::string> given;
    std::vector<std::pair<double ProjectionParameters::*, double>> values;
    if (!fields[5].empty())
        for (const std::string_view pair : split(fields[5], ';')) {
            const auto equals = pair.find('=');
            given.push_back(normalisedName(pair.substr(0, equals)));
            values.emplace_back(fieldFromName(given.back()), numberOf(pair.substr(equals + 1)));
        }
    const NamedUnit& unit = m_units[static_cast<std::size_t>(intOf(fields[6]))];
    crs.unit = {std::string(unit.name), unit.size};
    crs.isWestward = fields[7].find('w') != std::string_view::npos;
    crs.isSouthward = fields[7].find('s') != std::string_view::npos;
    const auto done = setProjection(crs, std::string(fields[4]), given, values);
    if (!done) {
        Error error = done.error();
        error.what = name + ", " + crs.name;
        return error;
    }
    return CrsPtr(std::make_shared<Crs>(std::move(crs)));
}

std::vector<const Catalogue::Entry*> Catalogue::find(std::string_view text,
                                                     std::size_t limit) const {
    std::string wanted = lowered(trimmed(text));
    if (wanted.starts_with("epsg:")) wanted.erase(0, 5);
    std::vector<std::string_view> words;
    for (const std::string_view word : split(wanted, ' '))
        if (!word.empty()) words.push_back(word);
    if (words.empty()) return {};
    struct Scored {
        double score;
        const Entry* entry;
    };
    std::vector<Scored> found;
    for (std::size_t i = 0; i < m_searchTexts.size(); ++i) {
        const std::string& hay = m_searchTexts[i];
        const std::size_t placeAt = hay.find(" | ");
        double score = 0;
        bool hasAll = true;
        for (const std::string_view word : words) {
            const std::size_t at = hay.find(word);
            if (at == std::string::npos) {
                hasAll = false;
                break;
            }
            const bool startsWord =
                at == 0 || !std::isalnum(static_cast<unsigned char>(hay[at - 1]));
            const std::size_t after = at + word.size();
            const bool endsWord =
                after >= hay.size() || !std::isalnum(static_cast<unsigned char>(hay[after]));
            score += (at < placeAt ? 4 : 1) * (startsWord ? 2 : 1) * (endsWord ? 1.5 : 1);
        }
        if (!hasAll) continue;
        const Entry& entry = i < m_entries.size() ? m_entries[i] : m_worlds[i - m_entries.size()];
        if (entry.code == 0) score += 3;
        if (wanted == std::to_string(entry.code)) score += 1000;
        if (wanted == lowered(entry.name)) score += 500;
        if (!nicknames(entry.code).empty() &&
            nicknames(entry.code).find(wanted) != std::string_view::npos)
            score += 100;
        if (isOfToday(entry.name)) score += 2;
        score -= static_cast<double>(entry.name.size()) / 100;
        found.push_back({score, &entry});
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Scored& a, const Scored& b) { return a.score > b.score; });
    std::vector<const Entry*> out;
    for (std::size_t i = 0; i < std::min(limit, found.size()); ++i) out.push_back(found[i].entry);
    return out;
}

std::vector<const Catalogue::Entry*> Catalogue::suitable(Point lonLat, std::size_t limit) const {
    struct Scored {
        double score;
        const Entry* entry;
    };
    std::vector<Scored> found;
    for (const Entry& entry : m_entries) {
        if (entry.isGeographic || !AreaOfUse{{}, entry.area}.contains(lonLat)) continue;
        // Small areas fit closely; a tiny one is a town's grid and hardly meant.
        const double size = std::max(6.0, entry.area.width() * entry.area.height());
        double score = std::log(size);
        if (entry.name.find("UTM zone") != std::string_view::npos) score -= 1.5;
        if (!isOfToday(entry.name)) score += 4;
        const double side = std::abs(entry.area.centre().x - lonLat.x);
        score += std::min(side, std::abs(side - 360)) / 40;
        found.push_back({score, &entry});
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Scored& a, const Scored& b) { return a.score < b.score; });
    std::vector<const Entry*> out;
    for (std::size_t i = 0; i < std::min(limit, found.size()); ++i) out.push_back(found[i].entry);
    return out;
}

CrsPtr Catalogue::match(const Crs& crs) const {
    // Candidates stand on a datum of the same name, whatever the dialect.
    const std::string datum = normalisedDatum(crs.datumName);
    const auto [begin, end] = m_geographicByDatum.equal_range(datum);
    std::vector<int> bases;
    for (auto it = begin; it != end; ++it) {
        const auto base = byCode(it->second);
        if (!base || !hasSameShape(geographicBase(crs), **base)) continue;
        if (crs.isGeographic()) return *base;
        bases.push_back(it->second);
    }
    if (bases.empty()) return {};
    for (const Entry& entry : m_entries) {
        if (entry.isGeographic) continue;
        // The geographic code is the fourth field; a look at it spares making the rest.
        const auto fields = split(entry.line, '\t');
        if (std::find(bases.begin(), bases.end(), intOf(fields[3])) == bases.end()) continue;
        const auto known = byCode(entry.code);
        if (known && hasSameShape(crs, **known)) return *known;
    }
    return {};
}

}  // namespace ledge::crs
