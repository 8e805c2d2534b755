#include "core/crs/wkt.h"

#include <charconv>
#include <map>
#include <vector>

#include "core/base/numbers.h"

namespace ledge::crs {
namespace {

// One KEYWORD[...] with its quoted or bare values and inner nodes, in order of appearance.
struct Node {
    std::string keyword;
    std::vector<std::string> values;
    std::vector<Node> children;

    const Node* child(std::string_view name) const {
        for (const Node& node : children)
            if (node.keyword == name) return &node;
        return nullptr;
    }
    std::string text(std::size_t i) const { return i < values.size() ? values[i] : ""; }
    std::optional<double> number(std::size_t i) const { return parseNumber(text(i)); }
};

class Parser {
public:
    explicit Parser(const std::string& text) : m_text(text) {}

    Result<Node> parse() {
        auto root = node(0);
        if (!root) return root;
        skipBlanks();
        if (m_at != m_text.size()) return fail("text after the end of the definition");
        return root;
    }

private:
    static constexpr int kDeepest = 32;

    Error fail(const std::string& why) const {
        return {ErrorCode::BadFormat, "CRS definition (WKT)",
                why + " at character " + std::to_string(m_at + 1), "check brackets and quotes"};
    }
    void skipBlanks() {
        while (m_at < m_text.size() && std::isspace(static_cast<unsigned char>(m_text[m_at])))
            ++m_at;
    }
    bool take(char c) {
        skipBlanks();
        if (m_at >= m_text.size() || m_text[m_at] != c) return false;
        ++m_at;
        return true;
    }
    bool takeEither(char a, char b) { return take(a) || take(b); }

    std::string word() {
        skipBlanks();
        const std::size_t begin = m_at;
        while (m_at < m_text.size() &&
               std::string_view("[](),\"").find(m_text[m_at]) == std::string_view::npos)
            ++m_at;
        return trimmed(m_text.substr(begin, m_at - begin));
    }
    Result<std::string> quoted() {
        std::string out;
        while (m_at < m_text.size()) {
            const char c = m_text[m_at++];
            if (c != '"') {
                out += c;
            } else if (m_at < m_text.size() && m_text[m_at] == '"') {
                out += '"';
                ++m_at;
            } else {
                return out;
            }
        }
        return fail("a quote is not closed");
    }
    Result<Node> node(int depth) {
        if (depth > kDeepest) return fail("nested too deep");
        Node out;
        out.keyword = word();
        for (char& c : out.keyword)
            c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
        if (out.keyword.empty() || !takeEither('[', '(')) return fail("a bracket is missing");
        do {
            if (take('"')) {
                auto text = quoted();
                if (!text) return text.error();
                out.values.push_back(*std::move(text));
                continue;
            }
            const std::size_t before = m_at;
            const std::string bare = word();
            if (m_at < m_text.size() && (m_text[m_at] == '[' || m_text[m_at] == '(')) {
                m_at = before;
                auto inner = node(depth + 1);
                if (!inner) return inner;
                out.children.push_back(*std::move(inner));
            } else {
                out.values.push_back(bare);
            }
        } while (take(','));
        if (!takeEither(']', ')')) return fail("a closing bracket is missing");
        return out;
    }

    const std::string& m_text;
    std::size_t m_at = 0;
};

std::string normalised(std::string_view name) {
    std::string out;
    for (const char c : name)
        if (std::isalnum(static_cast<unsigned char>(c)))
            out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return out;
}

Error unusable(const std::string& what, const std::string& why) {
    return {ErrorCode::BadFormat, "CRS definition (WKT)", what + " " + why,
            "correct the definition"};
}

int authorityCode(const Node& node) {
    const Node* authority = node.child("AUTHORITY");
    if (!authority || normalised(authority->text(0)) != "epsg") return 0;
    const std::string text = authority->text(1);
    int code = 0;
    std::from_chars(text.data(), text.data() + text.size(), code);
    return code;
}

Result<Method> methodOf(const std::string& name, bool hasSecondParallel, bool hasFirstParallel) {
    const std::string n = normalised(name);
    if (n == "transversemercator" || n == "gausskruger") return Method::TransverseMercator;
    if (n == "mercator1sp" || n == "mercatorvarianta") return Method::MercatorA;
    if (n == "mercator2sp" || n == "mercatorvariantb") return Method::MercatorB;
    if (n == "mercator") return hasFirstParallel ? Method::MercatorB : Method::MercatorA;
    if (n == "mercatorauxiliarysphere" || n == "popularvisualisationpseudomercator")
        return Method::WebMercator;
    if (n == "lambertconformalconic1sp" || n == "lambertconicconformal1sp")
        return Method::LambertConformalConic1SP;
    if (n == "lambertconformalconic2sp" || n == "lambertconicconformal2sp")
        return Method::LambertConformalConic2SP;
    if (n == "lambertconformalconic")
        return hasSecondParallel ? Method::LambertConformalConic2SP
                                 : Method::LambertConformalConic1SP;
    return Error{ErrorCode::Unsupported, "CRS definition (WKT)",
                 "the projection method \"" + name + "\" is not supported",
                 "reproject the data to a CRS with a supported method"};
}

Result<void> readDatum(const Node& geogcs, Crs& crs) {
    const Node* datum = geogcs.child("DATUM");
    const Node* spheroid = datum ? datum->child("SPHEROID") : nullptr;
    if (!spheroid) return unusable("GEOGCS", "has no DATUM with a SPHEROID");
    const auto axis = spheroid->number(1), flattening = spheroid->number(2);
    if (!axis || !flattening || !(*axis > 1) || !std::isfinite(*axis))
        return unusable("SPHEROID", "has no usable axis and flattening");
    crs.geographicName = geogcs.text(0);
    crs.geographicCode = authorityCode(geogcs);
    crs.datumName = datum->text(0);
    crs.ellipsoid = {spheroid->text(0), *axis, *flattening};
    crs.toWgs84.reset();
    if (const Node* shift = datum->child("TOWGS84")) {
        Helmert h;
        double* const fields[] = {&h.dx, &h.dy, &h.dz, &h.rx, &h.ry, &h.rz, &h.ppm};
        for (std::size_t i = 0; i < 7 && i < shift->values.size(); ++i)
            *fields[i] = shift->number(i).value_or(0);
        crs.toWgs84 = h;
    } else if (const std::string n = normalised(crs.datumName);
               n.find("wgs1984") != std::string::npos || n == "wgs84" ||
               n == "worldgeodeticsystem1984" || n.find("etrs") != std::string::npos ||
               n == "europeanterrestrialreferencesystem1989") {
        crs.toWgs84 = Helmert{};
    }
    if (const Node* prime = geogcs.child("PRIMEM"))
        crs.primeMeridian = prime->number(1).value_or(0);
    if (const Node* unit = geogcs.child("UNIT"))
        crs.angularUnit = {unit->text(0), unit->number(1).value_or(kRadiansPerDegree)};
    if (!(crs.angularUnit.size > 0)) return unusable("UNIT", "of angles is not positive");
    return {};
}

Result<void> readProjection(const Node& projcs, Crs& crs) {
    std::map<std::string, double> found;
    for (const Node& node : projcs.children) {
        if (node.keyword != "PARAMETER") continue;
        const auto value = node.number(1);
        if (!value || !std::isfinite(*value))
            return unusable("PARAMETER \"" + node.text(0) + "\"", "has no number");
        found[normalised(node.text(0))] = *value;
    }
    const Node* projection = projcs.child("PROJECTION");
    if (!projection) return unusable("PROJCS", "has no PROJECTION");
    const auto method = methodOf(projection->text(0), found.contains("standardparallel2"),
                                 found.contains("standardparallel1"));
    if (!method) return method.error();
    crs.method = *method;
    if (const Node* unit = projcs.child("UNIT"))
        crs.unit = {unit->text(0), unit->number(1).value_or(1)};
    if (!(crs.unit.size > 0) || !std::isfinite(crs.unit.size))
        return unusable("UNIT", "of lengths is not positive");
    const auto value = [&](std::initializer_list<const char*> names, double fallback) {
        for (const char* name : names)
            if (const auto it = found.find(name); it != found.end()) return it->second;
        return fallback;
    };
    const double degrees = crs.angularUnit.size / kRadiansPerDegree;
    ProjectionParameters p;
    p.latitudeOfOrigin =
        value({"latitudeoforigin", "latitudeofnaturalorigin", "latitudeoffalseorigin"}, 0) *
        degrees;
    p.centralMeridian =
        value({"centralmeridian", "longitudeofnaturalorigin", "longitudeoffalseorigin"}, 0) *
            degrees +
        crs.primeMeridian;
    p.scaleFactor = value({"scalefactor", "scalefactoratnaturalorigin"}, 1);
    p.standardParallel1 =
        value({"standardparallel1", "latitudeof1ststandardparallel"}, 0) * degrees;
    p.standardParallel2 =
        value({"standardparallel2", "latitudeof2ndstandardparallel"}, 0) * degrees;
    p.falseEasting = value({"falseeasting", "eastingatfalseorigin"}, 0) * crs.unit.size;
    p.falseNorthing = value({"falsenorthing", "northingatfalseorigin"}, 0) * crs.unit.size;
    // In one .prj dialect a tangent cone is given by its parallel alone, or by two equal ones.
    if (crs.method == Method::LambertConformalConic1SP && found.contains("standardparallel1")) {
        crs.method = Method::LambertConformalConic2SP;
        p.standardParallel2 = p.standardParallel1;
    }
    if (crs.method == Method::MercatorB && !found.contains("standardparallel1"))
        p.standardParallel1 = p.latitudeOfOrigin;
    crs.parameters = p;
    const auto usable = makeProjection(crs.method, p, crs.ellipsoid);
    if (!usable) return usable.error();
    return {};
}

bool isNear(double a, double b) { return std::abs(a - b) <= 1e-9 * std::max(1.0, std::abs(a)); }

bool hasSameDefinition(const Crs& a, const Crs& b) {
    const ProjectionParameters &p = a.parameters, &q = b.parameters;
    return a.method == b.method && isNear(a.ellipsoid.semiMajor, b.ellipsoid.semiMajor) &&
           std::abs(a.ellipsoid.inverseFlattening - b.ellipsoid.inverseFlattening) < 1e-7 &&
           isNear(p.latitudeOfOrigin, q.latitudeOfOrigin) &&
           isNear(p.centralMeridian, q.centralMeridian) && isNear(p.scaleFactor, q.scaleFactor) &&
           isNear(p.standardParallel1, q.standardParallel1) &&
           isNear(p.standardParallel2, q.standardParallel2) &&
           isNear(p.falseEasting, q.falseEasting) && isNear(p.falseNorthing, q.falseNorthing) &&
           a.unit.size == b.unit.size && a.primeMeridian == b.primeMeridian &&
           a.toWgs84.has_value() && a.toWgs84->isNull();
}

CrsPtr withCode(Crs crs) {
    if (crs.code == 0) {
        for (const int code : knownCodes()) {
            const auto known = crsFromCode(code);
            if (known && hasSameDefinition(crs, **known)) return *known;
        }
    }
    return std::make_shared<Crs>(std::move(crs));
}

void putUnit(std::string& out, const Unit& unit) {
    out += ",UNIT[\"" + unit.name + "\"," + exactNumber(unit.size) + "]";
}

void putAuthority(std::string& out, int code) {
    if (code != 0) out += ",AUTHORITY[\"EPSG\",\"" + std::to_string(code) + "\"]";
}

std::string geogcs(const Crs& crs) {
    std::string out = "GEOGCS[\"" + crs.geographicName + "\",DATUM[\"" + crs.datumName +
                      "\",SPHEROID[\"" + crs.ellipsoid.name + "\"," +
                      exactNumber(crs.ellipsoid.semiMajor) + "," +
                      exactNumber(crs.ellipsoid.inverseFlattening) + "]";
    if (crs.toWgs84) {
        const Helmert& h = *crs.toWgs84;
        out += ",TOWGS84[";
        for (const double v : {h.dx, h.dy, h.dz, h.rx, h.ry, h.rz}) out += exactNumber(v) + ",";
        out += exactNumber(h.ppm) + "]";
    }
    out += "],PRIMEM[\"" + std::string(crs.primeMeridian == 0 ? "Greenwich" : "own") + "\"," +
           exactNumber(crs.primeMeridian) + "]";
    putUnit(out, {"degree", kRadiansPerDegree});
    putAuthority(out, crs.geographicCode);
    return out + "]";
}

std::string wktMethod(Method method) {
    switch (method) {
    case Method::TransverseMercator: return "Transverse_Mercator";
    case Method::MercatorA: return "Mercator_1SP";
    case Method::MercatorB: return "Mercator_2SP";
    case Method::WebMercator: return "Popular_Visualisation_Pseudo_Mercator";
    case Method::LambertConformalConic1SP: return "Lambert_Conformal_Conic_1SP";
    case Method::LambertConformalConic2SP: return "Lambert_Conformal_Conic_2SP";
    case Method::None: break;
    }
    return "";
}

}  // namespace

Result<CrsPtr> crsFromWkt(const std::string& text) {
    auto root = Parser(text).parse();
    if (!root) return root.error();
    Crs crs;
    crs.name = root->text(0);
    crs.code = authorityCode(*root);
    if (root->keyword == "GEOGCS") {
        if (const auto done = readDatum(*root, crs); !done) return done.error();
        if (crs.name.starts_with("GCS_")) crs.name.erase(0, 4);
        return withCode(std::move(crs));
    }
    if (root->keyword != "PROJCS")
        return Error{ErrorCode::Unsupported, "CRS definition (WKT)",
                     root->keyword + " is not a geographic or projected CRS in WKT1",
                     "give a GEOGCS or PROJCS text, or EPSG:n"};
    const Node* base = root->child("GEOGCS");
    if (!base) return unusable("PROJCS", "has no GEOGCS");
    if (const auto done = readDatum(*base, crs); !done) return done.error();
    if (const auto done = readProjection(*root, crs); !done) return done.error();
    return withCode(std::move(crs));
}

std::string toWkt(const Crs& crs) {
    if (crs.isGeographic()) return geogcs(crs);
    std::string out = "PROJCS[\"" + crs.name + "\"," + geogcs(crs) + ",PROJECTION[\"" +
                      wktMethod(crs.method) + "\"]";
    const ProjectionParameters& p = crs.parameters;
    const auto put = [&](const char* name, double value) {
        out += ",PARAMETER[\"" + std::string(name) + "\"," + exactNumber(value) + "]";
    };
    const bool isCone2 = crs.method == Method::LambertConformalConic2SP;
    put("latitude_of_origin", p.latitudeOfOrigin);
    put("central_meridian", p.centralMeridian - crs.primeMeridian);
    if (isCone2 || crs.method == Method::MercatorB) put("standard_parallel_1", p.standardParallel1);
    if (isCone2) put("standard_parallel_2", p.standardParallel2);
    if (!isCone2 && crs.method != Method::MercatorB) put("scale_factor", p.scaleFactor);
    put("false_easting", p.falseEasting / crs.unit.size);
    put("false_northing", p.falseNorthing / crs.unit.size);
    putUnit(out, crs.unit);
    out += ",AXIS[\"Easting\",EAST],AXIS[\"Northing\",NORTH]";
    putAuthority(out, crs.code);
    return out + "]";
}

}  // namespace ledge::crs
