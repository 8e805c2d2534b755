#include <array>
#include <charconv>

#include "core/base/numbers.h"
#include "core/crs/catalogue.h"
#include "core/crs/crs.h"
#include "core/crs/wkt.h"
#include "core/crs/world_crs.h"

namespace ledge::crs {
namespace {
std::optional<int> codeOf(std::string_view text) {
    int code = 0;
    const auto [end, failed] = std::from_chars(text.data(), text.data() + text.size(), code);
    if (failed != std::errc{} || end != text.data() + text.size() || code <= 0) return {};
    return code;
}

// Of OGC's own names: longitude before latitude on a datum (OGC 06-042, B.3 to B.5).
std::optional<int> codeOfOgcName(std::string_view name) {
    constexpr std::array<std::pair<std::string_view, int>, 4> kNames{
        {{"crs84", 4326}, {"crs84h", 4979}, {"crs83", 4269}, {"crs27", 4267}}};
    for (const auto& [known, code] : kNames)
        if (name == known) return code;
    return {};
}

std::vector<std::string> parts(const std::string& text, std::string_view separators) {
    std::vector<std::string> out(1);
    for (const char c : text) {
        if (separators.find(c) != std::string_view::npos)
            out.emplace_back();
        else
            out.back() += c;
    }
    return out;
}

// The authority and the code of a name in lower case, in any of the forms that stand in files and
// services: "epsg:n", "urn:ogc:def:crs:epsg:version:n", ".../def/crs/epsg/0/n", ".../epsg.xml#n".
std::optional<int> codeInName(const std::string& name) {
    if (const auto bare = codeOf(name)) return bare;
    if (const auto ogc = codeOfOgcName(name)) return ogc;
    const auto words = parts(name, ":/#");
    const std::string& last = words.back();
    for (std::size_t i = 0; i + 1 < words.size(); ++i) {
        if (words[i] == "epsg" || words[i] == "epsg.xml") return codeOf(last);
        if (words[i] == "ogc" || words[i] == "crs") {
            if (const auto ogc = codeOfOgcName(last)) return ogc;
            if (words[i] == "crs" && words.size() == 2) return codeOfOgcName("crs" + last);
        }
    }
    return {};
}

// A horizontal CRS with a vertical one behind it, by codes: "epsg:n+m" or a URN of two.
Result<CrsPtr> compound(const std::string& text, const std::vector<std::string>& names) {
    const auto horizontal = codeInName(names[0]);
    const auto vertical = codeInName(names[1]);
    if (!horizontal || !vertical || names.size() != 2)
        return Error{ErrorCode::BadFormat, text, "not a horizontal and a vertical code",
                     "write it as EPSG:25832+7837"};
    const auto crs = crsFromCode(*horizontal);
    if (!crs) return crs;
    auto remarked = std::make_shared<Crs>(**crs);
    remarked->remark = {"heights in EPSG:" + std::to_string(*vertical) +
                        " are taken as they are; only the horizontal part is used"};
    return CrsPtr(std::move(remarked));
}
}  // namespace

Result<CrsPtr> parseCrs(const std::string& text) {
    const std::string name = lowered(trimmed(text));
    if (name.empty() || name == "local") return CrsPtr{};
    if (name.starts_with("world:")) return parseWorldCrs(name);
    if (name.find('[') != std::string::npos || name.find('(') != std::string::npos)
        return crsFromWkt(text);
    if (name.starts_with("urn:ogc:def:crs,")) {
        auto names = parts(name, ",");
        names.erase(names.begin());
        return compound(text, names);
    }
    if (name.find('+') != std::string::npos) return compound(text, parts(name, "+"));
    if (const auto code = codeInName(name)) return crsFromCode(*code);
    if (name.starts_with("epsg:") || name.find(":epsg:") != std::string::npos)
        return Error{ErrorCode::BadFormat, text, "not an EPSG code", "write it as EPSG:32629"};
    return Error{ErrorCode::BadFormat, text, "not a CRS",
                 "write EPSG:n, OGC:CRS84, world:equal-earth, or give a WKT text"};
}

}  // namespace ledge::crs
