#pragma once
#include <string>
#include <vector>

#include "core/base/colour.h"

namespace ledge {

struct RampStop {
    double value = 0;
    Colour colour;
    bool operator==(const RampStop&) const = default;
};

/// Colours over values, mixed in OKLab between stops. Two stops at one value make a hard break:
/// the second holds from that value on.
struct Ramp {
    std::vector<RampStop> stops;  ///< ascending

    bool operator==(const Ramp&) const = default;
    double low() const { return stops.empty() ? 0 : stops.front().value; }
    double high() const { return stops.empty() ? 0 : stops.back().value; }
    /// Beyond the ends the end colours hold; transparent for NaN.
    Colour at(double value) const;
    /// The same colours in the opposite order over the same values.
    Ramp flipped() const;
    /// The same colours stretched over other limits.
    Ramp stretched(double low, double high) const;
};

/// A ramp made fast to evaluate: 1024 even steps plus its hard breaks kept exact.
class RampTable {
public:
    explicit RampTable(const Ramp& ramp);
    Colour at(float value) const;

private:
    Ramp m_ramp;
    double m_low, m_factor;
    std::vector<Colour> m_steps;
    std::vector<bool> m_isBroken;  // steps that hold a hard break
};

/// A named family of colours, light to dark unless it says otherwise.
struct RampFamily {
    std::string id, name;
    std::vector<Colour> colours;
};
const std::vector<RampFamily>& rampFamilies();
/// The family spread evenly over the limits; the first family for an unknown id.
Ramp rampOf(const std::string& family, double low, double high);

/// The family of greys, of ramps and of tints alike.
inline constexpr const char* kGreyRamp = "grey";

/// The family spread by ratios: each part spans the same factor. Needs limits above zero; of
/// others the even spread.
Ramp logarithmicRamp(const std::string& family, double low, double high);
/// One colour of the family from each break to the next, with hard changes between; breaks that do
/// not lie between the limits are left out.
Ramp steppedRamp(const std::string& family, double low, double high,
                 const std::vector<double>& breaks);
/// The breaks of a ramp of hard changes alone; nothing for one that blends anywhere.
std::vector<double> stepsOf(const Ramp& ramp);

struct TintFamily {
    std::string id, name, colours;  ///< `colours` in words, low to high
    std::vector<RampStop> land;     ///< value: share of the land's height
    bool hasSea = true;             ///< blue below 0; else the land's colours over all of it
};
const std::vector<TintFamily>& tintFamilies();
/// Height tint with stops at round heights: sea by depth below 0 with a hard break at the shore,
/// land of the family above. `low` and `high` in metres. Lightness stays within 0.72 to 0.97, but
/// for the greys.
Ramp heightTint(const std::string& family, double low, double high);
/// Directions in degrees: north and south far apart in lightness, east and west in hue, and the end
/// like the beginning.
Ramp aspectRamp();
/// Transparent below 5 degrees, darkening to 35 % at 50 degrees.
Ramp steepnessTint();

/// Colours for categories, equal in lightness and chroma, far apart in hue; repeats lighter or
/// darker after the eighth.
Colour categoryColour(std::size_t index);

}  // namespace ledge
