#pragma once
#include <QFileInfo>

#include "app/benches/bench_page.h"
#include "app/benches/derive_panel.h"
#include "app/benches/numbers_panel.h"
#include "app/benches/reading_panel.h"
#include "app/canvas/latest_worker.h"
#include "app/crs/crs_picker.h"
#include "session/fact_book.h"

namespace ledge::app {

/// What a layer's source is: its CRS in words, what is doubtful about it, the operation that brings
/// it onto the map, extent, fields, notes. Declaring a CRS (coordinates stay) and reprojecting to a
/// new file (new coordinates) are two acts. Then height unit, credit, and the project's folder.
class DataBench : public BenchPage {
    Q_OBJECT

public:
    DataBench(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    DerivePanel& derivePanel() { return *m_derive; }

Q_SIGNALS:
    void addAsked();
    void fileAsked(const QString& path);

protected:
    void refresh() override;

private:
    bool isFirstOnEarth(const doc::SourceRef& source);
    void declare(const QString& crs);
    void pickCrs(CrsPicker::Purpose purpose);
    void reproject(const QString& crs);
    void addGridLines(bool isGraticule);
    void chooseGrid();
    void showOperations(const crs::CrsPtr& from, const crs::CrsPtr& to, Point place);
    void chooseOperation(int index);
    void showFacts(const doc::SourceRef& source, const session::SourceFacts& facts);
    void showGuesses(const std::vector<session::CrsGuess>& guesses);
    void guess(const doc::SourceRef& source, const session::SourceFacts& facts);
    void listFolder();
    void showFolder(const QFileInfoList& files, const QString& instead);
    /// Reads what is in a file that is not in the project and says it in its row.
    void describe(const QString& path);
    void leadElsewhere();

    session::FactBook& m_facts;
    QLabel* m_factsLabel;
    QLabel* m_concern;
    QLabel* m_operation;
    QComboBox* m_operations;  ///< what can be done between the source's datum and the map's
    QWidget* m_operationPart;
    crs::DatumChoice m_datums;  ///< between which they lead
    QLabel* m_notes;
    QWidget* m_sourcePart;
    QWidget* m_guessPart;
    QVBoxLayout* m_guessRows;
    QLineEdit* m_crs;
    QLabel* m_crsWrong;
    QLabel* m_crsHint;
    QPushButton* m_search;
    QPushButton* m_reproject;
    QPushButton* m_grid;
    QComboBox* m_heightUnit;
    QLabel* m_heightHint;
    QWidget* m_heightPart;
    ReadingPanel* m_reading;
    QLineEdit* m_credit;
    QLabel* m_fields;
    QWidget* m_fieldsPart;
    NumbersPanel* m_numbers;
    DerivePanel* m_derive;
    QVBoxLayout* m_folder;
    std::map<QString, QString> m_described;  ///< files of the folder by path
    std::vector<session::CrsGuess> m_guesses;
    QString m_misplaced;       ///< where it lies as long as its CRS is unknown
    doc::SourceRef m_guessed;  ///< the source the guesses are for
    LatestWorker m_guesser;
    QStringList m_folderShown;  ///< what the rows of the folder say, so that they stay if they can
    LatestWorker m_folderWorker;  // last: ends before what it shows in
};

}  // namespace ledge::app
