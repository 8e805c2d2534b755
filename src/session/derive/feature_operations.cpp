#include "session/derive/feature_operations.h"

#include <cmath>

#include "core/base/csv_line.h"
#include "core/base/numbers.h"
#include "core/derive/gridding.h"
#include "core/derive/related.h"
#include "core/derive/shapes.h"
#include "core/derive/zonal.h"
#include "core/globe/reproject.h"
#include "core/query/question.h"
#include "session/asking.h"

namespace ledge::session {
namespace {
using Kind = Setting::Kind;

std::vector<std::string> namesIn(const std::string& list) {
    std::vector<std::string> out;
    for (const std::string& name : csvCells(list, CsvQuotes::Drop))
        if (!trimmed(name).empty()) out.push_back(trimmed(name));
    return out;
}

// What the core remarks goes to whoever asked for the result.
Result<FeatureTable> told(const Work& work, const derive::Remarks& remarks,
                          Result<FeatureTable> made) {
    if (made)
        for (const std::string& remark : remarks) work.remark(remark);
    return made;
}

// The second table, its shapes where those of the first are.
Result<FeatureTable> besideTable(const Work& work, const crs::CrsPtr& crs) {
    const auto table = work.table(1);
    if (!table) return table.error();
    if (!crs || !(*table)->info.crs || crs::isSame((*table)->info.crs, crs)) return **table;
    auto moved = globe::reprojected(**table, crs, {}, work.progress.part(0.3, 0.4));
    if (!moved) return moved.error();
    work.remark(moved->remark((*table)->size()));
    return std::move(moved->table);
}

Result<FeatureTable> keepOf(const Work& work) {
    const auto table = work.table();
    if (!table) return table.error();
    Asked asked{work.text("keep")};
    if (work.lineage.inputs.size() > 1) {
        const auto near = work.table(1);
        if (!near) return near.error();
        asked.relation = work.text("relation");
        const auto metres = work.number("within-metres");
        if (!metres) return metres.error();
        asked.near = *near;
        asked.nearKeep = work.text("near-keep");
        asked.withinMetres = *metres;
    }
    const auto rows = askedRows(**table, asked, work.progress.part(0.4, 1));
    if (!rows) return rows.error();
    work.remark(rows->trouble);
    FeatureTable out = (*table)->atRows(rows->rows);
    out.refreshInfo();
    return out;
}

Result<FeatureTable> joinOf(const Work& work) {
    const auto table = work.table();
    if (!table) return table.error();
    const auto other = work.table(1);
    if (!other) return other.error();
    const std::string key = work.text("key"), otherKey = work.text("other-key");
    derive::Remarks remarks;
    auto made = derive::joined(**table, key, **other, otherKey.empty() ? key : otherKey,
                               namesIn(work.text("fields")), remarks, work.progress.part(0.4, 1));
    return told(work, remarks, std::move(made));
}

// One table, remarks passed on.
template <typename Make>
Result<FeatureTable> ofTable(const Work& work, const Make& make) {
    const auto table = work.table();
    if (!table) return table.error();
    derive::Remarks remarks;
    auto made = make(**table, remarks);
    return told(work, remarks, std::move(made));
}

Result<FeatureTable> pointsWithinOf(const Work& work) {
    return ofTable(
        work, [&](const FeatureTable& areas, derive::Remarks& remarks) -> Result<FeatureTable> {
            const auto points = besideTable(work, areas.info.crs);
            if (!points) return points.error();
            return derive::withPointsWithin(areas, *points, namesIn(work.text("fields")), remarks,
                                            work.progress.part(0.4, 1));
        });
}

Result<FeatureTable> nearestOf(const Work& work) {
    return ofTable(
        work, [&](const FeatureTable& table, derive::Remarks& remarks) -> Result<FeatureTable> {
            const auto other = work.table(1);
            if (!other) return other.error();
            const auto most = work.number("within-metres");
            if (!most) return most.error();
            return derive::withNearest(table, **other, namesIn(work.text("fields")),
                                       *most > 0 ? *most : 1e9, remarks,
                                       work.progress.part(0.4, 1));
        });
}

Result<FeatureTable> bufferOf(const Work& work) {
    return ofTable(
        work, [&](const FeatureTable& table, derive::Remarks& remarks) -> Result<FeatureTable> {
            const auto metres = work.number("metres"), steps = work.number("steps");
            if (!metres) return metres.error();
            if (!steps) return steps.error();
            auto made =
                derive::buffered(table, *metres, work.isOn("planar"), static_cast<int>(*steps),
                                 remarks, work.progress.part(0.3, work.isOn("together") ? 0.7 : 1));
            if (!made || !work.isOn("together")) return made;
            return derive::dissolved(*made, "", remarks, work.progress.part(0.7, 1));
        });
}

Result<FeatureTable> cutOf(const Work& work) {
    return ofTable(
        work, [&](const FeatureTable& table, derive::Remarks& remarks) -> Result<FeatureTable> {
            const auto areas = besideTable(work, table.info.crs);
            if (!areas) return areas.error();
            return derive::clippedBy(table, *areas, remarks, work.progress.part(0.4, 1));
        });
}

Result<FeatureTable> dissolveOf(const Work& work) {
    return ofTable(work, [&](const FeatureTable& table, derive::Remarks& remarks) {
        return derive::dissolved(table, work.text("field"), remarks, work.progress.part(0.3, 1));
    });
}

Result<FeatureTable> reshapeOf(const Work& work) {
    return ofTable(work, [&](const FeatureTable& table, derive::Remarks& remarks) {
        const std::string word = work.text("into");
        std::size_t at = 0;
        while (at + 1 < derive::kNewShapeNames.size() && derive::kNewShapeNames[at] != word) ++at;
        return derive::reshaped(table, static_cast<derive::NewShape>(at), remarks,
                                work.progress.part(0.3, 1));
    });
}

Result<FeatureTable> pointsOf(const Work& work) {
    return ofTable(
        work, [&](const FeatureTable& table, derive::Remarks& remarks) -> Result<FeatureTable> {
            crs::CrsPtr crs = table.info.crs;
            if (!work.text("crs").empty()) {
                const auto parsed = crs::parseCrs(work.text("crs"));
                if (!parsed) return parsed.error();
                crs = *parsed;
            }
            return derive::pointsFrom(table, work.text("x"), work.text("y"), crs, remarks);
        });
}

Result<FeatureTable> scatterOf(const Work& work) {
    return ofTable(work, [&](const FeatureTable& table, derive::Remarks&) -> Result<FeatureTable> {
        const auto count = work.number("count"), spacing = work.number("spacing"),
                   seed = work.number("seed");
        for (const auto* one : {&count, &spacing, &seed})
            if (!*one) return one->error();
        return derive::scattered(table, static_cast<int>(*count), *spacing,
                                 static_cast<std::uint64_t>(*seed), work.progress.part(0.3, 1));
    });
}

Result<FeatureTable> zonalOf(const Work& work) {
    return ofTable(
        work, [&](const FeatureTable& table, derive::Remarks& remarks) -> Result<FeatureTable> {
            const auto raster = work.raster(1);
            if (!raster) return raster.error();
            return derive::withZonal(table, **raster, work.lineage.inputs[1].band,
                                     work.text("prefix"), remarks, work.progress.part(0.3, 1));
        });
}

Result<FeatureTable> cellValuesOf(const Work& work) {
    return ofTable(
        work, [&](const FeatureTable& table, derive::Remarks& remarks) -> Result<FeatureTable> {
            const auto raster = work.raster(1);
            if (!raster) return raster.error();
            return derive::withCellValues(table, **raster, work.lineage.inputs[1].band,
                                          work.text("name"), remarks, work.progress.part(0.3, 1));
        });
}

Result<FeatureTable> shareOf(const Work& work) {
    return ofTable(
        work, [&](const FeatureTable& table, derive::Remarks& remarks) -> Result<FeatureTable> {
            const auto areas = besideTable(work, table.info.crs);
            if (!areas) return areas.error();
            return derive::withLargestShare(table, *areas, namesIn(work.text("fields")), remarks,
                                            work.progress.part(0.4, 1));
        });
}

// All points of a cloud, one after another, whatever is shown of it.
Result<RasterPtr> gridOf(const Work& work) {
    const doc::LineageInput& input = work.lineage.inputs.front();
    const auto side = work.number("cell");
    if (!side) return side.error();
    const auto open = work.cache.file(input, work.progress);
    if (!open) return open.error();
    const auto* source = std::get_if<FeatureSourcePtr>(&(*open)->source);
    if (!source)
        return Error{ErrorCode::InvalidArgument, input.text(), "is no layer of features",
                     "choose points"};
    const auto named = layerIndex(**source, input.layer);
    if (!named) return named.error();
    const std::size_t layer = (*source)->whole(*named);
    const LayerInfo& info = (*source)->layers()[layer];
    std::optional<std::size_t> field;
    if (const std::string name = work.text("field"); !name.empty()) {
        const auto place = derive::fieldPlace(info, name);
        if (!place) return place.error();
        field = *place;
    }
    std::optional<query::Question> condition;
    if (const std::string keep = work.text("keep"); !keep.empty()) {
        auto read = query::Question::condition(keep, info);
        if (!read) return read.error();
        condition = *std::move(read);
    }
    const auto how = std::find(derive::kGriddingNames.begin(), derive::kGriddingNames.end(),
                               work.text("method"));
    auto grid = derive::Gridder::over(
        info.extent, *side,
        how == derive::kGriddingNames.end()
            ? derive::Gridding::Mean
            : static_cast<derive::Gridding>(how - derive::kGriddingNames.begin()));
    if (!grid) return grid.error();
    // Those that a condition keeps are asked about a block at a time.
    constexpr std::size_t kBlock = 65536;
    FeatureList block;
    block.info = info;
    std::optional<Error> trouble;
    const auto add = [&](const GeometryView& shape, double value) {
        if (shape.type != GeometryType::Point) return;
        for (std::size_t i = 0; i < shape.points.size(); ++i)
            grid->add(shape.points[i], field ? value : i < shape.z.size() ? shape.z[i] : kNaN);
    };
    const auto flush = [&] {
        if (block.features.empty()) return true;
        FeatureList list{info, {}};
        list.features.swap(block.features);
        const FeatureTable table(std::move(list));
        const auto rows = query::rowsWhere(*condition, table, {});
        if (!rows) {
            trouble = rows.error();
            return false;
        }
        for (const std::size_t row : rows->rows)
            add(table.geometry(row), field ? table.number(row, *field) : kNaN);
        return true;
    };
    const std::lock_guard scanning((*open)->scan);
    const auto done = (*source)->scan(
        layer, {},
        [&](const Feature& feature) {
            if (!condition) {
                add(feature.geometry, field ? numberOf(feature.values[*field]) : kNaN);
                return true;
            }
            block.features.push_back(feature);
            return block.features.size() < kBlock || flush();
        },
        work.progress.part(0, 0.9));
    if (!done) return done.error();
    if (condition && !trouble) flush();
    if (trouble) return *trouble;
    if (grid->filled() == 0)
        return Error{ErrorCode::InvalidArgument, input.text(),
                     field ? "has no numbers in that field" : "has no heights",
                     "name a field of numbers"};
    auto crs = info.crs;
    if (input.declaredCrs) {
        const auto declared = crs::parseCrs(*input.declaredCrs);
        if (!declared) return declared.error();
        crs = *declared;
    }
    return grid->finish(crs);
}

// "near" and the relations of shapes.
std::vector<std::string> relationChoices() {
    std::vector<std::string> out{"near"};
    out.insert(out.end(), kRelationNames.begin(), kRelationNames.end());
    return out;
}

const Setting kFields{"fields", "Fields", "Names of its fields, separated by commas; empty: all",
                      Kind::Text, ""};

Operation ofFeatures(Operation made, Beside beside = Beside::Nothing, std::string role = {}) {
    made.isOfFeatures = true;
    made.beside = beside;
    made.besideRole = std::move(role);
    return made;
}
}  // namespace

std::vector<Operation> featureOperations() {
    return {
        ofFeatures({"keep",
                    "Keep by a question",
                    "derive keep",
                    "Features that answer a question, also near to another layer",
                    {{"keep", "Question", "A condition in CQL2; empty: all", Kind::Text, ""},
                     {"within-metres",
                      "Within metres",
                      "Of the other layer, on the ellipsoid",
                      Kind::Number,
                      "0",
                      {},
                      0,
                      1e8,
                      3},
                     {"relation", "How they stand", "A relation of shapes in place of a distance",
                      Kind::Choice, "near", relationChoices()},
                     {"near-keep", "Which of the other", "A condition for the other layer",
                      Kind::Text, ""}},
                    nullptr,
                    keepOf},
                   Beside::MaybeFeatures, "Near to"),
        ofFeatures({"join",
                    "Join a table",
                    "derive join",
                    "Columns of another table where two fields hold the same value",
                    {{"key", "Field here", "The field of this layer", Kind::Text, ""},
                     {"other-key", "Field there", "The field of the other; empty: called the same",
                      Kind::Text, ""},
                     kFields},
                    nullptr,
                    joinOf},
                   Beside::Features, "Table to join"),
        ofFeatures({"count-points",
                    "Points in areas",
                    "derive count-points",
                    "How many points of another layer lie in each area, with sums and means",
                    {{"fields", "Fields to sum up", "Fields of numbers, separated by commas",
                      Kind::Text, ""}},
                    nullptr,
                    pointsWithinOf},
                   Beside::Features, "Points"),
        ofFeatures({"nearest",
                    "Nearest of another layer",
                    "derive nearest",
                    "The nearest feature of another layer, with its distance in metres",
                    {kFields,
                     {"within-metres",
                      "Within metres",
                      "No farther than this; 0: however far",
                      Kind::Number,
                      "0",
                      {},
                      0,
                      1e8,
                      3}},
                    nullptr,
                    nearestOf},
                   Beside::Features, "Other layer"),
        ofFeatures({"share",
                    "Largest share",
                    "derive share",
                    "The area of another layer that most of each feature lies in, and its share",
                    {kFields},
                    nullptr,
                    shareOf},
                   Beside::Features, "Areas"),
        ofFeatures(
            {"grid",
             "Grid of points",
             "derive grid",
             "A raster from points: the mean, lowest or highest height in each cell",
             {{"cell",
               "Side of a cell",
               "In the unit of the CRS",
               Kind::Number,
               "1",
               {},
               1e-6,
               1e6,
               6},
              {"method",
               "Of several in a cell",
               "Which height a cell gets",
               Kind::Choice,
               "mean",
               {derive::kGriddingNames.begin(), derive::kGriddingNames.end()}},
              {"field", "Field", "In place of heights", Kind::Text, ""},
              {"keep", "Only points", "A condition in CQL2, such as class = 2", Kind::Text, ""}},
             gridOf}),
        ofFeatures({"buffer",
                    "Buffer",
                    "derive buffer",
                    "Areas within a distance of each feature",
                    {{"metres",
                      "Metres",
                      "On the ellipsoid; below 0 areas shrink",
                      Kind::Number,
                      "100",
                      {},
                      -1e6,
                      1e6,
                      3},
                     {"together", "Grown together", "One area of all", Kind::Yes, "no"},
                     {"planar", "In the plane of the CRS", "In its unit, not on the ellipsoid",
                      Kind::Yes, "no"},
                     {"steps",
                      "Sides of a full turn",
                      "More are rounder",
                      Kind::Number,
                      "48",
                      {},
                      8,
                      720,
                      0}},
                    nullptr,
                    bufferOf}),
        ofFeatures({"cut",
                    "Cut by areas",
                    "derive cut",
                    "What of the features lies in the areas of another layer",
                    {},
                    nullptr,
                    cutOf},
                   Beside::Features, "Areas"),
        ofFeatures({"dissolve",
                    "Dissolve",
                    "derive dissolve",
                    "Features with the same value made one, numbers summed up",
                    {{"field", "By field", "Empty: all become one", Kind::Text, ""}},
                    nullptr,
                    dissolveOf}),
        ofFeatures({"reshape",
                    "Other shapes",
                    "derive reshape",
                    "Centroids, points inside, convex hulls, outlines of areas, areas of lines",
                    {{"into",
                      "Into",
                      "What each feature becomes",
                      Kind::Choice,
                      "centroid",
                      {derive::kNewShapeNames.begin(), derive::kNewShapeNames.end()}}},
                    nullptr,
                    reshapeOf}),
        ofFeatures({"points",
                    "Points from coordinates",
                    "derive points",
                    "Points from two columns of a table",
                    {{"x", "Easting or longitude", "A field of numbers", Kind::Text, "x"},
                     {"y", "Northing or latitude", "A field of numbers", Kind::Text, "y"},
                     {"crs", "CRS", "Of the coordinates; empty: the table's", Kind::Text, ""}},
                    nullptr,
                    pointsOf}),
        ofFeatures({"scatter",
                    "Points in areas, made",
                    "derive scatter",
                    "Random points, or a lattice of points, in areas",
                    {{"count",
                      "Points for each area",
                      "At random; 0 for a lattice",
                      Kind::Number,
                      "100",
                      {},
                      0,
                      1e6,
                      0},
                     {"spacing",
                      "Or so far apart",
                      "A lattice, in the CRS's unit; 0: at random",
                      Kind::Number,
                      "0",
                      {},
                      0,
                      1e9,
                      6},
                     {"seed",
                      "Seed",
                      "The same points for the same seed",
                      Kind::Number,
                      "1",
                      {},
                      0,
                      1e9,
                      0}},
                    nullptr,
                    scatterOf}),
        ofFeatures(
            {"zonal",
             "Raster under areas",
             "derive zonal",
             "Count, mean, sum, median, smallest, largest and majority of the cells in each",
             {{"prefix", "Names begin with", "Before count, mean and the others", Kind::Text, ""}},
             nullptr,
             zonalOf},
            Beside::Raster, "Raster"),
        ofFeatures({"cell-values",
                    "Raster at features",
                    "derive cell-values",
                    "The value of a raster at each feature",
                    {{"name", "Column", "What the new column is called", Kind::Text, "value"}},
                    nullptr,
                    cellValuesOf},
                   Beside::Raster, "Raster"),
    };
}

}  // namespace ledge::session
