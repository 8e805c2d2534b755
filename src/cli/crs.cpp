#include <iomanip>
#include <iostream>
#include <nlohmann/json.hpp>

#include "cli/arguments.h"
#include "core/base/number_list.h"
#include "core/base/numbers.h"
#include "core/crs/catalogue.h"
#include "core/crs/datum_choices.h"
#include "core/crs/method_table.h"
#include "core/crs/transformation.h"
#include "core/crs/wkt.h"
#include "session/crs_checks.h"

namespace ledge::cli {
namespace {
using nlohmann::json;

// "EPSG:n"; empty when there is none.
std::string codeText(int code) { return code == 0 ? "" : "EPSG:" + std::to_string(code); }

json areaJson(const std::string& name, const Box& box) {
    const double east = box.xMax > 180 ? box.xMax - 360 : box.xMax;
    return {{"name", name}, {"box", {box.xMin, box.yMin, east, box.yMax}}};
}

Result<std::optional<Point>> placeOf(const std::string& text) {
    if (text.empty()) return std::optional<Point>{};
    const auto numbers = parseNumbers(text, ',');
    if (!numbers) return numbers.error();
    if (numbers->size() != 2 || !(std::abs((*numbers)[1]) <= 90))
        return Error{ErrorCode::InvalidArgument, "--at", "\"" + text + "\" is no position",
                     "give LON,LAT in degrees"};
    return std::optional<Point>(Point{(*numbers)[0], (*numbers)[1]});
}

Result<void> find(const std::string& text, const std::string& at, int limit,
                  const Context& context) {
    const auto place = placeOf(at);
    if (!place) return place.error();
    const auto& catalogue = crs::Catalogue::shipped();
    const auto most = static_cast<std::size_t>(std::max(1, limit));
    std::vector<const crs::Catalogue::Entry*> found;
    if (text.empty() && *place) {
        found = catalogue.suitable(**place, most);
    } else {
        for (const auto* entry : catalogue.find(text, 10000)) {
            if (*place && !crs::AreaOfUse{{}, entry->area}.contains(**place)) continue;
            if (found.size() < most) found.push_back(entry);
        }
    }
    if (found.empty())
        return Error{ErrorCode::NotFound, "\"" + text + "\"", "no CRS of this code, name or place",
                     "try fewer or other words"};
    if (context.asJson) {
        json out = json::array();
        for (const auto* entry : found)
            out.push_back({{"code", entry->text},
                           {"name", entry->name},
                           {"kind", entry->isGeographic ? "geographic" : "projected"},
                           {"area", areaJson(std::string(entry->areaName), entry->area)}});
        std::cout << out.dump(1) << '\n';
        return {};
    }
    for (const auto* entry : found)
        std::cout << std::left << std::setw(11) << entry->text << ' ' << std::setw(44)
                  << entry->name << ' ' << session::areaInShort(entry->areaName) << '\n';
    return {};
}

json parametersJson(const crs::Crs& crs) {
    json out = json::object();
    if (const auto* info = crs::methodInfo(crs.method))
        for (const auto& parameter : info->parameters) {
            double value = crs.parameters.*parameter.field;
            if (parameter.kind == crs::ParameterKind::Longitude) value -= crs.primeMeridian;
            if (parameter.kind == crs::ParameterKind::Length) value /= crs.unit.size;
            out[parameter.name] = value;
        }
    return out;
}

// How the projection draws the ground at a place.
Result<void> showAt(const crs::Crs& c, Point at, const Context& context) {
    const crs::Distortion d = crs::distortionAt(c, at);
    if (!std::isfinite(d.areal))
        return Error{ErrorCode::InvalidArgument, c.name,
                     "the place lies outside the domain of its projection", "give another place"};
    const std::pair<const char*, double> values[] = {{"scale_parallel", d.alongParallel},
                                                     {"scale_meridian", d.alongMeridian},
                                                     {"scale_largest", d.largest},
                                                     {"scale_smallest", d.smallest},
                                                     {"scale_area", d.areal},
                                                     {"convergence_deg", d.convergence}};
    json out = json::object();
    for (const auto& [name, value] : values) out[name] = value;
    if (context.asJson) {
        std::cout << out.dump(1) << '\n';
        return {};
    }
    for (const auto& [name, value] : values)
        std::cout << std::left << std::setw(16) << name << ' ' << roundedNumber(value, 10) << '\n';
    return {};
}

Result<void> show(const std::string& text, bool asWkt, bool asWkt2, const std::string& at,
                  const Context& context) {
    const auto parsed = crsArgument(text, context);
    if (!parsed) return parsed.error();
    if (!*parsed)
        return Error{ErrorCode::InvalidArgument, "local",
                     "plain local coordinates have no definition", "give EPSG:n or a WKT text"};
    const crs::Crs& c = **parsed;
    if (asWkt2) {
        std::cout << crs::toWkt2(c) << '\n';
        return {};
    }
    if (asWkt) {
        std::cout << crs::toWkt(c) << '\n';
        return {};
    }
    const auto place = placeOf(at);
    if (!place) return place.error();
    if (*place) return showAt(c, **place, context);
    const std::string unit = c.isGeographic() ? "degree" : c.unit.name;
    if (context.asJson) {
        json out{{"code", codeText(c.code)},
                 {"name", c.name},
                 {"kind", c.isGeographic() ? "geographic" : "projected"},
                 {"unit", unit},
                 {"unit_m", c.isGeographic() ? 0.0 : c.unit.size},
                 {"datum", c.datumName},
                 {"ellipsoid",
                  {{"name", c.ellipsoid.name},
                   {"semi_major_m", c.ellipsoid.semiMajor},
                   {"inverse_flattening", c.ellipsoid.inverseFlattening}}},
                 {"prime_meridian_deg", c.primeMeridian},
                 {"geographic", {{"code", codeText(c.geographicCode)}, {"name", c.geographicName}}},
                 {"method", c.isGeographic() ? "" : crs::methodName(c.method)},
                 {"parameters", parametersJson(c)},
                 {"wkt", crs::toWkt(c)},
                 {"wkt2", crs::toWkt2(c)}};
        if (c.area) out["area"] = areaJson(c.area->name, c.area->box);
        std::cout << out.dump(1) << '\n';
        return {};
    }
    const auto line = [](const std::string& name, const std::string& value) {
        std::cout << std::left << std::setw(16) << name << ' ' << value << '\n';
    };
    line("name", c.name);
    if (c.code != 0) line("code", codeText(c.code));
    line("kind", c.kindAndUnit());
    line("datum", c.datumName);
    line("ellipsoid", c.ellipsoid.name + ", a " + exactNumber(c.ellipsoid.semiMajor) + " m, 1/f " +
                          exactNumber(c.ellipsoid.inverseFlattening));
    if (c.primeMeridian != 0)
        line("prime meridian", exactNumber(c.primeMeridian) + " degrees east");
    if (!c.isGeographic()) {
        line("geographic CRS",
             c.geographicName + (c.geographicCode != 0 ? ", " + codeText(c.geographicCode) : ""));
        line("method", crs::methodName(c.method));
        const json parameters = parametersJson(c);
        for (const auto& [name, value] : parameters.items())
            line("", name + ": " + exactNumber(value.get<double>()));
        if (c.isWestward || c.isSouthward)
            line("axes", std::string(c.isWestward ? "west" : "east") + ", " +
                             (c.isSouthward ? "south" : "north"));
    }
    if (c.area) {
        const Box& b = c.area->box;
        line("area of use", c.area->name);
        line("", formatDegrees(b.yMin, true) + " to " + formatDegrees(b.yMax, true) + ", " +
                     formatDegrees(b.xMin, false) + " to " +
                     formatDegrees(b.xMax > 180 ? b.xMax - 360 : b.xMax, false));
    }
    return {};
}

Result<void> operations(const std::string& fromText, const std::string& toText,
                        const std::string& at, const Context& context) {
    const auto from = crsArgument(fromText, context), to = crsArgument(toText, context);
    if (!from) return from.error();
    if (!to) return to.error();
    const auto place = placeOf(at);
    if (!place) return place.error();
    if (!*from || !*to)
        return Error{ErrorCode::InvalidArgument, "local", "local coordinates have no datum",
                     "give two CRSs"};
    Box box;
    if (*place) box.add(**place);
    const auto paths = crs::datumPaths(**from, **to, box);
    if (context.asJson) {
        json out = json::array();
        for (const auto& path : paths) {
            json steps = json::array();
            for (const auto& step : path.steps)
                steps.push_back({{"code", codeText(step.operation.code)},
                                 {"name", step.operation.name},
                                 {"method", step.operation.methodText()},
                                 {"reversed", step.isInverse}});
            json one{{"text", path.text()},
                     {"steps", steps},
                     {"operation", crs::choiceText(path)},
                     {"chosen", path.isChosen},
                     {"unknown", path.isUnknown},
                     {"outside_area", path.isOutsideArea},
                     {"reviewed", !path.isFromDefinition && !path.isUnknown}};
            if (std::isfinite(path.accuracyMetres)) one["accuracy_m"] = path.accuracyMetres;
            out.push_back(one);
        }
        std::cout << out.dump(1) << '\n';
        return {};
    }
    for (const auto& path : paths) std::cout << path.text() << '\n';
    return {};
}
}  // namespace

void addCrs(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("crs", "Coordinate reference systems and what leads between them");
    c->require_subcommand(1);
    struct Options {
        std::string text, from, to, at;
        int limit = 25;
        bool asWkt = false, asWkt2 = false;
    };
    auto o = std::make_shared<Options>();
    auto* f = c->add_subcommand("find", "Search by name, code, country or place");
    f->add_option("TEXT", o->text, "Words that must all occur");
    f->add_option("--at", o->at, "LON,LAT: what is meant for this place");
    f->add_option("--limit", o->limit, "At most so many")->check(CLI::PositiveNumber);
    add(f, [o](const Context& context) { return find(o->text, o->at, o->limit, context); });
    auto* s = c->add_subcommand("show", "Definition, area of use, unit and method");
    s->add_option("CRS", o->text, "EPSG:n, WKT or @file")->required();
    s->add_flag("--wkt", o->asWkt, "Its text in WKT1");
    s->add_flag("--wkt2", o->asWkt2, "Its text in WKT2:2019");
    s->add_option("--at", o->at, "LON,LAT: scale factors and grid convergence there instead");
    add(s,
        [o](const Context& context) { return show(o->text, o->asWkt, o->asWkt2, o->at, context); });
    auto* p = c->add_subcommand("operations", "What can be done between two datums, best first");
    p->add_option("--from", o->from)->required();
    p->add_option("--to", o->to)->required();
    p->add_option("--at", o->at, "LON,LAT of the place of interest");
    add(p, [o](const Context& context) { return operations(o->from, o->to, o->at, context); });
}

}  // namespace ledge::cli
