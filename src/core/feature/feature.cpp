#include "core/feature/feature.h"

#include <algorithm>
#include <atomic>
#include <exception>
#include <mutex>
#include <thread>

#include "core/base/parallel.h"
#include "core/base/pipe.h"

namespace ledge {

Result<std::vector<std::size_t>> fieldsOf(const LayerInfo& layer, const Query& query) {
    std::vector<std::size_t> out;
    std::string known;
    for (std::size_t i = 0; i < layer.fields.size(); ++i) {
        const std::string& name = layer.fields[i].name;
        known += (i > 0 ? ", " : "") + name;
        if (!query.columns ||
            std::find(query.columns->begin(), query.columns->end(), name) != query.columns->end())
            out.push_back(i);
    }
    if (query.columns)
        for (const std::string& wanted : *query.columns)
            if (std::none_of(layer.fields.begin(), layer.fields.end(),
                             [&](const Field& f) { return f.name == wanted; }))
                return Error{ErrorCode::NotFound, layer.name,
                             "there is no column \"" + wanted + "\"", "it has: " + known};
    return out;
}

namespace {
// Puts features into a table beside the thread that reads them, a batch at a time. Batches come
// back empty, so that their arrays need not be made anew.
class Gathering {
public:
    explicit Gathering(FeatureTableBuilder& builder) : m_builder(builder) {
        for (std::size_t i = 0; i < kAhead + 1; ++i) m_empty.put({});
        m_thread = std::jthread([this] { gather(); });
    }
    ~Gathering() { end(); }

    // Whether more is taken: not once there is no memory for it.
    bool add(const Feature& feature) {
        if (m_batch.size == m_batch.features.size()) m_batch.features.emplace_back();
        m_batch.features[m_batch.size++] = feature;
        if (m_batch.size < kBatch) return true;
        if (!m_full.put(std::move(m_batch))) return false;
        auto next = m_empty.take();
        m_batch = next ? *std::move(next) : Batch();
        return next.has_value();
    }
    // All is in the table, or it is thrown why not.
    void finish() {
        if (m_batch.size > 0) m_full.put(std::move(m_batch));
        end();
        if (m_thrown) std::rethrow_exception(m_thrown);
    }

private:
    static constexpr std::size_t kBatch = 1024, kAhead = 3;
    struct Batch {
        std::vector<Feature> features;
        std::size_t size = 0;
    };

    void gather() {
        try {
            while (auto batch = m_full.take()) {
                for (std::size_t i = 0; i < batch->size; ++i) m_builder.add(batch->features[i]);
                batch->size = 0;
                m_empty.put(*std::move(batch));
            }
        } catch (...) {
            m_thrown = std::current_exception();
            m_full.end();
        }
        m_empty.end();
    }
    void end() {
        m_full.end();
        if (m_thread.joinable()) m_thread.join();
    }

    FeatureTableBuilder& m_builder;
    Batch m_batch;
    Pipe<Batch> m_full{kAhead}, m_empty{kAhead + 2};
    std::exception_ptr m_thrown;
    std::jthread m_thread;
};

// A layer on all cores, a piece at a time on each.
Result<TablePtr> readPieces(const TablePieces& pieces, const LayerInfo& info,
                            const Progress& progress) {
    constexpr std::int64_t kToldAfter = 4096;
    std::vector<FeatureTableBuilder> read;
    for (std::size_t i = 0; i < pieces.count(); ++i) read.emplace_back(info);
    std::vector<Result<void>> done(pieces.count());
    std::atomic<std::int64_t> rows{0};
    std::atomic<bool> isOver{false};
    std::mutex mutex;
    std::optional<std::size_t> last;  // the piece that was finished last; guarded by the mutex
    parallelRanges(pieces.count(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end && !isOver; ++i) {
            {
                const std::lock_guard lock(mutex);
                if (last) read[i].expectLike(read[*last]);
            }
            std::int64_t own = 0;
            done[i] = pieces.scan(
                i,
                [&](const Feature& feature) {
                    read[i].add(feature);
                    if (++own % kToldAfter == 0 && info.count > 0)
                        progress.at(std::min(1.0, static_cast<double>(rows += kToldAfter) /
                                                      static_cast<double>(info.count)));
                    return !isOver;
                },
                {progress.stop, {}, progress.say});
            if (!done[i]) isOver = true;
            const std::lock_guard lock(mutex);
            last = i;
        }
    });
    for (const auto& one : done)
        if (!one) return one.error();
    return TablePtr(
        std::make_shared<const FeatureTable>(FeatureTableBuilder::finish(std::move(read))));
}
}  // namespace

Result<TablePtr> readAll(const FeatureSource& source, std::size_t layer, const Progress& progress,
                         const Query& query) {
    const bool isWhole = query.extent.isEmpty() && !query.columns && query.limit == 0 &&
                         !query.filter && query.keep.empty();
    if (TablePtr whole = isWhole ? source.held(layer) : nullptr) return whole;
    LayerInfo info = source.layers()[layer];
    const auto fields = fieldsOf(info, query);
    if (!fields) return fields.error();
    std::vector<Field> kept;
    for (const std::size_t i : *fields) kept.push_back(info.fields[i]);
    info.fields = std::move(kept);
    constexpr std::int64_t kWorthAThread = 20'000;
    const bool isLarge = info.count >= kWorthAThread && threadCount() > 1;
    if (isWhole && isLarge)
        if (const auto pieces = source.pieces(layer, FeatureTable::kRun, progress))
            return readPieces(*pieces, info, progress);
    FeatureTableBuilder builder(std::move(info));
    Result<void> done;
    if (isLarge) {
        Gathering gathering(builder);
        done = source.scan(
            layer, query, [&](const Feature& feature) { return gathering.add(feature); }, progress);
        gathering.finish();
    } else {
        done = source.scan(
            layer, query,
            [&](const Feature& feature) {
                builder.add(feature);
                return true;
            },
            progress);
    }
    if (!done) return done.error();
    return TablePtr(std::make_shared<const FeatureTable>(builder.finish()));
}

}  // namespace ledge
