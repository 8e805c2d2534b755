#include "session/new_layers.h"

#include <array>
#include <functional>

#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "core/crs/wkt.h"
#include "core/raster/counts.h"
#include "document/edits/layer_edits.h"
#include "document/kinds.h"
#include "io/files/atomic_file.h"
#include "session/class_table.h"
#include "session/derive/lineage.h"
#include "session/derive/operations.h"

namespace ledge::session {
namespace {
using doc::Look;

struct NamedLook {
    std::array<const char*, 8> words;  // found anywhere in the name
    Colour fill, stroke;
    doc::Dash dash;
    double strokeMm;
};
const std::array<NamedLook, 6> kNamed{{
    {{"loch", "lake", "water", "stream", "river", "burn", "sea", "pond"},
     {0xC6, 0xDF, 0xEC},
     {0x2F, 0x6F, 0x9F},
     doc::Dash::Solid,
     0.22},
    {{"coast", "shore", nullptr, nullptr, nullptr, nullptr, nullptr, nullptr},
     {0xEE, 0xEE, 0xE6},
     {0x2B, 0x55, 0x7D},
     doc::Dash::Solid,
     0.3},
    {{"wood", "forest", "tree", nullptr, nullptr, nullptr, nullptr, nullptr},
     {0xBC, 0xD3, 0xAC},
     {0x5C, 0x86, 0x4F},
     doc::Dash::Solid,
     0.15},
    {{"path", "track", "trail", nullptr, nullptr, nullptr, nullptr, nullptr},
     {0xE7, 0xC9, 0xB4},
     {0x8A, 0x2F, 0x2A},
     doc::Dash::Dashes,
     0.42},
    {{"road", "street", nullptr, nullptr, nullptr, nullptr, nullptr, nullptr},
     {0xEF, 0xD3, 0xA6},
     {0xB0, 0x6A, 0x2C},
     doc::Dash::Solid,
     0.5},
    {{"district", "boundar", "parish", "border", nullptr, nullptr, nullptr, nullptr},
     {0xE6, 0xE0, 0xEE},
     {0x7A, 0x5C, 0x93},
     doc::Dash::DashDot,
     0.35},
}};

const NamedLook* namedLook(const std::string& name) {
    const std::string lower = lowered(name);
    for (const NamedLook& look : kNamed)
        for (const char* word : look.words)
            if (word && lower.find(word) != std::string::npos) return &look;
    return nullptr;
}

// A field that holds names, by its own name.
std::string nameField(const FeatureTable& table) {
    for (const char* wanted : {"name", "title", "label", "place"})
        for (const Field& field : table.info.fields)
            if (lowered(field.name) == wanted && field.type == FieldType::Text) return field.name;
    return "";
}

std::string titled(std::string stem) {
    for (char& c : stem)
        if (c == '_' || c == '-') c = ' ';
    if (!stem.empty())
        stem[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(stem[0])));
    return stem;
}

using NthBand = std::function<Result<std::shared_ptr<const Pyramid>>(int)>;

// Values of a reduced copy, for first limits.
std::vector<float> roughValues(const Pyramid& pyramid) {
    const int level = pyramid.levelOf(512);
    const auto cells = pyramid.read(level, {0, 0, pyramid.cols(level), pyramid.rows(level)});
    if (!cells) return {};
    return {cells->cells().begin(), cells->cells().end()};
}

// Which bands are red, green and blue: those that say so, else the first three.
std::array<int, 3> colourBands(const RasterInfo& info) {
    std::array<int, 3> out{0, 1, 2};
    for (std::size_t i = 0; i < info.bands.size(); ++i) {
        if (info.bands[i].role == BandRole::Red) out[0] = static_cast<int>(i);
        if (info.bands[i].role == BandRole::Green) out[1] = static_cast<int>(i);
        if (info.bands[i].role == BandRole::Blue) out[2] = static_cast<int>(i);
    }
    return out;
}

// Of one band shown by a style; what is stored has the limits of its type.
StretchLimits bandLimits(const Pyramid& pyramid, int band, const doc::ImageStyle& style) {
    const auto& bands = pyramid.source().info().bands;
    const auto at = static_cast<std::size_t>(band);
    const CellType type = at < bands.size() ? bands[at].type : bands.front().type;
    if (style.stretch == Stretch::Stored && type == CellType::UInt16) return {0, 65535};
    const bool hasNone = style.stretch == Stretch::Stored && type != CellType::UInt8;
    return stretchLimits(roughValues(pyramid), hasNone ? Stretch::Full : style.stretch,
                         style.amount());
}

doc::Layer rasterLayer(const std::string& name, const Pyramid& pyramid, const NthBand& bandOf,
                       const Progress& progress) {
    doc::Layer layer;
    layer.name = name;
    const RasterInfo& info = pyramid.source().info();
    if (info.bands.size() >= 3) {
        doc::RasterLayer raster;
        doc::ImageStyle image;
        image.bands = colourBands(info);
        // A picture of bytes is meant to be seen as it is; measurements are stretched to be seen.
        if (std::all_of(image.bands.begin(), image.bands.end(), [&info](int band) {
                return info.bands[static_cast<std::size_t>(band)].type == CellType::UInt8;
            }))
            image.stretch = Stretch::Stored;
        for (std::size_t i = 0; i < 3; ++i)
            if (const auto band = bandOf(image.bands[i]))
                image.limits[i] = bandLimits(**band, image.bands[i], image);
        raster.style.image = image;
        layer.content = raster;
        return layer;
    }
    const bool maybeClasses = info.bands.size() == 1 && (info.bands[0].type == CellType::UInt8 ||
                                                         !info.bands[0].palette.empty());
    if (auto classes = maybeClasses ? classesOf(pyramid.source(), 0, progress)
                                    : std::vector<doc::RasterClass>{};
        !classes.empty()) {
        doc::RasterLayer raster;
        raster.style.classes = std::move(classes);
        raster.style.classTable.hidden = {"value"};
        layer.content = raster;
        return layer;
    }
    const auto [low, high] = roughRange(pyramid);
    const auto limits = roundLimits(low, high);
    if (looksLikeHeights(pyramid.source().info())) {
        doc::HeightTint tint;
        tint.style.ramp = heightTint(tint.style.family, limits.first, limits.second);
        layer.content = tint;
    } else {
        doc::RasterLayer raster;
        raster.style.ramp = rampOf(raster.style.family, limits.first, limits.second);
        layer.content = raster;
    }
    return layer;
}

// Names, colours and columns of classes from the table beside the raster, when there is one.
Result<void> nameClasses(doc::Layer& layer, const std::filesystem::path& raster) {
    auto* content = layer.as<doc::RasterLayer>();
    const auto sidecar = classSidecar(raster);
    if (!content || content->style.classes.empty() || !std::filesystem::exists(sidecar)) return {};
    const auto text = io::readText(sidecar, 16u << 20);
    if (!text) return text.error();
    auto named = withClassCsv(content->style, *text);
    if (!named) {
        Error error = named.error();
        error.what = sidecar.filename().string();
        return error;
    }
    content->style = *std::move(named);
    return {};
}

// Floats that are no heights: what a formula gives, and derivatives.
void styleDerived(doc::Layer& layer, const doc::Lineage& lineage, const Pyramid& pyramid) {
    const bool isHeights = lineage.operation == "clip" || lineage.operation == "resample" ||
                           lineage.operation == "reproject";
    if (isHeights || !layer.as<doc::HeightTint>()) return;
    doc::RasterLayer plain;
    if (lineage.operation == "aspect") {
        plain.style.ramp = aspectRamp();
        plain.style.family.clear();
        plain.style.showsCells = true;  // no mean of north-north-west and north-north-east
    } else {
        const auto [low, high] = roughRange(pyramid);
        plain.style.ramp = rampOf(plain.style.family, low, high);
    }
    layer.content = plain;
}
}  // namespace

std::vector<doc::RasterClass> classesOf(const RasterSource& raster, int at,
                                        const Progress& progress) {
    constexpr std::size_t kMostUnnamed = 40, kMost = 4096;
    const BandInfo& band = raster.info().bands[static_cast<std::size_t>(at)];
    const bool isPalette = !band.palette.empty();
    if (!isPalette && isFloating(band.type)) return {};
    std::vector<doc::RasterClass> out;
    const auto sums = valueSums(raster, at, isPalette ? kMost : kMostUnnamed, progress);
    if (!sums) return {};
    for (const auto& [value, sum] : *sums) {
        const auto place = static_cast<std::size_t>(std::max(0.0, value));
        const Colour colour = isPalette && place < band.palette.size() ? band.palette[place]
                                                                       : categoryColour(out.size());
        out.push_back({value, "Class " + formatNumber(value), colour, true, sum.cells});
    }
    return out;
}

std::string crsText(const crs::CrsPtr& crs) {
    if (!crs) return "";
    return crs->code != 0 ? "EPSG:" + std::to_string(crs->code) : crs::toWkt(*crs);
}

std::array<StretchLimits, 3> wholeLimits(const doc::ImageStyle& style, const doc::SourceRef& source,
                                         const SourceCache& cache) {
    auto out = style.limits;
    for (std::size_t i = 0; i < out.size(); ++i)
        if (const auto band = cache.raster(source, style.bands[i]))
            out[i] = bandLimits(**band, style.bands[i], style);
    return out;
}

Result<doc::SourceRef> ledTo(const doc::SourceRef& source, const std::filesystem::path& path,
                             const SourceCache& cache, const Progress& progress) {
    const auto otherKind = [&](const std::string& why) {
        return Error{ErrorCode::InvalidArgument, path.filename().string(), why,
                     "choose a file of the same kind, or add it as a new layer"};
    };
    doc::SourceRef out = source;
    out.path = std::filesystem::absolute(path).lexically_normal();
    out.shiftGrid.reset();
    out.lineage.reset();
    const auto file = cache.file(out, progress);
    if (!file) return file.error();
    const io::Source& opened = (*file)->source;
    // What the old file was is known unless it is gone.
    const auto oldTable = cache.table(source, progress);
    if (progress.stopped()) return cancelled(source.name);
    using Old = Result<std::shared_ptr<const Pyramid>>;
    const auto oldRaster = oldTable ? Old(Error{}) : cache.raster(source);
    if (const auto* raster = std::get_if<RasterPtr>(&opened)) {
        if (oldTable) return otherKind("it is a raster, the layer shows features");
        if (oldRaster &&
            (*raster)->info().bands.size() < (*oldRaster)->source().info().bands.size())
            return otherKind("it has fewer bands than the file before");
        (void)cache.raster(out);  // while the file is open here
        return out;
    }
    if (oldRaster) return otherKind("it holds features, the layer shows a raster");
    const auto& layers = std::get<FeatureSourcePtr>(opened)->layers();
    const auto named = std::find_if(layers.begin(), layers.end(), [&](const LayerInfo& info) {
        return info.name == source.layer;
    });
    if (named == layers.end()) out.layer = layers.size() > 1 ? layers.front().name : "";
    const LayerInfo& chosen = named == layers.end() ? layers.front() : *named;
    if (oldTable && (*oldTable)->info.geometry != chosen.geometry)
        return otherKind("its geometry is another than that of the file before");
    if (const auto table = cache.table(out, progress); !table) return table.error();
    return out;
}

bool looksLikeHeights(const RasterInfo& info) {
    if (info.bands.size() != 1) return false;
    const CellType type = info.bands.front().type;
    return isFloating(type) || type == CellType::Int16;
}

std::pair<double, double> roundLimits(double low, double high) {
    const double step = roundDownTo125(std::max(1e-9, std::max(1e-6, high - low) / 20));
    return {std::floor(low / step) * step, std::ceil(high / step) * step};
}

std::pair<double, double> roughRange(const Pyramid& pyramid) {
    const int fine = pyramid.levelOf(1024);  // fine enough that summits are not averaged away
    double low = kNaN, high = kNaN;
    const auto cells = pyramid.read(fine, {0, 0, pyramid.cols(fine), pyramid.rows(fine)});
    if (cells)
        for (const float v : cells->cells()) {
            if (!std::isfinite(v)) continue;
            const auto d = static_cast<double>(v);
            low = std::isnan(low) ? d : std::min(low, d);
            high = std::isnan(high) ? d : std::max(high, d);
        }
    if (std::isnan(low)) return {0, 1};
    return {low, high > low ? high : low + 1};
}

doc::VectorLayer defaultVectorLayer(const FeatureTable& table, const std::string& name,
                                    std::size_t hue) {
    doc::VectorLayer out;
    out.geometry = table.info.geometry;
    Look& look = out.style.look;
    const Colour base = categoryColour(hue);
    look.fill = withLightness(base, out.geometry == GeometryType::Point ? 0.58 : 0.86);
    look.stroke = withLightness(base, 0.48);
    if (const NamedLook* named = namedLook(name)) {
        look.fill = named->fill, look.stroke = named->stroke;
        look.dash = named->dash, look.strokeMm = named->strokeMm;
        if (out.geometry == GeometryType::Point) look.fill = named->stroke;
    }
    if (out.geometry == GeometryType::Point) {
        look.stroke = {0xF6, 0xF6, 0xFB};
        look.strokeMm = 0.2;
        look.dash = doc::Dash::Solid;
    } else if (out.geometry == GeometryType::Polygon) {
        look.strokeMm = std::min(look.strokeMm, 0.3);
        if (look.dash == doc::Dash::Solid) look.strokeMm = 0.15;
    }
    out.style.others = look;
    out.style.missing = look;
    out.style.missing.fill = {0xE4, 0xE1, 0xDC};
    out.style.missing.stroke = {0xB9, 0xB4, 0xAC};
    if (out.geometry == GeometryType::Polygon) {  // no data: pale, with a fine hatch
        out.style.missing.pattern = doc::Pattern::Hatch;
        out.style.missing.patternInk = {0xC9, 0xC3, 0xB9};
        out.style.missing.patternMm = 0.9;
        out.style.missing.patternLineMm = 0.1;
    }
    doc::LabelStyle& labels = out.labels.front();
    labels.text = nameField(table);
    labels.isOn =
        out.geometry == GeometryType::Point && !labels.text.empty() && table.size() <= 2000;
    if (table.fieldIndex("rank") >= 0) labels.rank = "rank";
    const bool isWater = namedLook(name) == &kNamed[0];
    labels.isItalic = isWater;
    if (isWater) labels.colour = {0x2B, 0x5C, 0x86};
    return out;
}

namespace {
// The same made from the same, whatever the state of the files was.
bool showsTheSame(const doc::Lineage& a, const doc::Lineage& b) {
    return a.operation == b.operation && a.parameters == b.parameters &&
           std::equal(a.inputs.begin(), a.inputs.end(), b.inputs.begin(), b.inputs.end(),
                      [](const doc::LineageInput& x, const doc::LineageInput& y) {
                          return x.name == y.name && x.path == y.path && x.layer == y.layer &&
                                 x.band == y.band;
                      });
}
}  // namespace

namespace {
// What a live strip of heights looks like, for the file that it was written to.
void dressAs(doc::Layer& layer, const doc::Layer& live, const Pyramid* pyramid) {
    layer.opacity = live.opacity;
    layer.blend = live.blend;
    if (auto* raster = layer.as<doc::RasterLayer>(); raster && pyramid) {
        if (live.as<doc::Hillshade>() && !raster->style.image) {
            const auto [low, high] = roughRange(*pyramid);
            raster->style.family = kGreyRamp;
            const bool isByte = pyramid->source().info().bands.front().type == CellType::UInt8;
            raster->style.ramp = {{{isByte ? 0 : std::min(0.0, low), {0, 0, 0}},
                                   {isByte ? 255 : std::max(1.0, high), {255, 255, 255}}}};
        }
    }
    const auto* contours = live.as<doc::Contours>();
    auto* lines = layer.as<doc::VectorLayer>();
    if (contours && lines && lines->geometry == GeometryType::Line) {
        lines->style.look.stroke = contours->style.land;
        lines->style.look.strokeMm = contours->style.lineMm;
        lines->style.look.dash = doc::Dash::Solid;
    }
}
}  // namespace

void dressDerived(NewLayers& made, const doc::Lineage& lineage, const doc::Document& document,
                  const SourceCache& cache) {
    made.source.lineage = lineage;
    if (made.layers.size() != 1) return;
    doc::Layer& layer = made.layers.front();
    for (const doc::SourceRef& source : document.sources)
        if (source.isLive() && showsTheSame(*source.lineage, lineage) &&
            !layer.as<doc::VectorLayer>())
            made.insteadOf = source.id;
    if (made.insteadOf != 0) return;
    const auto pyramid = cache.raster(made.source);
    if (pyramid) styleDerived(layer, lineage, **pyramid);
    for (const doc::LayerPtr& shown : doc::allLayers(document.layers)) {
        const doc::SourceRef* from = document.source(shown->source);
        if (!from || !shown->readsHeights()) continue;
        for (const bool isFilled : {false, true}) {
            const auto its = lineageOf(*shown, *from, isFilled);
            if (!its || !showsTheSame(*its, lineage)) continue;
            made.above = shown->id;
            dressAs(layer, *shown, pyramid ? pyramid->get() : nullptr);
            return;
        }
    }
}

std::string mapCrsFor(const crs::CrsPtr& crs, const Box& extent) {
    if (!crs || !crs->isGeographic()) return crsText(crs);
    const Point middle = extent.centre();
    const int zone = std::clamp(static_cast<int>((middle.x + 180) / 6) + 1, 1, 60);
    if (!(std::abs(middle.y) <= 84)) return crsText(crs);
    return "EPSG:" + std::to_string((middle.y < 0 ? 32700 : 32600) + zone);
}

namespace {
std::string mapCrsOf(const doc::SourceRef& source, const SourceCache& cache) {
    const crs::CrsPtr crs = cache.crsOf(source);
    return mapCrsFor(crs, crs ? cache.extent(source, crs) : Box{});
}
// Layers made one after the other differ in colour.
std::size_t hueOf(const std::string& name) { return std::hash<std::string>{}(name) % 8; }
}  // namespace

Result<NewLayers> newLiveLayer(const doc::Lineage& lineage, const std::string& name,
                               SourceCache& cache, const Progress& progress) {
    doc::SourceRef source;
    source.name = name;
    source.lineage = stamped(lineage);
    // Opened here first, so that the first look does not wait on the interface's thread.
    if (givesFeatures(lineage)) {
        const auto table = cache.table(source, progress);
        if (!table) return table.error();
        doc::Layer layer;
        layer.name = name;
        layer.content = defaultVectorLayer(**table, name, hueOf(name));
        return NewLayers{source, {layer}, mapCrsOf(source, cache)};
    }
    const auto pyramid = cache.raster(source);
    if (!pyramid) return pyramid.error();
    if (progress.stopped()) return cancelled(name);
    const auto bandOf = [&](int n) { return cache.raster(source, n); };
    doc::Layer layer = rasterLayer(name, **pyramid, bandOf, progress);
    styleDerived(layer, lineage, **pyramid);
    return NewLayers{source, {layer}, mapCrsOf(source, cache)};
}

Result<std::vector<NewLayers>> newLayersFor(const std::filesystem::path& path, SourceCache& cache,
                                            std::size_t hue, const Progress& progress) {
    std::vector<NewLayers> out;
    doc::SourceRef source;
    source.path = std::filesystem::absolute(path).lexically_normal();
    source.name = titled(path.stem().string());
    // Held until its layers are in the cache, so that it is opened once.
    const auto file = cache.file(source, progress);
    if (!file) return file.error();
    const io::Source& opened = (*file)->source;
    if (std::holds_alternative<RasterPtr>(opened)) {
        const auto pyramid = cache.raster(source);
        if (!pyramid) return pyramid.error();
        const BandInfo& band = (*pyramid)->source().info().bands.front();
        if (band.unit == "foot") source.heightUnit = doc::HeightUnit::Foot;
        doc::Layer layer = rasterLayer(
            source.name, **pyramid, [&](int n) { return cache.raster(source, n); }, progress);
        if (progress.stopped()) return cancelled(source.name);
        if (const auto done = nameClasses(layer, source.path); !done) return done.error();
        out.push_back({source, {std::move(layer)}, mapCrsOf(source, cache)});
        return out;
    }
    const auto& features = std::get<FeatureSourcePtr>(opened);
    const auto& layers = features->layers();
    for (const LayerInfo& info : layers) {
        doc::SourceRef one = source;
        if (layers.size() > 1) one.layer = info.name, one.name = titled(info.name);
        const auto table = cache.table(one, progress);
        if (!table) return table.error();
        doc::Layer layer;
        layer.name = one.name;
        layer.content = defaultVectorLayer(**table, one.name, hue++);
        out.push_back({one, {std::move(layer)}, mapCrsOf(one, cache)});
    }
    return out;
}

namespace {
// Whether a strip, or each in it, is of lines, areas, points or names: what lies above pictures.
bool isDrawing(const doc::Layer& layer) {
    if (const auto* group = layer.as<doc::Group>())
        return std::all_of(group->children.begin(), group->children.end(),
                           [](const doc::LayerPtr& inner) { return isDrawing(*inner); });
    return doc::kindInfo(layer).isVector;
}

// Drawings go to the top, rasters below the drawings that are on top.
std::size_t rowFor(const doc::Layer& layer, const doc::Document& document) {
    std::size_t row = 0;
    if (!isDrawing(layer))
        while (row < document.layers.size() && isDrawing(*document.layers[row])) ++row;
    return row;
}

std::vector<doc::Id> layersOf(const doc::Document& document, doc::Id source) {
    std::vector<doc::Id> out;
    for (const doc::LayerPtr& one : doc::allLayers(document.layers))
        if (one->source == source) out.push_back(one->id);
    return out;
}
}  // namespace

std::pair<doc::Document, std::vector<doc::Id>> withNewLayers(doc::Document document,
                                                             std::vector<NewLayers> added) {
    std::vector<doc::Id> ids;
    const bool wasEmpty = document.layers.empty();
    // Layers of one file stand together.
    const auto isOfGroup = [&](const NewLayers& one) {
        const auto isLikeIt = [&](const NewLayers& other) {
            return other.source.path == one.source.path && other.insteadOf == 0 && other.above == 0;
        };
        return one.source.isFile() && isLikeIt(one) &&
               std::count_if(added.begin(), added.end(), isLikeIt) > 1;
    };
    std::map<std::filesystem::path, doc::Id> groups;
    for (NewLayers& one : added) {
        const bool isGrouped = isOfGroup(one);
        if (wasEmpty && document.mapCrs.empty()) document.mapCrs = one.mapCrs;
        auto [next, source] = doc::addSource(std::move(document), one.source);
        document = std::move(next);
        if (one.insteadOf != 0 && document.source(one.insteadOf)) {
            const auto shown = layersOf(document, one.insteadOf);
            document = doc::withLayers(std::move(document), shown,
                                       [source = source](doc::Layer& l) { l.source = source; });
            document = doc::withoutUnusedSources(std::move(document));
            ids.insert(ids.end(), shown.begin(), shown.end());
            if (!shown.empty()) continue;
        }
        const auto above = doc::placeOf(document, one.above);
        if (above)  // the file is drawn in its place; the live one stays, unlit
            document = doc::withLayer(std::move(document), one.above,
                                      [](doc::Layer& l) { l.isVisible = false; });
        for (auto it = one.layers.rbegin(); it != one.layers.rend(); ++it) {
            it->source = source;
            auto place = above.value_or(doc::Place{0, rowFor(*it, document)});
            if (isGrouped) {
                auto known = groups.find(one.source.path);
                if (known == groups.end()) {
                    doc::Layer group;
                    group.name = one.source.path.stem().string();
                    group.content = doc::Group{};
                    auto [with, id] = doc::addLayer(std::move(document), std::move(group), place);
                    document = std::move(with);
                    known = groups.emplace(one.source.path, id).first;
                }
                place = {known->second, 0};
            }
            auto [more, id] = doc::addLayer(std::move(document), *it, place);
            document = std::move(more);
            ids.push_back(id);
        }
    }
    return {std::move(document), std::move(ids)};
}

}  // namespace ledge::session
