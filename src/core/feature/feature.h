#pragma once
#include "core/feature/feature_table.h"

namespace ledge {

/// What is asked of a layer of a source.
struct Query {
    Box extent;                                       ///< only what meets it; all when empty
    std::optional<std::vector<std::string>> columns;  ///< only these fields; all when not given
    std::int64_t limit = 0;                           ///< at most so many; 0: all
    std::function<bool(const Feature&)> filter;       ///< only those for which it holds
    /// Features for which this condition (CQL2-Text) does not hold may be left out, as far as the
    /// source can tell; whoever asks looks at what comes once more.
    std::string keep = {};
};

/// A layer in pieces that may be read at once, each by another thread, all of one state of the
/// file. One after another they give its features in the order of a scan.
class TablePieces {
public:
    virtual ~TablePieces() = default;
    virtual std::size_t count() const = 0;
    /// As FeatureSource::scan, of one piece and all fields.
    virtual Result<void> scan(std::size_t piece, const std::function<bool(const Feature&)>& visit,
                              const Progress& progress) const = 0;
};

/// Vector layers of a file. Safe to call from several threads.
class FeatureSource {
public:
    virtual ~FeatureSource() = default;
    virtual std::string format() const = 0;
    virtual const std::vector<LayerInfo>& layers() const = 0;
    /// Calls `visit` for each feature that answers the query, until it returns false. Values are
    /// those of the columns asked for, in the layer's order of fields. The feature is the reader's
    /// own and changes with the next one. Errors: NotFound for a column that is not there;
    /// BadFormat, IoFailure, Cancelled.
    virtual Result<void> scan(std::size_t layer, const Query& query,
                              const std::function<bool(const Feature&)>& visit,
                              const Progress& progress) const = 0;
    /// The layer that has all features where this one is thinned for being looked at; else itself.
    virtual std::size_t whole(std::size_t layer) const { return layer; }
    /// Whether no two features of a layer have the same key.
    virtual bool hasUniqueKeys(std::size_t layer) const {
        (void)layer;
        return false;
    }
    /// The layer in pieces of about so many features; null where it cannot be parted, or is so
    /// small that it would be one piece. They hold the file as readers do, and not longer than the
    /// source lives.
    virtual std::unique_ptr<const TablePieces> pieces(std::size_t layer, std::size_t rows,
                                                      const Progress& progress) const {
        (void)layer, (void)rows, (void)progress;
        return {};
    }
    /// The whole layer where the source holds it already; null where it must be scanned.
    virtual TablePtr held(std::size_t layer) const {
        (void)layer;
        return {};
    }
};
using FeatureSourcePtr = std::shared_ptr<const FeatureSource>;

/// The fields of a layer that a query asks for, in the layer's order. Errors: NotFound with those
/// that there are.
Result<std::vector<std::size_t>> fieldsOf(const LayerInfo& layer, const Query& query);

/// All features of a layer that answer a query.
Result<TablePtr> readAll(const FeatureSource& source, std::size_t layer,
                         const Progress& progress = {}, const Query& query = {});

/// Gives a table part by part; nothing at its end. Fields are the same in each.
using NextPart = std::function<Result<std::optional<FeatureTable>>()>;

}  // namespace ledge
