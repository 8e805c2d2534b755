#include "session/derive/ready_formulas.h"

#include "core/base/numbers.h"
#include "session/derive/lineage.h"

namespace ledge::session {
namespace {
// Whether a name holds a word from its beginning: no "red" in "infrared".
bool holdsWord(const std::string& name, const std::string& word) {
    const std::string text = " " + lowered(name);
    const auto at = text.find(word);
    return at != std::string::npos && !(text[at - 1] >= 'a' && text[at - 1] <= 'z');
}

// The band whose name or role tells it, else the one at a place.
std::string bandFor(const std::vector<BandInfo>& bands, const std::string& word, BandRole role,
                    std::size_t otherwise) {
    std::size_t found = otherwise;
    for (std::size_t i = bands.size(); i-- > 0;)
        if (bands[i].role == role && role != BandRole::Data) found = i;
    for (std::size_t i = bands.size(); i-- > 0;)
        if (holdsWord(bands[i].name, word)) found = i;
    return bandName(found);
}
}  // namespace

std::vector<ReadyFormula> readyFormulas(const std::vector<BandInfo>& own,
                                        const std::vector<doc::LineageInput>& named) {
    std::vector<ReadyFormula> out;
    // Those of the raster itself come first.
    const std::string other = named.size() > own.size() ? named[own.size()].name : std::string();
    if (own.size() > 1) {
        const std::string red = bandFor(own, "red", BandRole::Red, 0);
        std::string infrared = bandFor(own, "infrared", BandRole::Data, own.size() - 1);
        if (infrared == red) infrared = bandName(red == bandName(0) ? 1 : 0);
        out.push_back({"Normalised difference of two bands",
                       "normalised_difference(" + infrared + ", " + red + ")"});
        out.push_back({"Ratio of two bands", infrared + " / " + red});
    }
    if (!other.empty()) {
        out.push_back({"Difference of two rasters", "band1 - " + other});
        out.push_back({"Gaps filled from another raster", "first(band1, " + other + ")"});
    }
    out.push_back({"Only what is above a value", "if(band1 > 0, band1, nodata)"});
    out.push_back({"In another unit", "band1 * 0.3048"});
    return out;
}

}  // namespace ledge::session
