#include "core/symbol/ramp.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/numbers.h"

namespace ledge {
namespace {
constexpr std::size_t kSteps = 1024;

Colour hex(const char* text) { return parseColour(text).value_or(Colour{}); }

// Round height nearest to `value`, in steps that suit `span`.
double roundHeight(double value, double span) {
    const double step = roundDownTo125(std::max(1e-9, span / 16));
    return std::round(value / step) * step;
}
}  // namespace

Colour Ramp::at(double value) const {
    if (stops.empty() || std::isnan(value)) return {0, 0, 0, 0};
    const auto after = std::upper_bound(stops.begin(), stops.end(), value,
                                        [](double v, const RampStop& s) { return v < s.value; });
    if (after == stops.begin()) return stops.front().colour;
    if (after == stops.end()) return stops.back().colour;
    const RampStop& before = *(after - 1);
    return mixed(before.colour, after->colour,
                 (value - before.value) / (after->value - before.value));
}

Ramp Ramp::flipped() const {
    Ramp out;
    for (auto it = stops.rbegin(); it != stops.rend(); ++it)
        out.stops.push_back({low() + high() - it->value, it->colour});
    return out;
}

Ramp Ramp::stretched(double newLow, double newHigh) const {
    Ramp out = *this;
    const double span = high() - low();
    for (RampStop& stop : out.stops)
        stop.value = span > 0 ? newLow + (stop.value - low()) / span * (newHigh - newLow) : newLow;
    return out;
}

RampTable::RampTable(const Ramp& ramp) : m_ramp(ramp), m_low(ramp.low()), m_factor(0) {
    const double span = ramp.high() - ramp.low();
    m_factor = span > 0 ? (kSteps - 1) / span : 0;
    m_isBroken.assign(kSteps + 1, false);
    for (std::size_t i = 0; i < kSteps; ++i)
        m_steps.push_back(ramp.at(m_low + static_cast<double>(i) / (kSteps - 1) * span));
    for (std::size_t i = 1; i < ramp.stops.size(); ++i) {
        if (ramp.stops[i].value != ramp.stops[i - 1].value) continue;
        const double at = (ramp.stops[i].value - m_low) * m_factor;
        for (const double near : {std::floor(at), std::ceil(at)})
            m_isBroken[static_cast<std::size_t>(std::clamp(near, 0.0, double{kSteps}))] = true;
    }
}

Colour RampTable::at(float value) const {
    if (std::isnan(value)) return {0, 0, 0, 0};
    const double position =
        std::clamp((static_cast<double>(value) - m_low) * m_factor, 0.0, double{kSteps - 1});
    const auto index = static_cast<std::size_t>(position + 0.5);
    return m_isBroken[index] ? m_ramp.at(static_cast<double>(value)) : m_steps[index];
}

const std::vector<RampFamily>& rampFamilies() {
    static const std::vector<RampFamily> families{
        {"slate",
         "Slate",
         {hex("#F1F2F7"), hex("#B9BDD6"), hex("#7A80AE"), hex("#3D4296"), hex("#20224F")}},
        {"moss",
         "Moss",
         {hex("#F3F4E4"), hex("#CBD6A6"), hex("#93B077"), hex("#567F4F"), hex("#254B33")}},
        {"peat",
         "Peat",
         {hex("#F8F1E4"), hex("#E3C99B"), hex("#C0935A"), hex("#8B5A33"), hex("#4B2D1E")}},
        {"tide",
         "Tide",
         {hex("#EEF5F6"), hex("#B5D5DD"), hex("#71A9BD"), hex("#337694"), hex("#123F5C")}},
        {"heather",
         "Heather",
         {hex("#F7F0F5"), hex("#DDBFD6"), hex("#B685AF"), hex("#845085"), hex("#482552")}},
        {"ember",
         "Ember",
         {hex("#FBF3DD"), hex("#F0C987"), hex("#DE8E4E"), hex("#B4532A"), hex("#6A2418")}},
        {"thaw",
         "Thaw (two-sided)",
         {hex("#2B5C86"), hex("#8CB4CB"), hex("#F3F1EA"), hex("#DDA981"), hex("#94452B")}},
        {"skerry",
         "Skerry (two-sided)",
         {hex("#6B4A23"), hex("#C9A873"), hex("#F4F2EA"), hex("#84B5AB"), hex("#1F5C58")}},
        {"gorse",
         "Gorse (two-sided)",
         {hex("#4B3E86"), hex("#A9A2CE"), hex("#F4F2EC"), hex("#DCC07A"), hex("#8A6312")}},
        {"lichen",
         "Lichen",
         {hex("#F6F3DF"), hex("#DCCB80"), hex("#B9AC4E"), hex("#84843A"), hex("#454A26")}},
        {"rose",
         "Rose of winds (round)",
         {hex("#4F5B93"), hex("#7FA58C"), hex("#F3EBC9"), hex("#C08A5A"), hex("#4F5B93")}},
        // Published families, free to use, at ten even places (van der Walt and Smith 2015, CC0;
        // Nunez, Anderton and Renslow 2018, CC BY).
        {"viridis",
         "Viridis",
         {hex("#FDE725"), hex("#B4DE2C"), hex("#6DCD59"), hex("#35B779"), hex("#1F9E89"),
          hex("#26828E"), hex("#31688E"), hex("#3E4A89"), hex("#482878"), hex("#440154")}},
        {"magma",
         "Magma",
         {hex("#FCFDBF"), hex("#FEC98D"), hex("#FD9567"), hex("#F1605D"), hex("#CD4071"),
          hex("#9F2F7F"), hex("#721F81"), hex("#451077"), hex("#180F3E"), hex("#000004")}},
        {"cividis",
         "Cividis",
         {hex("#FEE838"), hex("#E1CC55"), hex("#C3B369"), hex("#A59C74"), hex("#8A8678"),
          hex("#707173"), hex("#575D6D"), hex("#3B496C"), hex("#123570"), hex("#00224E")}},
        {"stone",
         "Stone grey",
         {hex("#F4F4F2"), hex("#C6C6C8"), hex("#929398"), hex("#5D5F69"), hex("#2B2D3A")}},
        {kGreyRamp, "Plain grey (dark to light)", {hex("#2E2E2E"), hex("#F4F4F4")}}};
    return families;
}

Ramp rampOf(const std::string& id, double low, double high) {
    const auto& families = rampFamilies();
    auto it = std::find_if(families.begin(), families.end(),
                           [&](const RampFamily& f) { return f.id == id; });
    if (it == families.end()) it = families.begin();
    Ramp ramp;
    const std::size_t last = it->colours.size() - 1;
    for (std::size_t i = 0; i <= last; ++i)
        ramp.stops.push_back(
            {low + (high - low) * static_cast<double>(i) / static_cast<double>(last),
             it->colours[i]});
    return ramp;
}

Ramp logarithmicRamp(const std::string& family, double low, double high) {
    if (!(low > 0) || !(high > low)) return rampOf(family, low, high);
    // Between stops colours mix evenly, so there are enough of them to follow the ratios.
    constexpr int kStops = 24;
    const Ramp even = rampOf(family, 0, 1);
    Ramp ramp;
    for (int i = 0; i <= kStops; ++i) {
        const double share = static_cast<double>(i) / kStops;
        ramp.stops.push_back(
            {i == kStops ? high : low * std::pow(high / low, share), even.at(share)});
    }
    return ramp;
}

Ramp steppedRamp(const std::string& family, double low, double high,
                 const std::vector<double>& breaks) {
    std::vector<double> inner;
    for (const double value : breaks)
        if (value > low && value < high && (inner.empty() || value > inner.back()))
            inner.push_back(value);
    const Ramp even = rampOf(family, 0, 1);
    Ramp ramp;
    for (std::size_t i = 0; i <= inner.size(); ++i) {
        const double share =
            inner.empty() ? 0.5 : static_cast<double>(i) / static_cast<double>(inner.size());
        const Colour colour = even.at(share);
        ramp.stops.push_back({i == 0 ? low : inner[i - 1], colour});
        ramp.stops.push_back({i == inner.size() ? high : inner[i], colour});
    }
    return ramp;
}

std::vector<double> stepsOf(const Ramp& ramp) {
    std::vector<double> out;
    const auto& stops = ramp.stops;
    if (stops.size() < 4 || stops.size() % 2 != 0) return {};
    for (std::size_t i = 0; i < stops.size(); i += 2) {
        if (!(stops[i].colour == stops[i + 1].colour)) return {};
        if (i + 2 == stops.size()) break;
        if (stops[i + 1].value != stops[i + 2].value) return {};
        out.push_back(stops[i + 1].value);
    }
    return out;
}

const std::vector<TintFamily>& tintFamilies() {
    static const std::vector<TintFamily> families{{"humid",
                                                   "Humid",
                                                   "green, ochre, brown",
                                                   // Green for the lowest quarter.
                                                   {{0.00, hex("#C9DBB8")},
                                                    {0.10, hex("#D4E1BC")},
                                                    {0.25, hex("#E4E7C1")},
                                                    {0.38, hex("#F0E3B6")},
                                                    {0.55, hex("#E9CF9F")},
                                                    {0.75, hex("#D9B696")},
                                                    {1.00, hex("#CFAE97")}}},
                                                  {"arid",
                                                   "Arid",
                                                   "sand, ochre, rust",
                                                   {{0.00, hex("#E6DFC4")},
                                                    {0.12, hex("#EDDDB8")},
                                                    {0.30, hex("#EBCFA2")},
                                                    {0.52, hex("#DFB48C")},
                                                    {0.75, hex("#D0A48C")},
                                                    {1.00, hex("#E6D6CC")}}},
                                                  {"alpine",
                                                   "Alpine",
                                                   "green, stone, snow",
                                                   {{0.00, hex("#C5D8BE")},
                                                    {0.18, hex("#D6E2C4")},
                                                    {0.40, hex("#E9E9D2")},
                                                    {0.60, hex("#E6E0D2")},
                                                    {0.78, hex("#DEDDE0")},
                                                    {1.00, hex("#F4F6FA")}}},
                                                  {kGreyRamp,
                                                   "Plain grey",
                                                   "dark to light",
                                                   {{0.00, hex("#2E2E2E")}, {1.00, hex("#F4F4F4")}},
                                                   false}};
    return families;
}

Ramp heightTint(const std::string& id, double low, double high) {
    const auto& families = tintFamilies();
    auto it = std::find_if(families.begin(), families.end(),
                           [&](const TintFamily& f) { return f.id == id; });
    if (it == families.end()) it = families.begin();
    Ramp ramp;
    const auto add = [&ramp](double value, Colour colour) {
        if (ramp.stops.empty() || value > ramp.stops.back().value ||
            (value == 0 && ramp.stops.back().value == 0))
            ramp.stops.push_back({value, colour});
    };
    if (!it->hasSea) {
        for (const RampStop& stop : it->land) add(low + (high - low) * stop.value, stop.colour);
        return ramp;
    }
    if (low < 0) {
        const RampStop sea[] = {{1.0, hex("#9FBCD3")},
                                {0.55, hex("#AFCADD")},
                                {0.25, hex("#C0D8E6")},
                                {0.08, hex("#D2E5EE")},
                                {0.0, hex("#DFEEF4")}};
        for (const RampStop& stop : sea)
            add(stop.value == 0 ? 0 : roundHeight(low * stop.value, -low), stop.colour);
    }
    const double base = low < 0 ? 0 : low, span = std::max(1e-6, high - base);
    for (const RampStop& stop : it->land)
        add(stop.value == 0 ? base : roundHeight(base + span * stop.value, span), stop.colour);
    return ramp;
}

Ramp aspectRamp() {
    const Colour north{0x4F, 0x5B, 0x93};
    return {{{0, north},
             {90, {0xC0, 0x8A, 0x5A}},
             {180, {0xF3, 0xEB, 0xC9}},
             {270, {0x7F, 0xA5, 0x8C}},
             {360, north}}};
}

Ramp steepnessTint() {
    const Colour dark = hex("#2E2A4A");
    return {{{0, {dark.r, dark.g, dark.b, 0}},
             {5, {dark.r, dark.g, dark.b, 0}},
             {20, {dark.r, dark.g, dark.b, 30}},
             {50, {dark.r, dark.g, dark.b, 89}}}};
}

Colour categoryColour(std::size_t index) {
    // Steps of three eighths of a turn keep neighbours far apart in hue.
    const double turn = static_cast<double>(index * 3 % 8) / 8 + 0.07;
    const std::size_t round = index / 8 % 3;
    const double lightness = round == 0 ? 0.70 : (round == 1 ? 0.55 : 0.83);
    constexpr double kChroma = 0.085;
    const double angle = 2 * std::numbers::pi * turn;
    return fromOkLab({lightness, kChroma * std::cos(angle), kChroma * std::sin(angle)});
}

}  // namespace ledge
