#include "document/look_finder.h"

#include <cmath>

namespace ledge::doc {
namespace {
constexpr std::size_t kOfAll = 0, kOfMissing = 1, kOfOthers = 2, kOfNone = 3;

Look nothing() {
    Look out;
    out.hasFill = out.hasStroke = false;
    return out;
}

bool readsNumbers(Classing classing) {
    return classing == Classing::Ramp || classing == Classing::Classes ||
           classing == Classing::Sized;
}
bool isInScale(const StyleRule& rule, double scale) {
    return scale <= 0 || ((rule.widestScale <= 0 || scale <= rule.widestScale) &&
                          (rule.closestScale <= 0 || scale >= rule.closestScale));
}
}  // namespace

LookFinder::LookFinder(const VectorStyle& style, const FeatureTable& table, double scale)
    : m_style(style), m_table(table), m_mm(style.isOnGround ? mmPerGroundMetre(scale) : 1) {
    for (const Look& look : {style.look, style.missing, style.others}) added(look);
    m_looks.push_back(nothing());
    m_first = m_looks.size();
    if (style.classing == Classing::Categories || readsNumbers(style.classing))
        m_value = valuesOf(style.field);
    if (readsNumbers(style.classing) && !style.per.empty()) m_per = valuesOf(style.per);
    if (!style.turnBy.empty()) m_turn = valuesOf(style.turnBy);
    if (style.classing == Classing::Categories)
        for (std::size_t i = 0; i < style.categories.size(); ++i) {
            const Category& category = style.categories[i];
            const std::size_t at = addedFor(i, category.look, category.isShown);
            m_byValue[category.value] = at;
            for (const std::string& value : category.more) m_byValue[value] = at;
        }
    if (style.classing == Classing::Classes)
        for (std::size_t i = 0; i < style.classes.classes.size(); ++i) {
            const NumberClass& one = style.classes.classes[i];
            addedFor(i, one.isShown ? one.look : nothing(), true);
        }
    if (style.classing == Classing::Rules)
        for (std::size_t i = 0; i < style.rules.size(); ++i) {
            const StyleRule& rule = style.rules[i];
            if (!isInScale(rule, scale)) continue;
            std::optional<query::RowValues> condition;
            if (!rule.keep.empty()) {
                condition = valuesOf(rule.keep);
                if (!condition) continue;
            }
            m_rules.emplace_back(std::move(condition), addedFor(i, rule.look, rule.isShown));
        }
}

std::optional<query::RowValues> LookFinder::valuesOf(const std::string& said) {
    auto values = query::RowValues::of(said, m_table);
    if (values) return *std::move(values);
    if (m_trouble.empty()) m_trouble = values.error().why;
    return {};
}

std::size_t LookFinder::added(Look look) {
    if (!m_style.hasOutlines && m_table.info.geometry == GeometryType::Polygon &&
        m_style.classing != Classing::Single)
        look.hasStroke = false;
    m_looks.push_back(m_mm == 1 ? std::move(look) : enlarged(std::move(look), m_mm));
    return m_looks.size() - 1;
}

std::size_t LookFinder::addedFor(std::size_t entry, const Look& look, bool isShown) {
    if (!isShown) return kOfNone;
    const std::size_t at = added(look);
    m_entries.resize(at + 1, kAll);
    m_entries[at] = static_cast<int>(entry);
    return at;
}

int LookFinder::entryOf(std::size_t row) {
    const std::size_t look = ofRow(row);
    return look < m_entries.size() ? m_entries[look] : kAll;
}

// Turns a degree apart are told apart.
std::size_t LookFinder::turned(std::size_t look, double degrees) {
    if (!std::isfinite(degrees) || look == kOfNone) return look;
    const auto whole =
        static_cast<std::uint64_t>(std::fmod(std::fmod(std::round(degrees), 360.0) + 360, 360.0));
    if (whole == 0) return look;
    const auto [it, isNew] = m_byTurn.try_emplace(look * 360 + whole, m_looks.size());
    if (isNew) {
        Look one = m_looks[look];
        one.markTurn += static_cast<double>(whole);
        m_looks.push_back(std::move(one));
    }
    return it->second;
}

double LookFinder::number(std::size_t row) {
    if (!m_value) return kNaN;
    const double number = m_value->number(row);
    if (m_style.per.empty()) return number;
    const double per = m_per ? m_per->number(row) : kNaN;
    return per != 0 ? number / per : kNaN;
}

std::size_t LookFinder::indexOf(std::size_t row) {
    const std::size_t look = ofRow(row);
    return m_turn ? turned(look, m_turn->number(row)) : look;
}

std::size_t LookFinder::ofRow(std::size_t row) {
    switch (m_style.classing) {
    case Classing::Single:
    case Classing::Dots: return kOfAll;
    case Classing::Categories: return ofValue(m_value ? m_value->value(row) : Value());
    case Classing::Ramp: return ofRamp(number(row), m_table.geometry(row).type);
    case Classing::Classes: return ofClass(number(row));
    case Classing::Sized: return ofSize(number(row), m_table.geometry(row).type);
    case Classing::Rules: return ofRule(row);
    }
    return kOfAll;
}

std::size_t LookFinder::ofValue(const Value& value) const {
    const std::size_t others = m_style.showsOthers ? kOfOthers : kOfNone;
    if (ledge::isMissing(value)) return others;
    const auto it = m_byValue.find(exactText(value));
    return it == m_byValue.end() ? others : it->second;
}

// The ramp colours the main part: of lines the line, of all else the fill.
std::size_t LookFinder::ofRamp(double number, GeometryType type) {
    if (!std::isfinite(number)) return kOfMissing;
    if (!m_ramp) m_ramp.emplace(m_style.ramp);
    const Colour c = m_ramp->at(static_cast<float>(number));
    const bool isLine = type == GeometryType::Line;
    const std::uint64_t key = std::uint64_t{isLine} << 32 | std::uint64_t{c.r} << 24 |
                              std::uint64_t{c.g} << 16 | std::uint64_t{c.b} << 8 | c.a;
    const auto [it, isNew] = m_byColour.try_emplace(key, m_looks.size());
    if (isNew) {
        Look look = m_style.look;
        (isLine ? look.stroke : look.fill) = c;
        added(std::move(look));
    }
    return it->second;
}

std::size_t LookFinder::ofClass(double number) const {
    if (!std::isfinite(number)) return kOfMissing;
    const std::size_t at = m_first + classify::classOf(number, m_style.classes.breaks);
    return at < m_looks.size() ? at : kOfMissing;
}

// Sizes a fiftieth of a millimetre apart are told apart.
std::size_t LookFinder::ofSize(double number, GeometryType type) {
    constexpr double kStep = 0.02;
    if (!std::isfinite(number)) return kOfMissing;
    std::optional<std::size_t> of;  // its class
    if (m_style.sizes.isClassed) of = classify::classOf(number, m_style.classes.breaks);
    const auto& classes = m_style.classes.classes;
    if (of && *of < classes.size() && !classes[*of].isShown) return kOfNone;
    const double mm = of ? sizeOfClass(*of, m_style.classes.breaks.size() + 1, m_style.sizes)
                         : sizeFor(number, m_style.sizes);
    if (!(mm > 0)) return kOfNone;
    const auto steps = static_cast<std::uint64_t>(std::round(mm / kStep));
    const bool isLine = type == GeometryType::Line;
    const auto [it, isNew] =
        m_byColour.try_emplace(std::uint64_t{isLine} << 32 | (of ? *of : steps), m_looks.size());
    if (isNew) {
        Look look = m_style.look;
        (isLine ? look.strokeMm : look.markMm) = of ? mm : static_cast<double>(steps) * kStep;
        m_looks.push_back(m_mm == 1 ? std::move(look) : enlarged(std::move(look), m_mm));
        if (of) {
            m_entries.resize(m_looks.size(), kAll);
            m_entries.back() = static_cast<int>(*of);
        }
    }
    return it->second;
}

std::size_t LookFinder::ofRule(std::size_t row) {
    for (auto& [condition, look] : m_rules)
        if (!condition || condition->isTrue(row)) return look;
    return m_style.showsOthers ? kOfOthers : kOfNone;
}

double mmPerGroundMetre(double scale) { return 1000 / (scale > 0 ? scale : 10'000); }

Look enlarged(Look look, double times) {
    for (double* mm : {&look.strokeMm, &look.offsetMm, &look.casingMm, &look.alongMm,
                       &look.patternMm, &look.patternLineMm, &look.markMm})
        *mm *= times;
    for (double& mm : look.dashesMm) mm *= times;
    return look;
}

double sizeOfClass(std::size_t at, std::size_t count, const SizeRule& rule) {
    if (count < 2) return rule.largestMm;
    const double share = static_cast<double>(at) / static_cast<double>(count - 1);
    const double low = std::min(rule.smallestMm, rule.largestMm), high = rule.largestMm;
    if (!rule.isByArea) return low + share * (high - low);
    return std::sqrt(low * low + share * (high * high - low * low));
}

double sizeFor(double number, const SizeRule& rule) {
    if (!std::isfinite(number) || number < 0 || !(rule.high > 0)) return 0;
    if (number == 0) return 0;
    const double share = number / rule.high;
    const double power = !rule.isByArea ? 1 : rule.isPerceptual ? 0.57 : 0.5;
    return std::min(std::max(rule.smallestMm, rule.largestMm * std::pow(share, power)), 500.0);
}

}  // namespace ledge::doc
