#include "io/gml/gml.h"

#include <algorithm>
#include <map>

#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "io/files/atomic_file.h"
#include "io/gml/gml_shape.h"
#include "io/memory_features.h"
#include "io/xml/xml.h"
#include "io/xml/xml_layers.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr int kDeepest = 60;

// Names that say "by the authority's axes".
bool isLongForm(const std::string& name) {
    const std::string word = lowered(name);
    return word.starts_with("urn:") || word.find("/def/crs/") != std::string::npos;
}

class GmlReader {
public:
    GmlReader(const fs::path& path, const Progress& progress)
        : m_path(path), m_progress(progress) {}

    void walk(const pugi::xml_node& node, int depth) {
        if (depth > kDeepest || m_progress.stopped()) return;
        const std::string_view name = nameOfNode(node);
        if (name == "boundedBy") {
            const pugi::xml_node envelope = child(node, "Envelope");
            if (m_usualCrs.empty()) m_usualCrs = attributeOf(envelope, "srsName");
            if (attributeOf(envelope, "srsDimension") == "3") m_dimension = 3;
            return;
        }
        const bool areMembers = name == "featureMember" || name == "featureMembers" ||
                                name == "member" || name.ends_with("Member");
        for (const pugi::xml_node& one : node.children()) {
            if (one.type() != pugi::node_element) continue;
            if (areMembers && !isCollection(one))
                feature(one);
            else
                walk(one, depth + 1);
        }
    }

    Result<FeatureSourcePtr> finish() {
        if (m_progress.stopped()) return cancelled(nameOf(m_path));
        if (m_layers.isEmpty())
            return badFormat(m_path, "holds no features of GML", "choose another file");
        std::vector<std::string> notes;
        const crs::CrsPtr crs = crsOf(notes);
        auto tables = m_layers.finish();
        const bool isExchanged = needsExchange(tables, crs, notes);
        for (FeatureTable& table : tables) {
            table.info.crs = crs;
            if (!isExchanged) continue;
            std::optional<std::size_t> lost;
            auto moved = table.moved(
                [](std::span<Point> points) {
                    for (Point& p : points) std::swap(p.x, p.y);
                },
                lost, m_progress);
            if (!moved) return moved.error();
            table = *std::move(moved);
            table.refreshInfo();
        }
        if (m_curved > 0)
            notes.push_back(formatNumber(static_cast<double>(m_curved)) +
                            " shapes with arcs are drawn by chords that stray by a thousandth of "
                            "the radius");
        if (m_without > 0)
            notes.push_back(formatNumber(static_cast<double>(m_without)) +
                            " features have no shape that can be used");
        auto& all = tables.front().info.notes;
        all.insert(all.end(), notes.begin(), notes.end());
        return FeatureSourcePtr(std::make_shared<MemoryFeatures>("GML", std::move(tables)));
    }

private:
    static bool isCollection(const pugi::xml_node& node) {
        return nameOfNode(node).ends_with("FeatureCollection") || child(node, "featureMember") ||
               child(node, "member");
    }

    // Members with text are fields, by their names; those of members in members behind a dot.
    void gather(const pugi::xml_node& node, const std::string& before, int depth,
                std::vector<std::pair<std::string, std::string>>& values, GmlShape& shape) {
        if (depth > kDeepest) return;
        for (const pugi::xml_node& one : node.children()) {
            if (one.type() != pugi::node_element) continue;
            if (isGmlShape(one)) {
                if (shape.geometry.isEmpty()) shape = gmlShape(one, m_dimension);
                continue;
            }
            const std::string_view name = nameOfNode(one);
            if (name == "boundedBy") continue;
            const std::string field = before + std::string(name);
            if (std::string text = textOf(one); !text.empty())
                values.emplace_back(field, std::move(text));
            const bool holdsShape =
                std::any_of(one.begin(), one.end(),
                            [](const pugi::xml_node& inner) { return isGmlShape(inner); });
            gather(one, holdsShape ? before : field + ".", depth + 1, values, shape);
        }
    }
    void feature(const pugi::xml_node& node) {
        std::vector<std::pair<std::string, std::string>> values;
        if (const std::string id = attributeOf(node, "id"); !id.empty())
            values.emplace_back("gml_id", id);
        GmlShape shape;
        gather(node, "", 0, values, shape);
        m_curved += shape.isCurved ? 1U : 0U;
        m_without += shape.geometry.isEmpty() ? 1U : 0U;
        if (!shape.crsName.empty()) ++m_crsNames[shape.crsName];
        m_layers.add(std::string(nameOfNode(node)), std::move(shape.geometry), values);
    }

    crs::CrsPtr crsOf(std::vector<std::string>& notes) {
        if (!m_crsNames.empty()) {
            const auto most =
                std::max_element(m_crsNames.begin(), m_crsNames.end(),
                                 [](const auto& a, const auto& b) { return a.second < b.second; });
            m_usualCrs = most->first;
            if (m_crsNames.size() > 1)
                notes.push_back("shapes name several CRSs; all are taken as " + m_usualCrs);
        }
        if (m_usualCrs.empty()) {
            notes.push_back("it names no CRS: its CRS is undeclared");
            return {};
        }
        const auto found = crs::parseCrs(m_usualCrs);
        if (found) return *found;
        notes.push_back("its CRS \"" + m_usualCrs + "\" is not built in; declare it");
        return {};
    }

    // Whether the second coordinate is the easting or longitude.
    bool needsExchange(const std::vector<FeatureTable>& tables, const crs::CrsPtr& crs,
                       std::vector<std::string>& notes) const {
        if (!crs) return false;
        const bool isCrs84 = m_usualCrs.find("CRS84") != std::string::npos;
        if (crs->isGeographic()) return isLongForm(m_usualCrs) && !isCrs84;
        if (!crs->area || tables.empty()) return false;
        Box all;
        for (const FeatureTable& table : tables) all.add(table.info.extent);
        if (all.isEmpty()) return false;
        const auto toDegrees = crs::Transformation::between(
            crs, std::make_shared<const crs::Crs>(crs::geographicBase(*crs)));
        if (!toDegrees) return false;
        const Point at = all.centre();
        const auto fits = [&](Point p) {
            const Point degrees = toDegrees->forward(p);
            return degrees.isFinite() && crs->area->contains(degrees);
        };
        if (fits(at) || !fits({at.y, at.x})) return false;
        notes.push_back("northing stands before easting; both are exchanged");
        return true;
    }

    const fs::path& m_path;
    const Progress& m_progress;
    XmlLayers m_layers;
    std::string m_usualCrs;
    int m_dimension = 2;
    std::map<std::string, std::size_t> m_crsNames;
    std::size_t m_curved = 0, m_without = 0;
};
}  // namespace

Result<FeatureSourcePtr> openGml(const fs::path& path, const Progress& progress) {
    const auto document = xmlOf(path);
    if (!document) return document.error();
    GmlReader reader(path, progress);
    for (const pugi::xml_node& one : (*document)->children())
        if (one.type() == pugi::node_element) reader.walk(one, 0);
    return reader.finish();
}

}  // namespace ledge::io
