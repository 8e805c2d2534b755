#include "session/converting.h"

#include <thread>

#include "core/base/pipe.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;

using Part = Result<FeatureTable>;  // the last may be what went wrong
constexpr std::size_t kAhead = 2;
constexpr std::size_t kRows = FeatureTable::kRun / 2;

LayerInfo infoOf(const LayerInfo& layer, std::span<const std::size_t> fields,
                 const Converting& converting) {
    LayerInfo out = layer;
    out.fields.clear();
    for (const std::size_t i : fields) out.fields.push_back(layer.fields[i]);
    if (converting.from) out.crs = *converting.from;
    return out;
}

// The layer as parts, until nobody takes any more.
void read(const FeatureSource& source, std::size_t layer, const Query& query, const LayerInfo& info,
          const Progress& progress, Pipe<Part>& parts) {
    std::optional<FeatureTableBuilder> builder(info);
    bool goesOn = true;
    const auto hand = [&] {
        goesOn = parts.put(builder->finish());
        builder.emplace(info);
    };
    const auto done = source.scan(
        layer, query,
        [&](const Feature& feature) {
            builder->add(feature);
            if (builder->size() >= kRows) hand();
            return goesOn;
        },
        progress);
    if (!done)
        parts.put(done.error());
    else if (goesOn && builder->size() > 0)
        hand();
    parts.end();
}

// Parts in the CRS they end in, and what is to be told of them.
class Moving {
public:
    Moving(const Converting& converting, const globe::Whole& whole)
        : m_converting(converting), m_whole(whole) {}

    Part moved(const FeatureTable& part, const Progress& progress) {
        for (std::size_t i = 0; i < part.size(); ++i) m_placed += !part.box(i).isEmpty();
        m_all += part.size();
        FeatureTable out = part;
        if (m_converting.to) {
            if (!m_mapping) {
                auto made =
                    globe::mappingFor(part.info.crs, m_converting.to, m_converting.how, m_whole);
                if (!made) return made.error();
                m_mapping = *std::move(made);
            }
            auto there = globe::reprojectedPart(part, *m_mapping, m_converting.how, progress);
            if (!there) return there.error();
            m_sum.outside += there->outside;
            m_sum.cut += there->cut;
            m_sum.clamped += there->clamped;
            m_sum.table.info = there->table.info;
            out = std::move(there->table);
        }
        if (const Box& extent = m_converting.extent; !extent.isEmpty())
            out = out.filtered(
                [&](const FeatureView& f) { return out.box(f.index).intersects(extent); });
        return out;
    }
    Result<std::string> told() const {
        const auto fine = globe::checkOutside(m_sum, m_placed, m_all, m_converting.how.isStrict);
        if (!fine) return fine.error();
        return m_sum.remark(m_all);
    }

private:
    const Converting& m_converting;
    const globe::Whole m_whole;
    std::optional<globe::Mapping> m_mapping;
    globe::Reprojected m_sum;  // its table only for what is said of it
    std::size_t m_placed = 0, m_all = 0;
};
}  // namespace

bool convertsInParts(const FeatureSource& source, std::size_t layer, const fs::path& from,
                     const fs::path& to) {
    std::error_code code;
    return source.hasUniqueKeys(layer) && io::writesParts(to) && !fs::equivalent(from, to, code);
}

Result<std::string> convertInParts(const FeatureSource& source, std::size_t layer,
                                   const Converting& converting, const fs::path& to,
                                   const Progress& progress, io::Replacing replacing) {
    Query query;
    query.columns = converting.columns;
    const auto fields = fieldsOf(source.layers()[layer], query);
    if (!fields) return fields.error();
    const LayerInfo info = infoOf(source.layers()[layer], *fields, converting);
    Pipe<Part> read(kAhead), moved(kAhead);
    // Parts are mapped as all of it would be.
    const LayerInfo& all = source.layers()[layer];
    Moving moving(converting,
                  {all.extent, static_cast<std::size_t>(std::max<std::int64_t>(all.count, 0))});
    std::jthread reader([&] { session::read(source, layer, query, info, progress, read); });
    std::jthread mover([&] {
        const Progress quiet{progress.stop, {}, progress.say};
        while (auto part = read.take()) {
            Part out = *part ? moving.moved(**part, quiet) : *std::move(part);
            if (const bool isLast = !out; !moved.put(std::move(out)) || isLast) break;
        }
        read.end();
        moved.end();
    });
    LayerInfo written = info;
    if (converting.to) written.crs = converting.to;
    const Progress quiet{progress.stop, {}, progress.say};
    const auto done = io::writeParts(
        written,
        [&]() -> Result<std::optional<FeatureTable>> {
            auto part = moved.take();
            if (!part) {
                // Before the file takes its place: not one that came to nothing.
                if (const auto told = moving.told(); !told) return told.error();
                return std::optional<FeatureTable>();
            }
            if (!*part) return part->error();
            return std::optional<FeatureTable>(**std::move(part));
        },
        to, quiet, replacing);
    read.end();
    moved.end();
    mover.join();
    reader.join();
    if (!done) return done.error();
    return moving.told();
}

}  // namespace ledge::session
