#include "document/look_finder.h"

#include <cmath>

namespace ledge::doc {
namespace {
constexpr std::size_t kOfAll = 0, kOfMissing = 1, kOfOthers = 2;
}

LookFinder::LookFinder(const VectorStyle& style, const FeatureTable& table)
    : m_style(style), m_table(table),
      m_field(style.classing == Classing::Single ? -1 : table.fieldIndex(style.field)),
      m_looks{style.look, style.missing, style.others} {
    for (const Category& category : style.categories) {
        m_byValue[category.value] = m_looks.size();
        m_looks.push_back(category.look);
    }
}

std::size_t LookFinder::indexOf(std::size_t row) {
    if (m_field < 0) return kOfAll;
    const auto field = static_cast<std::size_t>(m_field);
    if (m_style.classing == Classing::Categories) return ofValue(m_table.value(row, field));
    return ofNumber(m_table.number(row, field), m_table.geometry(row).type);
}

std::size_t LookFinder::ofValue(const Value& value) const {
    if (ledge::isMissing(value)) return kOfOthers;
    const auto it = m_byValue.find(exactText(value));
    return it == m_byValue.end() ? kOfOthers : it->second;
}

// The ramp colours the main part: of lines the line, of all else the fill.
std::size_t LookFinder::ofNumber(double number, GeometryType type) {
    if (!std::isfinite(number)) return kOfMissing;
    if (!m_ramp) m_ramp.emplace(m_style.ramp);
    const Colour c = m_ramp->at(static_cast<float>(number));
    const bool isLine = type == GeometryType::Line;
    const std::uint64_t key = std::uint64_t{isLine} << 32 | std::uint64_t{c.r} << 24 |
                              std::uint64_t{c.g} << 16 | std::uint64_t{c.b} << 8 | c.a;
    const auto [it, isNew] = m_byColour.try_emplace(key, m_looks.size());
    if (isNew) {
        m_looks.push_back(m_style.look);
        (isLine ? m_looks.back().stroke : m_looks.back().fill) = c;
    }
    return it->second;
}

}  // namespace ledge::doc
