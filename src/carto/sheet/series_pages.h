#pragma once
#include "carto/sheet/live_text.h"
#include "core/base/progress.h"

namespace ledge::carto {

/// One page of a series: the project and the sheet as they are on it.
struct SheetPage {
    doc::Document document;
    doc::Sheet sheet;
    LivePage live;
};

/// The pages of a sheet. A series over fields colours its layer by one after the other: each is a
/// field, or "Name: formula"; classes are found anew for each, but for those with breaks of their
/// own. There is one of each thing that the series is over, or the sheet itself. Pages are
/// made one at a time, so that ten thousand cost no memory.
class SeriesPages {
public:
    /// `document` and `data` must outlive it. Errors: of the layer, its fields and formulas, of a
    /// series that is over nothing; Cancelled.
    static Result<SeriesPages> of(const doc::Document& document, const doc::Sheet& sheet,
                                  const doc::DrawingData& data, const Progress& progress = {});

    std::size_t size() const { return m_names.size(); }
    const QString& name(std::size_t page) const { return m_names[page]; }
    /// Names that a file can have, all different.
    QString fileName(std::size_t page) const;
    SheetPage page(std::size_t page) const;

private:
    SeriesPages(const doc::Document& document, const doc::Sheet& sheet,
                const doc::DrawingData& data)
        : m_document(&document), m_sheet(&sheet), m_data(&data) {}
    Result<void> readFeatures(const doc::DrawingData& data, const Progress& progress);
    Result<void> checkFilters(const doc::DrawingData& data) const;
    void colourBy(doc::Layer& layer, const std::string& field) const;
    void lookAt(SheetPage& page, std::size_t row) const;

    const doc::Document* m_document;
    const doc::Sheet* m_sheet;
    const doc::DrawingData* m_data;
    std::vector<QString> m_names;
    std::vector<std::size_t> m_rows;                     ///< of features, by page
    std::shared_ptr<const doc::MapFeatures> m_features;  ///< in the panel's CRS
};

}  // namespace ledge::carto
