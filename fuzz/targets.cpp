#include "fuzz/targets.h"

#include <unistd.h>

#include <algorithm>
#include <cstring>
#include <fstream>

#include "core/base/calendar.h"
#include "core/base/number_list.h"
#include "core/base/numbers.h"
#include "core/crs/crs.h"
#include "core/crs/wkt.h"
#include "core/query/plain.h"
#include "core/query/question.h"
#include "core/raster/expression.h"
#include "document/edits/edit_table.h"
#include "document/json/project_json.h"
#include "document/json/style_text.h"
#include "io/files/csv.h"
#include "io/geopackage/wkb.h"
#include "io/ntv2/ntv2.h"
#include "io/registry.h"
#include "session/label_places.h"
#include "session/sld.h"

namespace ledge::fuzz {
namespace {
namespace fs = std::filesystem;

std::string textOf(Input input) {
    return {reinterpret_cast<const char*>(input.data()), input.size()};
}

// A folder of this process, in memory where there is one.
const fs::path& folder() {
    static const fs::path made = [] {
        const fs::path base = fs::exists("/dev/shm") ? "/dev/shm" : fs::temp_directory_path();
        const fs::path out = base / ("ledge-fuzz-" + std::to_string(::getpid()));
        fs::create_directories(out);
        std::atexit([] {
            std::error_code ignored;
            fs::remove_all(folder(), ignored);
        });
        return out;
    }();
    return made;
}

void put(const fs::path& path, Input bytes) {
    std::ofstream(path, std::ios::binary)
        .write(reinterpret_cast<const char*>(bytes.data()),
               static_cast<std::streamsize>(bytes.size()));
}

// "of what is read, so much": what views compute may be endless.
constexpr std::int64_t kMostRows = 2000;

void readRaster(const RasterSource& raster, int deep = 0) {
    const RasterInfo& info = raster.info();
    if (info.bands.empty()) return;
    const auto cols = std::min<std::int64_t>(info.width, 97),
               rows = std::min<std::int64_t>(info.height, 61);
    if (cols <= 0 || rows <= 0) return;
    Grid<double> cells(static_cast<std::size_t>(rows), static_cast<std::size_t>(cols));
    // The first cells, and the last.
    for (const CellWindow window : {CellWindow{0, 0, cols, rows},
                                    CellWindow{info.width - cols, info.height - rows, cols, rows}})
        for (const int band : {0, static_cast<int>(info.bands.size()) - 1})
            (void)raster.read(band, window, cells.view()).has_value();
    if (deep < 3)
        for (const RasterPtr& overview : raster.overviews())
            if (overview) readRaster(*overview, deep + 1);
}

void readFeatures(const FeatureSource& source) {
    for (std::size_t i = 0; i < std::min<std::size_t>(source.layers().size(), 4); ++i) {
        std::int64_t left = kMostRows;
        (void)source
            .scan(i, {}, [&left](const Feature& f) { return f.geometry.isEmpty() || --left > 0; },
                  {})
            .has_value();
    }
}

// The main file, then its parts: each with its length before it, the suffixes in the order of the
// table of formats.
void readFile(const Target& target, Input input) {
    // A name that tells a place too, for the format that wants one.
    const fs::path main = folder() / ("N61W011" + target.suffix);
    const io::Format* format = nullptr;
    for (const io::Format& one : io::formats())
        if (one.name == target.name) format = &one;
    if (!format) return;
    std::error_code code;
    const auto take = [&input]() -> Input {
        std::uint32_t size = 0;
        if (input.size() < sizeof size) return {};
        std::memcpy(&size, input.data(), sizeof size);
        input = input.subspan(sizeof size);
        const Input out = input.first(std::min<std::size_t>(size, input.size()));
        input = input.subspan(out.size());
        return out;
    };
    if (format->parts.empty()) {
        put(main, input);
    } else {
        put(main, take());
        for (const io::FilePart& part : format->parts) {
            const Input bytes = take();
            if (bytes.empty())
                fs::remove(part.of(main), code);
            else
                put(part.of(main), bytes);
        }
    }
    const auto source = io::openSource(main);
    if (!source) return;
    if (const auto* raster = std::get_if<RasterPtr>(&*source)) readRaster(**raster);
    if (const auto* features = std::get_if<FeatureSourcePtr>(&*source)) readFeatures(**features);
}

void readShiftGrid(const Target& target, Input input) {
    const fs::path path = folder() / ("in" + target.suffix);
    put(path, input);
    if (const auto grid = io::readShiftGrid(path)) (void)grid->forward({-8, 61});
}

void readCrs(const Target&, Input input) {
    const std::string text = textOf(input);
    for (const auto& crs : {crs::parseCrs(text), crs::crsFromWkt(text)})
        if (crs && *crs) (void)crs::crsFromWkt(crs::toWkt(**crs)).has_value();
}

// What was read is written and read again, and is the same.
void readProject(const Target&, Input input) {
    const auto read = doc::projectFromText(textOf(input), "/data");
    if (!read) return;
    const std::string text = doc::projectText(*read, "/data");
    const auto again = doc::projectFromText(text, "/data");
    if (!again || doc::projectText(*again, "/data") != text) std::abort();
}

void readExpression(const Target&, Input input) {
    const auto parsed = Expression::parse(textOf(input), {"a", "b"});
    if (!parsed) return;
    const std::vector<double> a{1, -2, kNaN}, b{0, 3, 4};
    std::vector<double> out(3);
    const std::vector<std::span<const double>> bands{a, b};
    parsed->evaluate(bands, out);
}

// What is read is written alike, and answered without harm.
void readQuestion(const Target&, Input input) {
    static const FeatureTable table = [] {
        FeatureList list;
        list.info.crs = *crs::crsFromCode(4326);
        list.info.fields = {{"name", FieldType::Text},
                            {"n", FieldType::Integer},
                            {"v", FieldType::Real},
                            {"is", FieldType::Boolean},
                            {"day", FieldType::Date}};
        for (int i = 0; i < 5; ++i)
            list.features.push_back(
                {i,
                 i == 3 ? Geometry() : Geometry::line({{0, 0}, {double(i), 1}}),
                 {i == 1 ? Value() : Value(std::string("Ness")), std::int64_t{i} << 61, i - 2.5,
                  i % 2 == 0, i == 2 ? Value() : Value(Date{i * 9000})}});
        return FeatureTable(list);
    }();
    const std::string text = textOf(input);
    const auto tree = query::parse(text);
    if (!tree) return;
    const auto again = query::parse(query::toText(**tree));
    if (!again || !query::isAlike(**tree, **again)) std::abort();
    if (const auto plain = query::plainOf(**tree))
        if (const auto same = query::treeOf(*plain, table.info)) (void)query::toText(*same);
    const auto question = query::Question::bind(*tree, table.info, text);
    if (!question) return;
    (void)query::computed(*question, table).has_value();
    if (question->kind() == query::Kind::Boolean)
        (void)query::rowsWhere(*question, table).has_value();
}

// Cells read and written again stay what they were.
void readCsv(const Target&, Input input) {
    const auto rows = io::csvRows(textOf(input));
    std::string text;
    for (const auto& row : rows) {
        for (std::size_t i = 0; i < row.size(); ++i)
            text += (i > 0 ? "," : "") + io::csvCell(row[i]);
        text += '\n';
    }
    const auto again = io::csvRows(text);
    // A row of one empty cell is a blank line, which is left out.
    const auto isBlank = [](const auto& row) { return row.size() == 1 && row[0].empty(); };
    auto left = rows;
    std::erase_if(left, isBlank);
    if (again != left) std::abort();
}

void readWords(const Target&, Input input) {
    const std::string text = textOf(input);
    (void)parseNumber(text);
    (void)parseNumbers(text).has_value();
    (void)parseDate(text);
    (void)parseTimeStamp(text);
}

void readWkb(const Target&, Input input) {
    Geometry geometry;
    if (!io::readWkb(input, geometry) || !geometry.isFinite()) return;
    std::string bytes;
    io::putWkb(bytes, geometry);
    Geometry again;
    if (!io::readWkb(std::as_bytes(std::span(bytes)), again)) std::abort();
}

// A name, then key=value, a line each.
void readEdit(const Target&, Input input) {
    static const doc::Document document = [] {
        const auto read = doc::projectFromText(
            "{\"ledge_project\":1,\"sources\":[{\"id\":1,\"name\":\"s\",\"path\":\"s.gpkg\"}],"
            "\"layers\":[{\"id\":2,\"name\":\"l\",\"kind\":\"vector\",\"source\":1},{\"id\":3,"
            "\"name\":"
            "\"g\",\"kind\":\"group\",\"layers\":[{\"id\":4,\"name\":\"grid\",\"kind\":\"grid "
            "lines\"}]}],\"sheets\":[{\"id\":5,\"name\":\"sheet\",\"items\":[{\"id\":6,\"kind\":"
            "\"map\"}]}"
            "],\"views\":[{\"id\":7,\"name\":\"v\"}]}",
            "/data");
        return read ? *read : doc::Document();
    }();
    std::string text = textOf(input), name;
    doc::EditWords words;
    for (std::size_t at = 0, line = 0; at <= text.size(); ++line) {
        const auto end = std::min(text.find('\n', at), text.size());
        const std::string one = text.substr(at, end - at);
        at = end + 1;
        const auto equals = one.find('=');
        if (line == 0)
            name = one;
        else if (equals != std::string::npos)
            words[one.substr(0, equals)] = one.substr(equals + 1);
    }
    const auto done = doc::applied(document, name, words);
    if (done) (void)doc::projectText(done->document, "/data");
}

// A style of ours, or a descriptor, onto a layer; what comes of it is written again both ways.
void readStyle(const Target&, Input input) {
    doc::Layer layer;
    layer.content = doc::VectorLayer{};
    const std::string text = textOf(input);
    if (const auto styled = doc::withStyleText(layer, text)) {
        (void)doc::styleFileText(*styled);
        (void)session::writeSld(*styled->as<doc::VectorLayer>(), "x");
    }
    if (const auto read = session::readSld(text, *layer.as<doc::VectorLayer>()))
        (void)session::writeSld(read->layer, "x");
}

void readPlaces(const Target&, Input input) {
    if (const auto placed = session::withPins(doc::LabelStyle(), textOf(input)))
        (void)session::withPins(*placed, session::pinsCsv(*placed));
}
}  // namespace

const std::vector<Target>& targets() {
    static const std::vector<Target> all = [] {
        std::vector<Target> out{{"shift grid", ".gsb", readShiftGrid},
                                {"crs", ".wkt", readCrs},
                                {"project", ".ledge", readProject},
                                {"expression", ".txt", readExpression},
                                {"question", ".txt", readQuestion},
                                {"csv", ".csv", readCsv},
                                {"words", ".txt", readWords},
                                {"wkb", ".wkb", readWkb},
                                {"edit", ".txt", readEdit},
                                {"style", ".ledgestyle", readStyle},
                                {"label places", ".csv", readPlaces}};
        for (const io::Format& format : io::formats())
            out.push_back(
                {std::string(format.name), std::string(format.suffixes.front()), readFile});
        return out;
    }();
    return all;
}

const Target* targetNamed(const std::string& name) {
    for (const Target& target : targets())
        if (target.name == name) return &target;
    return nullptr;
}

}  // namespace ledge::fuzz
