#pragma once
#include <QElapsedTimer>
#include <QLabel>
#include <QMainWindow>
#include <QSplitter>
#include <QStackedWidget>

#include "app/canvas/latest_worker.h"
#include "app/project_guard.h"
#include "app/widgets/field_guard.h"
#include "app/workspace.h"
#include "session/fact_book.h"

class QMenu;
class QToolButton;

namespace ledge::session {
struct Operation;
}

namespace ledge::app {

class AskBench;
class DataBench;
class DrawPanel;
class HeaderBar;
class LabelsBench;
class LedgeBar;
class MapPane;
class MapTools;
class MeasurePanel;
class PickPanel;
class ProbePanel;
class ProfileDrawer;
class RailBar;
class SheetBench;
class SheetCanvas;
class StackPanel;
class StyleBench;
class TableDrawer;
struct JumpAction;

/// The window of one project.
class MainWindow : public QMainWindow {
    Q_OBJECT

public:
    explicit MainWindow(session::Session& session);
    ~MainWindow() override;

    Workspace& workspace() { return m_workspace; }
    MapPane* map() const { return m_map; }
    SheetCanvas* sheetCanvas() const { return m_sheet; }
    ProfileDrawer* profileDrawer() const { return m_profile; }
    TableDrawer* tableDrawer() const { return m_table; }
    AskBench* askBench() {
        openPage(Bench::Ask);
        return m_askBench;
    }
    SheetBench* sheetBench() {
        openPage(Bench::Sheet);
        return m_sheetBench;
    }
    /// Opens a project, or adds a data file.
    void openPath(const QString& path);
    void addFiles(const QStringList& paths, const std::optional<doc::Lineage>& lineage = {});
    /// Reduced copies of a large raster that has none, once for a file.
    void buildOverviews(doc::Id source);
    /// A derived file: what the project knows of it, or a new strip.
    void showDerived(const QString& path, const doc::Lineage& lineage);
    /// Whether anything is still being read, drawn or run.
    bool isBusy() const;
    ProjectGuard& guard() { return m_guard; }

protected:
    void closeEvent(QCloseEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    static constexpr int kBenchWidth = 320, kWidestBench = 720;

    void makeActions();
    /// Makes a bench page when it is opened for the first time.
    void openPage(Bench bench);
    QWidget* makePage(Bench bench);
    void focusBench();
    /// What the jump field can do: what the menu and the tools do, and what can be derived.
    std::vector<JumpAction> jumpActions();
    void startDeriving(const session::Operation& operation);
    void exportSheet();
    void arrange();
    QWidget* makeStatusLine();
    QWidget* makeBenchFrame();
    QWidget* makeCanvas();
    void makeFloats();
    void connectParts();
    void openDialog();
    void addDialog();
    void showHover(const Point& at);
    void showMessage(const QString& text, bool isTrouble);
    void refreshTitle();
    void placeFloats();
    void widenBench(int by);
    void openUnits();

    session::Session& m_session;
    Workspace m_workspace;
    ProjectGuard m_guard{m_workspace, this};
    FieldGuard m_fields;
    session::FactBook m_facts;
    HeaderBar* m_header;
    RailBar* m_rail;
    StackPanel* m_stack;
    QStackedWidget* m_canvas;
    MapPane* m_map;
    SheetCanvas* m_sheet;
    MapTools* m_tools;
    QSplitter* m_split;
    ProbePanel* m_probe;
    Tool m_toolBefore = Tool::Move;
    MeasurePanel* m_measure;
    DrawPanel* m_draw;
    PickPanel* m_pick;
    ProfileDrawer* m_profile;
    TableDrawer* m_table;
    QSplitter* m_drawerSplit;
    QWidget* m_benchFrame;
    QStackedWidget* m_benches;
    std::set<std::filesystem::path> m_overviewsFor;
    // Pages, null until they are opened.
    DataBench* m_dataBench = nullptr;
    SheetBench* m_sheetBench = nullptr;
    StyleBench* m_styleBench = nullptr;
    LabelsBench* m_labelsBench = nullptr;
    AskBench* m_askBench = nullptr;
    LedgeBar* m_ledge;
    QLabel* m_where;
    bool m_isTroubleShown = false;
    QElapsedTimer m_sinceMessage;
    QLabel* m_values;
    QToolButton* m_units;
    QMenu* m_menu;
    LatestWorker m_hoverWorker;
};

}  // namespace ledge::app
