#include "core/crs/datum_names.h"

#include <algorithm>
#include <array>
#include <map>

#include "core/crs/method_table.h"

namespace ledge::crs {
namespace {
// Spellings met in texts, as normalised, and that of the shipped table.
const std::map<std::string, std::string, std::less<>>& spellings() {
    static const std::map<std::string, std::string, std::less<>> all{
        {"wgs1984", "worldgeodeticsystem1984"},
        {"wgs84", "worldgeodeticsystem1984"},
        {"wgs1972", "worldgeodeticsystem1972"},
        {"wgs1972be", "wgs72transitbroadcastephemeris"},
        {"etrs1989", "europeanterrestrialreferencesystem1989"},
        {"etrs89", "europeanterrestrialreferencesystem1989"},
        {"european1950", "europeandatum1950"},
        {"european1979", "europeandatum1979"},
        {"northamerican1927", "northamericandatum1927"},
        {"northamerican1983", "northamericandatum1983"},
        {"nad1927", "northamericandatum1927"},
        {"nad1983", "northamericandatum1983"},
        {"northamerican1983csrs", "nad83canadianspatialreferencesystem"},
        {"nad1983csrs", "nad83canadianspatialreferencesystem"},
        {"nad1983nsrs2007", "nad83nationalspatialreferencesystem2007"},
        {"nad1983nationalspatialreferencesystem2011", "nad83nationalspatialreferencesystem2011"},
        {"nad19832011", "nad83nationalspatialreferencesystem2011"},
        {"northamerican1983harn", "nad83highaccuracyreferencenetwork"},
        {"osgb1936", "ordnancesurveyofgreatbritain1936"},
        {"osgb36", "ordnancesurveyofgreatbritain1936"},
        {"ntf", "nouvelletriangulationfrancaise"},
        {"rgf1993", "reseaugeodesiquefrancais1993v1"},
        {"rgf93", "reseaugeodesiquefrancais1993v1"},
        {"reseaugeodesiquefrancais1993", "reseaugeodesiquefrancais1993v1"},
        {"belge1972", "reseaunationalbelge1972"},
        {"belge1950", "reseaunationalbelge1950"},
        {"bd72", "reseaunationalbelge1972"},
        {"dhdn", "deutscheshauptdreiecksnetz"},
        {"mgi", "militargeographischeinstitut"},
        {"hermannskogel", "militargeographischeinstitut"},
        {"hungarian1972", "hungariandatum1972"},
        {"sjtsk", "systemoftheunifiedtrigonometricalcadastralnetwork"},
        {"pulkovo1942adj1958", "pulkovo194258"},
        {"pulkovo1942adj1983", "pulkovo194283"},
        {"ggrs1987", "greekgeodeticreferencesystem1987"},
        {"kkj", "kartastokoordinaattijarjestelma1966"},
        {"rt90", "riketskoordinatsystem1990"},
        {"rt1990", "riketskoordinatsystem1990"},
        {"lisbon", "lisbon1937"},
        {"lisboahayford", "lisbon1937"},
        {"tm75", "geodeticdatumof1965"},
        {"gda1994", "geocentricdatumofaustralia1994"},
        {"gda94", "geocentricdatumofaustralia1994"},
        {"gda2020", "geocentricdatumofaustralia2020"},
        {"australian1966", "australiangeodeticdatum1966"},
        {"australian1984", "australiangeodeticdatum1984"},
        {"newzealand1949", "newzealandgeodeticdatum1949"},
        {"nzgd1949", "newzealandgeodeticdatum1949"},
        {"nzgd2000", "newzealandgeodeticdatum2000"},
        {"jgd2000", "japanesegeodeticdatum2000"},
        {"jgd2011", "japanesegeodeticdatum2011"},
        {"korean1985", "koreandatum1985"},
        {"korea2000", "geocentricdatumofkorea"},
        {"korean2000", "geocentricdatumofkorea"},
        {"cgcs2000", "china2000"},
        {"southamerican1969", "southamericandatum1969"},
        {"provisionalsamerican1956", "provisionalsouthamericandatum1956"},
        {"sirgas2000", "sistemadereferenciageocentricoparalasamericas2000"},
        {"islandsnetwork1993", "islandsnet1993"},
        {"islandsnetwork2004", "islandsnet2004"},
        {"ainelabd", "ainelabd1970"},
    };
    return all;
}
}  // namespace

std::string normalisedDatum(std::string_view name) {
    const bool hasPrefix = name.starts_with("D_") || name.starts_with("d_");
    std::string plain;
    for (const char c : hasPrefix ? name.substr(2) : name) {
        if (c == '+')
            plain += "plus";
        else
            plain += c;
    }
    std::string out = normalisedName(plain);
    constexpr std::string_view kEnsemble = "ensemble";
    if (out.size() > kEnsemble.size() && out.ends_with(kEnsemble))
        out.erase(out.size() - kEnsemble.size());
    const auto it = spellings().find(out);
    return it == spellings().end() ? out : it->second;
}

bool isNamelessDatum(std::string_view normalised) {
    constexpr std::array<std::string_view, 6> kWords{"unknown",     "unnamed", "undefined",
                                                     "userdefined", "custom",  "unspecified"};
    return normalised.empty() || normalised.starts_with("notspecified") ||
           std::find(kWords.begin(), kWords.end(), normalised) != kWords.end() ||
           normalised.starts_with("unknownbasedon");
}

}  // namespace ledge::crs
