#include "session/source_cache.h"

#include <algorithm>

#include "core/crs/datum_choices.h"
#include "core/crs/transformation.h"
#include "core/globe/mapping.h"
#include "core/globe/raster_extent.h"
#include "core/query/question.h"
#include "io/ntv2/ntv2.h"
#include "session/derive/operations.h"
#include "session/overview_store.h"

namespace ledge::session {
namespace fs = std::filesystem;

Result<std::size_t> layerIndex(const FeatureSource& source, const std::string& name) {
    const auto& layers = source.layers();
    std::string known;
    for (std::size_t i = 0; i < layers.size(); ++i) {
        if (name.empty() || layers[i].name == name) return i;
        known += (i > 0 ? ", " : "") + layers[i].name;
    }
    return Error{ErrorCode::NotFound, "layer \"" + name + "\"", "the file has no such layer",
                 "it has: " + known};
}

namespace {
constexpr std::size_t kMostLive = 32;
constexpr std::size_t kMostIdleRasters = 32;  // each holds its file open

// What tells one opened file from another: which it is, and how it is read.
std::string fileKeyOf(const Locator& where) {
    const Reading& r = where.reading;
    if (r.isPlain()) return where.path.string();
    return where.path.string() + "\t" + r.encoding + "\t" + r.delimiter + "\t" + r.decimalSign +
           "\t" + (r.hasHeader ? *r.hasHeader ? "header" : "no header" : "");
}

// What tells one opened source from another.
std::string keyOf(const doc::SourceRef& source) {
    std::string key =
        fileKeyOf(source) + "\n" + source.layer + "\n" + source.declaredCrs.value_or("\t") + "\n" +
        source.address + "\n" +
        (source.edits->isEmpty() ? std::string()
                                 : "edits " + std::to_string(source.edits->fingerprint())) +
        "\n" +
        (source.shiftGrid
             ? source.shiftGrid->path.string() + " " + std::to_string(source.shiftGrid->target)
             : std::string());
    if (!source.filter.empty()) key += "\nonly " + source.filter;
    if (!source.isLive()) return key;
    key += "\nlive " + source.lineage->operation;
    for (const auto& [name, value] : source.lineage->parameters) key += "\n" + name + "=" + value;
    for (const doc::LineageInput& input : source.lineage->inputs)
        key += "\n" + input.name + " " + fileKeyOf(input) + " " + input.layer + " " +
               std::to_string(input.band) + " " + input.declaredCrs.value_or("\t") +
               (input.shiftGrid ? input.shiftGrid->path.string() : std::string()) +
               (input.heightUnit == doc::HeightUnit::Foot ? " foot" : "");
    return key;
}

// When the newest of its files was changed.
fs::file_time_type modifiedTime(const doc::SourceRef& source) {
    std::error_code code;
    if (!source.isLive()) return fs::last_write_time(source.path, code);
    fs::file_time_type newest = fs::file_time_type::min();
    for (const doc::LineageInput& input : source.lineage->inputs)
        newest = std::max(newest, fs::last_write_time(input.path, code));
    return newest;
}
}  // namespace

std::shared_ptr<SourceCache::Entry> SourceCache::entry(const doc::SourceRef& source) const {
    if (m_interface.load() == std::this_thread::get_id()) ++m_waits;
    const auto modified = modifiedTime(source);
    const std::string key = keyOf(source);
    const std::lock_guard lock(m_mutex);
    auto& slot = m_entries[key];
    if (slot) slot->used = ++m_turn;
    if (slot && slot->modified == modified) return slot;
    const bool isNew = !slot;
    slot = std::make_shared<Entry>();
    slot->modified = modified;
    slot->used = ++m_turn;
    const auto made = slot;
    forgetUnused();
    // Each turn of a live source's settings is a source of its own; old ones are let go.
    if (isNew && source.isLive()) {
        m_live.push_back(key);
        if (m_live.size() > kMostLive) {
            m_entries.erase(m_live.front());
            m_live.erase(m_live.begin());
        }
    }
    return made;
}

std::size_t SourceCache::held() const {
    const std::lock_guard lock(m_mutex);
    return m_entries.size();
}

// An entry that only the cache holds, with tables that only the entry holds, serves nobody now.
void SourceCache::forgetUnused() const {
    struct Idle {
        std::uint64_t used;
        std::string key;
        std::size_t bytes;
    };
    std::vector<Idle> idle, idleRasters;
    std::size_t all = 0;
    for (const auto& [key, entry] : m_entries) {
        if (entry.use_count() > 1) continue;
        const std::unique_lock lock(entry->mutex, std::try_to_lock);
        if (!lock) continue;
        if (entry->raster && entry->raster.use_count() == 1 &&
            std::all_of(entry->otherBands.begin(), entry->otherBands.end(),
                        [](const auto& band) { return band.second.use_count() == 1; }))
            idleRasters.push_back({entry->used, key, 0});
        if (!entry->table) continue;
        std::size_t bytes = entry->table->bytes();
        long own = 1;  // and its copies for maps in the same CRS
        bool isUsed = false;
        for (const auto& [crs, tolerance, features] : entry->projected) {
            bytes += features->table->bytes();
            own += features->table == entry->table ? 1 : 0;
            isUsed = isUsed || features.use_count() > 1;
        }
        isUsed = isUsed || entry->table.use_count() > own;
        all += bytes;
        if (!isUsed) idle.push_back({entry->used, key, bytes});
    }
    const auto byAge = [](const Idle& a, const Idle& b) { return a.used < b.used; };
    std::sort(idle.begin(), idle.end(), byAge);
    std::sort(idleRasters.begin(), idleRasters.end(), byAge);
    for (std::size_t i = 0; i + kMostIdleRasters < idleRasters.size(); ++i)
        m_entries.erase(idleRasters[i].key);
    std::erase_if(m_files, [](const auto& known) { return known.second.file.expired(); });
    for (const Idle& one : idle) {
        if (all <= m_limit) return;
        all -= one.bytes;
        m_entries.erase(one.key);
    }
}

Result<std::shared_ptr<SourceCache::OpenFile>> SourceCache::file(const Locator& where,
                                                                 const Progress& progress) const {
    const std::string key = fileKeyOf(where);
    std::error_code code;
    const auto modified = fs::last_write_time(where.path, code);
    {
        const std::lock_guard lock(m_mutex);
        if (const auto it = m_files.find(key);
            it != m_files.end() && it->second.modified == modified)
            if (auto known = it->second.file.lock()) return known;
    }
    auto source = io::openSource(where, progress);
    if (!source) return source.error();
    auto out = std::make_shared<OpenFile>();
    out->source = *std::move(source);
    const std::lock_guard lock(m_mutex);
    m_files[key] = {modified, out};
    return out;
}

std::uint64_t SourceCache::version(const doc::SourceRef& source) const {
    if (m_interface.load() == std::this_thread::get_id()) ++m_waits;
    const std::string key = keyOf(source);
    const auto modified = modifiedTime(source).time_since_epoch().count();
    const std::lock_guard lock(m_mutex);
    const auto times = m_reopened.find(key);
    // Told by what it is, not by when it was opened, so that pictures of it outlive its being let
    // go and opened again.
    return std::hash<std::string>{}(key + "\n" + std::to_string(modified) + "\n" +
                                    std::to_string(times == m_reopened.end() ? 0 : times->second));
}

// Over the table as it was read, which stays in the cache for the next edit.
void SourceCache::fillEdited(Entry& e, const doc::SourceRef& source,
                             const Progress& progress) const {
    doc::SourceRef plain = source;
    plain.edits = {};
    const auto read = table(plain, progress);
    auto next = read ? edited(**read, *source.edits, progress) : Result<FeatureTable>(read.error());
    if (next)
        e.table = std::make_shared<const FeatureTable>(*std::move(next));
    else if (next.error().code != ErrorCode::Cancelled)
        e.error = next.error();
}

// Over the whole table, which the cache shares with layers that show all of it.
void SourceCache::fillFiltered(Entry& e, const doc::SourceRef& source,
                               const Progress& progress) const {
    doc::SourceRef whole = source;
    whole.filter.clear();
    const auto fail = [&e](const Error& error) {
        if (error.code != ErrorCode::Cancelled) e.error = error;
    };
    const auto read = table(whole, progress);
    if (!read) return fail(read.error());
    const auto condition = query::Question::condition(source.filter, (*read)->info);
    if (!condition) {
        Error error = condition.error();
        error.what = "filter";
        return fail(error);
    }
    const auto rows = query::rowsWhere(*condition, **read, progress);
    if (!rows) return fail(rows.error());
    FeatureTable kept = (*read)->atRows(rows->rows);
    if (!rows->trouble.empty()) kept.info.notes.push_back("filter: " + rows->trouble);
    e.table = std::make_shared<const FeatureTable>(std::move(kept));
}

void SourceCache::fill(Entry& e, const doc::SourceRef& source, const Progress& progress) const {
    if (e.error || e.raster || e.table) return;
    if (!source.filter.empty()) return fillFiltered(e, source, progress);
    if (!source.edits->isEmpty()) return fillEdited(e, source, progress);
    std::optional<crs::CrsPtr> declared;
    if (source.declaredCrs) {
        auto parsed = crs::parseCrs(*source.declaredCrs);
        if (!parsed) {
            e.error = parsed.error();
            return;
        }
        declared = *parsed;
    }
    // What was stopped may be asked for again.
    const auto failed = [&e](const Error& error) {
        if (error.code != ErrorCode::Cancelled) e.error = error;
    };
    std::shared_ptr<OpenFile> open;
    RasterPtr raster;
    if (source.isLive() && givesFeatures(*source.lineage)) {
        Remarks remarks;
        auto derived = derivedTable(*source.lineage, *this, progress, &remarks);
        if (!derived) return failed(derived.error());
        derived->info.name = source.name;
        for (const std::string& remark : remarks) derived->info.notes.push_back(remark);
        e.table = std::make_shared<const FeatureTable>(*std::move(derived));
        return;
    }
    if (source.isLive()) {
        auto derived = derivedRaster(*source.lineage, *this, progress);
        if (!derived) return failed(derived.error());
        raster = *std::move(derived);
    } else {
        auto opened = file(source, progress);
        if (!opened) return failed(opened.error());
        open = *std::move(opened);
        if (const auto* read = std::get_if<RasterPtr>(&open->source))
            raster = OverviewStore().attached(*read, source.path);
    }
    // The CRS with the grid that leads out of its datum, if there is one.
    const auto completed = [&](crs::CrsPtr crs) {
        if (!source.shiftGrid || !crs) return crs;
        auto grid = io::gridOperation(source.shiftGrid->path, crs->geographicCode,
                                      source.shiftGrid->target);
        if (!grid) {
            e.error = grid.error();
            return crs;
        }
        auto own = std::make_shared<crs::Crs>(*crs);
        own->ownOperation = std::make_shared<crs::DatumOperation>(*std::move(grid));
        return crs::CrsPtr(own);
    };
    if (raster) {
        if (source.shiftGrid && !declared) declared = raster->info().crs;
        if (declared) declared = completed(*declared);
        if (e.error) return;
        e.raster = std::make_shared<Pyramid>(
            declared ? io::declared(std::move(raster), *declared) : std::move(raster), 0);
        return;
    }
    const auto& features = std::get<FeatureSourcePtr>(open->source);
    const std::lock_guard scanning(open->scan);
    const auto layer = layerIndex(*features, source.layer);
    if (!layer) {
        e.error = layer.error();
        return;
    }
    auto table = readAll(*features, *layer, progress);
    if (!table) return failed(table.error());
    crs::CrsPtr crs = completed(declared ? *declared : (*table)->info.crs);
    if (e.error) return;
    e.table = *table;
    if (crs == (*table)->info.crs) return;
    // Only what is said of it changes; columns and coordinates are shared.
    auto other = std::make_shared<FeatureTable>(**table);
    other->info.crs = std::move(crs);
    e.table = std::move(other);
}

namespace {
Error wrongKind(const doc::SourceRef& source, const char* wanted) {
    return {ErrorCode::InvalidArgument, source.path.string(),
            std::string("not a ") + wanted + " source", "choose another file"};
}
}  // namespace

Result<std::shared_ptr<const Pyramid>> SourceCache::raster(const doc::SourceRef& source,
                                                           int band) const {
    const auto e = entry(source);
    const std::lock_guard lock(e->mutex);
    fill(*e, source, reading());
    if (e->error) return *e->error;
    if (!e->raster)
        return reading().stopped() ? cancelled(source.name) : wrongKind(source, "raster");
    if (band == 0) return e->raster;
    const auto count = e->raster->source().info().bands.size();
    if (band < 0 || static_cast<std::size_t>(band) >= count)
        return Error{ErrorCode::NotFound, source.name,
                     "it has " + std::to_string(count) + " bands, not " + std::to_string(band + 1),
                     "choose another band in the Style bench"};
    auto& other = e->otherBands[band];
    if (!other) other = std::make_shared<Pyramid>(e->raster->raster(), band);
    return other;
}

Result<TablePtr> SourceCache::table(const doc::SourceRef& source, const Progress& progress) const {
    const auto e = entry(source);
    const std::lock_guard lock(e->mutex);
    fill(*e, source, progress);
    if (e->error) return *e->error;
    if (!e->table) return progress.stopped() ? cancelled(source.name) : wrongKind(source, "vector");
    return e->table;
}

Result<std::shared_ptr<const doc::MapFeatures>> SourceCache::features(const doc::SourceRef& source,
                                                                      const crs::CrsPtr& mapCrs,
                                                                      double tolerance) const {
    // Finer than asked, so that the next steps of looking closer find it fine enough.
    constexpr double kFiner = 4, kUsual = 1000, kFinest = 0.01;  // metres
    const auto read = table(source, reading());
    if (!read) return read.error();
    const auto e = entry(source);
    const std::lock_guard lock(e->mutex);
    const double unit = mapCrs ? mapCrs->metresPerUnit() : 1;
    const double wanted = std::max(tolerance, kFinest / unit);
    const auto serves = [wanted](const doc::MapFeatures& features, double wasAsked) {
        return features.strayed <= wanted || wasAsked <= wanted;
    };
    for (const Entry::Projected& known : e->projected)
        if (crs::isSame(known.crs, mapCrs) && crs::haveSameChoices(known.crs, mapCrs) &&
            serves(*known.features, known.tolerance))
            return known.features;
    const bool isLarge = ShapeStore::wants(source, **read);
    if (isLarge)
        if (auto kept = m_shapes.read(source, *read, mapCrs);
            kept && serves(*kept->features, kept->tolerance)) {
            e->projected.push_back({mapCrs, kept->tolerance, kept->features});
            return std::shared_ptr<const doc::MapFeatures>(std::move(kept->features));
        }
    const double finer =
        std::max((std::isfinite(tolerance) ? tolerance / kFiner : kUsual / unit), kFinest / unit);
    auto mapped = globe::mapped(**read, mapCrs, finer, true, reading());
    if (!mapped) return mapped.error();
    const bool isSame = mapped->table.isSharedWith(**read);
    auto features = std::make_shared<doc::MapFeatures>(
        isSame ? *read : std::make_shared<const FeatureTable>(std::move(mapped->table)));
    features->strayed = mapped->strayed;
    features->seams = std::move(mapped->seams);
    auto coarser = coarseShapes(*features->table, reading());
    if (!coarser) return coarser.error();
    features->coarser = *std::move(coarser);
    // A finer one serves for all that the coarser one did.
    std::erase_if(e->projected, [&](const Entry::Projected& known) {
        return crs::isSame(known.crs, mapCrs) && crs::haveSameChoices(known.crs, mapCrs) &&
               known.tolerance >= finer;
    });
    if (e->projected.size() >= 3) e->projected.erase(e->projected.begin());
    e->projected.push_back({mapCrs, finer, features});
    if (isLarge) keepShapes(source, *read, mapCrs, {features, finer});
    return std::shared_ptr<const doc::MapFeatures>(std::move(features));
}

void SourceCache::keepShapesIn(ShapeStore store) {
    const std::lock_guard lock(m_mutex);
    m_shapes = std::move(store);
}

// Beside, so that the first picture does not wait for the disk.
void SourceCache::keepShapes(const doc::SourceRef& source, const TablePtr& table,
                             const crs::CrsPtr& mapCrs, const ShapeStore::Kept& kept) const {
    std::jthread before;  // joined once the mutex is free
    const std::lock_guard lock(m_mutex);
    before = std::exchange(m_keeper, std::jthread([store = m_shapes, source, table, mapCrs, kept] {
                               store.keep(source, table, mapCrs, kept);
                           }));
}

void SourceCache::reopen(const doc::SourceRef& source) const {
    const std::lock_guard lock(m_mutex);
    m_files.erase(source.path);
    const std::string key = keyOf(source);
    m_entries.erase(key);
    ++m_reopened[key];
}

crs::CrsPtr SourceCache::crsOf(const doc::SourceRef& source) const {
    const auto e = entry(source);
    const std::lock_guard lock(e->mutex);
    fill(*e, source, reading());
    if (e->raster) return e->raster->source().info().crs;
    return e->table ? e->table->info.crs : nullptr;
}

Box SourceCache::extent(const doc::SourceRef& source, const crs::CrsPtr& mapCrs) const {
    std::shared_ptr<const Pyramid> raster;
    {
        const auto e = entry(source);
        const std::lock_guard lock(e->mutex);
        fill(*e, source, reading());
        raster = e->raster;
        if (!raster && !e->table) return {};
    }
    if (!raster) {  // as the map cuts it
        const auto mapped = features(source, mapCrs);
        return mapped ? (*mapped)->table->info.extent : Box{};
    }
    const RasterInfo& info = raster->source().info();
    const auto way = crs::Transformation::between(info.crs, mapCrs);
    if (!way) return {};
    const auto there = globe::extentOn(info, mapCrs, *way);
    return there ? there->box : Box{};
}

std::optional<Error> SourceCache::problem(const doc::SourceRef& source) const {
    const auto e = entry(source);
    const std::lock_guard lock(e->mutex);
    fill(*e, source, reading());
    return e->error;
}

std::vector<std::string> SourceCache::notes(const doc::SourceRef& source) const {
    const auto e = entry(source);
    const std::lock_guard lock(e->mutex);
    fill(*e, source, reading());
    if (e->raster) return e->raster->source().info().notes;
    return e->table ? e->table->info.notes : std::vector<std::string>{};
}

}  // namespace ledge::session
