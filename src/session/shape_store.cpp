#include "session/shape_store.h"

#include <fstream>

#include "core/base/array_file.h"
#include "core/crs/datum_choices.h"
#include "core/crs/wkt.h"
#include "io/files/atomic_file.h"
#include "session/cache_folder.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;
// Another whenever what is written is another, or worked out otherwise.
constexpr std::uint64_t kForm = 0x4c65644b70740001;
constexpr std::size_t kManyPoints = 2'000'000;

std::string crsKey(const crs::CrsPtr& crs) {
    if (!crs) return "plane";
    std::string out = crs->code != 0 ? std::to_string(crs->code) : crs::toWkt(*crs);
    return out + (crs->ownOperation ? " led" : "");
}

// Rows with seams: each row, how many points it has, and all of them one after the other.
void putSeams(ArrayWriter& out, const doc::MapFeatures& features) {
    std::vector<std::uint64_t> rows, counts;
    std::vector<std::uint8_t> all;
    for (const auto& [row, seams] : features.seams) {
        rows.push_back(row);
        counts.push_back(seams.size());
        all.insert(all.end(), seams.begin(), seams.end());
    }
    out.put(rows);
    out.put(counts);
    out.put(all);
}
bool takeSeams(ArrayReader& in, std::map<std::size_t, std::vector<std::uint8_t>>& out) {
    std::vector<std::uint64_t> rows, counts;
    std::vector<std::uint8_t> all;
    if (!in.take(rows) || !in.take(counts) || !in.take(all) || rows.size() != counts.size())
        return false;
    std::size_t at = 0;
    for (std::size_t i = 0; i < rows.size(); at += counts[i++]) {
        if (counts[i] > all.size() - at) return false;
        const auto from = all.begin() + static_cast<std::ptrdiff_t>(at);
        out[rows[i]].assign(from, from + static_cast<std::ptrdiff_t>(counts[i]));
    }
    return true;
}
}  // namespace

ShapeStore::ShapeStore(fs::path folder, std::uintmax_t limit)
    : m_folder(std::move(folder)), m_limit(limit) {}

fs::path ShapeStore::usualFolder() { return cacheFolder("shapes"); }

bool ShapeStore::wants(const doc::SourceRef& source, const FeatureTable& table) {
    // What follows something else, or is changed by hand, is another every moment; and operations
    // of the user's own are told by nothing but themselves.
    if (!source.isFile() || !source.edits->isEmpty() || !source.filter.empty() || source.shiftGrid)
        return false;
    std::size_t points = 0;
    for (std::size_t i = 0; i < table.size() && points < kManyPoints; ++i)
        points += table.geometry(i).points.size();
    return points >= kManyPoints;
}

fs::path ShapeStore::fileFor(const doc::SourceRef& source, const crs::CrsPtr& from,
                             const crs::CrsPtr& mapCrs) const {
    const Reading& r = source.reading;
    std::string text = stateOf(source.path) + "\n" + source.layer + "\n" + source.address + "\n" +
                       r.encoding + "\t" + r.delimiter + "\t" + r.decimalSign +
                       (r.hasHeader ? *r.hasHeader ? "\theader" : "\tnone" : "") + "\n" +
                       crsKey(from) + "\n" + crsKey(mapCrs);
    if (mapCrs && mapCrs->choices)
        for (const crs::DatumChoice& choice : mapCrs->choices->all())
            text += "\n" + std::to_string(choice.one) + " " + std::to_string(choice.other) + " " +
                    choice.operation;
    return m_folder / (hashed(text) + ".shapes");
}

std::optional<ShapeStore::Kept> ShapeStore::read(const doc::SourceRef& source,
                                                 const TablePtr& table,
                                                 const crs::CrsPtr& mapCrs) const {
    if (m_folder.empty()) return {};
    const fs::path path = fileFor(source, table->info.crs, mapCrs);
    std::error_code code;
    const auto bytes = fs::file_size(path, code);
    std::ifstream file(path, std::ios::binary);
    if (code || !file) return {};
    ArrayReader in(file, bytes);
    std::uint64_t form = 0, rows = 0, isSame = 0, coarser = 0;
    double strayed = 0;
    Kept out;
    if (!in.take(form) || form != kForm || !in.take(rows) || rows != table->size()) return {};
    in.take(out.tolerance);
    in.take(strayed);
    if (!in.take(isSame)) return {};
    std::optional<FeatureTable> own;
    if (isSame == 0) {
        own = table->withSavedShapes(in);
        if (!own) return {};
        own->info.crs = mapCrs;
    }
    const FeatureTable& shown = own ? *own : *table;
    auto tree = PackedTree::saved(in);
    std::map<std::size_t, std::vector<std::uint8_t>> seams;
    if (!tree || !takeSeams(in, seams) || !in.take(coarser)) return {};
    std::vector<std::pair<double, FeatureTable>> copies;
    for (std::uint64_t i = 0; i < coarser; ++i) {
        double within = 0;
        in.take(within);
        auto shapes = shown.withSavedShapes(in);
        if (!shapes) return {};
        copies.emplace_back(within, *std::move(shapes));
    }
    if (!in.isWhole()) return {};
    if (own) own->refreshInfo();
    out.features = std::make_shared<doc::MapFeatures>(
        own ? std::make_shared<const FeatureTable>(*std::move(own)) : table,
        FeatureIndex(*std::move(tree)));
    out.features->strayed = strayed;
    out.features->seams = std::move(seams);
    for (auto& [within, shapes] : copies) {
        shapes.refreshInfo();
        out.features->coarser.push_back(
            {within, std::make_shared<const FeatureTable>(std::move(shapes))});
    }
    touch(path);
    return out;
}

bool ShapeStore::keep(const doc::SourceRef& source, const TablePtr& table,
                      const crs::CrsPtr& mapCrs, const Kept& kept) const {
    if (m_folder.empty()) return false;
    std::error_code code;
    fs::create_directories(m_folder, code);
    if (code) return false;
    makeRoom(m_folder, ".shapes", m_limit);
    io::AtomicFile file(fileFor(source, table->info.crs, mapCrs));
    std::ofstream to(file.temporary(), std::ios::binary);
    if (!to) return false;
    const doc::MapFeatures& features = *kept.features;
    const bool isSame = features.table->isSharedWith(*table);
    ArrayWriter out(to);
    out.put(kForm);
    out.put(static_cast<std::uint64_t>(table->size()));
    out.put(kept.tolerance);
    out.put(features.strayed);
    out.put(static_cast<std::uint64_t>(isSame ? 1 : 0));
    if (!isSame) features.table->saveShapes(out);
    features.index.tree().save(out);
    putSeams(out, features);
    out.put(static_cast<std::uint64_t>(features.coarser.size()));
    for (const CoarseShapes& one : features.coarser) {
        out.put(one.within);
        one.table->saveShapes(out);
    }
    if (!out.finish()) return false;
    to.close();
    return to.good() && file.commit().has_value();
}

}  // namespace ledge::session
