#pragma once
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QStackedWidget>

#include "app/canvas/latest_worker.h"
#include "app/workspace.h"
#include "carto/map_renderer.h"
#include "session/crs_checks.h"

namespace ledge::app {

class CrsMaker;

/// Chooses a CRS: search as one types, favourites, the last used, what suits the place; beside it a
/// small live map in the candidate and what it changes. Closes with Escape or a click elsewhere.
class CrsPicker : public QFrame {
    Q_OBJECT

public:
    enum class Purpose { Map, Declare, Reproject };
    /// What the picker is opened for.
    struct Request {
        Purpose purpose = Purpose::Map;
        QString title;
        crs::CrsPtr current;     ///< what is in use now; null: undeclared
        Point place = kNowhere;  ///< longitude and latitude of what it is for
        doc::Id source = 0;      ///< to be declared
        QString recentred;       ///< the one in use, centred on the place; empty when it cannot be
        std::vector<session::CrsGuess> guesses;
    };
    CrsPicker(Workspace& workspace, Request request, QWidget* parent);
    ~CrsPicker() override;

    /// What the button would take; null when nothing is chosen.
    const crs::CrsPtr& candidate() const { return m_candidate; }

    /// Shows it beneath a widget, within the window.
    void openBelow(QWidget* anchor);

Q_SIGNALS:
    /// EPSG:n or a WKT text; empty for plain local coordinates.
    void chosen(const QString& crs);

protected:
    void keyPressEvent(QKeyEvent*) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fillList();
    void addHeading(const QString& text);
    void addCrs(const std::string& text, const QString& detail = {});
    void showCandidate();
    void showFacts();
    void moveCentre(const QString& typed);
    void drawPreview();
    void take();

    Workspace& m_workspace;
    Request m_request;
    QLineEdit* m_search;
    QListWidget* m_list;
    QLabel* m_preview;
    QLabel* m_name;
    QLabel* m_facts;
    QLabel* m_change;
    QLabel* m_warning;
    QPushButton* m_star;
    QPushButton* m_use;
    QStackedWidget* m_right;
    CrsMaker* m_maker;
    QLineEdit* m_centre;  ///< of a world CRS
    QLabel* m_centreProblem;
    QWidget* m_centrePart;
    std::string m_text;  ///< the candidate
    crs::CrsPtr m_candidate;
    std::shared_ptr<carto::MapRenderer> m_renderer;
    LatestWorker m_worker;  // last: ends before what it draws with
};

}  // namespace ledge::app
