#pragma once
#include <atomic>
#include <map>
#include <mutex>
#include <thread>

#include "document/drawing_data.h"
#include "io/registry.h"
#include "session/shape_store.h"

namespace ledge::session {

/// Opened sources, shared by drawing, probing and jobs. Safe to call from several threads.
/// A file that changed on disk since it was opened is opened anew. Tables that nobody uses any more
/// are given up, the longest unused first, when all of them pass a limit in bytes, and rasters when
/// too many are open; what is in use stays.
class SourceCache final : public doc::DrawingData {
public:
    /// Bytes of feature tables kept beyond what is in use.
    void setLimit(std::size_t bytes) { m_limit = bytes; }
    /// What drawing large layers needs is kept from one run to the next; not before this is said.
    void keepShapesIn(ShapeStore store);
    /// What is read for drawing goes on when the map moves on, and is wanted again; it ends when
    /// nobody will look any more.
    void end() { m_end.request_stop(); }
    /// A window begins to look; nothing is being read.
    void begin() { m_end = std::stop_source(); }
    /// How many sources are held, for tests.
    std::size_t held() const;

    Result<std::shared_ptr<const Pyramid>> raster(const doc::SourceRef& source,
                                                  int band = 0) const override;
    Result<std::shared_ptr<const doc::MapFeatures>> features(const doc::SourceRef& source,
                                                             const crs::CrsPtr& mapCrs,
                                                             double tolerance) const override;
    using DrawingData::features;
    std::uint64_t version(const doc::SourceRef& source) const override;
    /// The features in the source's own CRS (or the declared one).
    Result<TablePtr> table(const doc::SourceRef& source, const Progress& progress = {}) const;

    /// An opened file, as long as somebody holds it: who needs it for more than one thing holds it
    /// until all is done, and it is opened once.
    struct OpenFile {
        io::Source source;
        std::mutex scan;  ///< features are read by one at a time
    };
    Result<std::shared_ptr<OpenFile>> file(const Locator& where,
                                           const Progress& progress = {}) const;

    /// Sources are never waited for on the thread of the interface. This is how often it was done
    /// nevertheless since that thread was named.
    void setInterfaceThread(std::thread::id thread) { m_interface = thread, m_waits = 0; }
    int waitsOfInterface() const { return m_waits; }

    /// Opens it anew the next time; what uses it now goes on with what it has.
    void reopen(const doc::SourceRef& source) const;

    /// The CRS a source counts as: the declared one, else the file's.
    crs::CrsPtr crsOf(const doc::SourceRef& source) const;
    /// Its extent in a map CRS; empty when it cannot be read.
    Box extent(const doc::SourceRef& source, const crs::CrsPtr& mapCrs) const;
    /// Why a source cannot be used; nothing when it can.
    std::optional<Error> problem(const doc::SourceRef& source) const;
    /// What was noted while opening, in words.
    std::vector<std::string> notes(const doc::SourceRef& source) const;

private:
    struct Entry {
        std::filesystem::file_time_type modified;
        std::uint64_t used = 0;  ///< turn of its last use; guarded by the cache's mutex
        std::optional<Error> error;
        std::shared_ptr<const Pyramid> raster;
        std::map<int, std::shared_ptr<const Pyramid>> otherBands;
        TablePtr table;
        struct Projected {
            crs::CrsPtr crs;
            double tolerance;  ///< that was asked for; units of the map
            std::shared_ptr<const doc::MapFeatures> features;
        };
        std::vector<Projected> projected;
        std::mutex mutex;  // guards the members above while they are filled
    };
    Progress reading() const { return {m_end.get_token(), {}}; }
    std::shared_ptr<Entry> entry(const doc::SourceRef& source) const;
    void forgetUnused() const;
    void fillFiltered(Entry& entry, const doc::SourceRef& source, const Progress& progress) const;
    void fillEdited(Entry& entry, const doc::SourceRef& source, const Progress& progress) const;
    void keepShapes(const doc::SourceRef& source, const TablePtr& table, const crs::CrsPtr& mapCrs,
                    const ShapeStore::Kept& kept) const;
    void fill(Entry& entry, const doc::SourceRef& source, const Progress& progress) const;

    std::stop_source m_end;
    mutable std::mutex m_mutex;  // guards all below
    mutable std::uint64_t m_turn = 0;
    std::size_t m_limit = std::size_t{2} << 30;
    mutable std::map<std::string, std::shared_ptr<Entry>> m_entries;
    mutable std::vector<std::string> m_live;  ///< keys of live sources, oldest first
    mutable std::map<std::string, std::uint64_t> m_reopened;  ///< how often, by key
    struct KnownFile {
        std::filesystem::file_time_type modified;
        std::weak_ptr<OpenFile> file;
    };
    mutable std::map<std::string, KnownFile> m_files;  ///< by path and how it is read
    ShapeStore m_shapes{{}};
    mutable std::jthread m_keeper;  ///< writes what is kept, one after the other
    std::atomic<std::thread::id> m_interface{};
    mutable std::atomic<int> m_waits{0};
};

/// The layer of a feature source by name; the first for an empty name.
Result<std::size_t> layerIndex(const FeatureSource& source, const std::string& name);

}  // namespace ledge::session
