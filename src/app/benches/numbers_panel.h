#pragma once
#include "app/canvas/latest_worker.h"
#include "app/widgets/form.h"
#include "app/widgets/histogram_view.h"
#include "app/workspace.h"
#include "session/fact_book.h"
#include "session/raster_numbers.h"

namespace ledge::app {

/// What the cells of the selected raster amount to, with a histogram: sampled at once, and said so;
/// every cell counted by a job on request.
class NumbersPanel : public QWidget {
    Q_OBJECT

public:
    NumbersPanel(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    void refresh();

private:
    using Wanted = std::pair<doc::SourceRef, int>;  ///< a source as it stands, and a band
    Wanted wanted() const;
    void keep(const Wanted& wanted, const session::RasterNumbers& numbers);
    void show(const session::RasterNumbers& numbers);
    void countCells();

    Workspace& m_workspace;
    session::FactBook& m_facts;
    QLabel* m_numbers;
    HistogramView* m_histogram;
    QPushButton* m_count;
    std::vector<std::pair<Wanted, session::RasterNumbers>> m_known;  ///< oldest first
    LatestWorker m_worker;
};

}  // namespace ledge::app
