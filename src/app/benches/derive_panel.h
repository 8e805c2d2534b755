#pragma once
#include "app/benches/operation_form.h"
#include "app/widgets/code_view.h"
#include "app/workspace.h"
#include "session/derive/lineage.h"
#include "session/fact_book.h"

namespace ledge::app {

/// How the selected source was derived, with its settings to change and run again; and what can be
/// derived from a raster: band arithmetic, clip, resample, each live or written to a file.
class DerivePanel : public QWidget {
    Q_OBJECT

public:
    DerivePanel(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    void refresh();
    /// Puts an operation into the form; nothing when it is not offered.
    void choose(const std::string& operation);
    /// What can be derived from the selected raster; the page puts it where it reads well. The
    /// panel itself shows how the source was made.
    QWidget* newPart() const { return m_new; }
    /// Adds a strip that a lineage computes.
    void showLive(const doc::Lineage& lineage);
    /// Does a lineage as a job and writes it; `derived` follows. Where the format loses something,
    /// that is told and asked first.
    void write(const doc::Lineage& lineage, const QString& path);

Q_SIGNALS:
    /// A file was written; it is to be shown unless the project has it already.
    void derived(const QString& path, const ledge::doc::Lineage& lineage);

private:
    void writeNow(const doc::Lineage& lineage, const QString& path);
    bool mayLose(const session::Remarks& losses, const QString& path);
    void makeMadePart();
    void makeNewPart();
    void refreshMade(const doc::SourceRef& source);
    void refreshNew();
    void offerOperations(bool isOfFeatures);
    void offerBeside(const session::Operation& operation);
    bool isFeatures() const;
    /// The lineage of the selected source with the settings of the form.
    Result<doc::Lineage> changed() const;
    /// What the form for a new one asks for.
    Result<doc::Lineage> asked() const;
    std::vector<doc::LineageInput> bands() const;
    void runAgain();
    void editLive();
    void showAsked();
    void writeNew();
    void chooseFile(const doc::Lineage& lineage, const QString& name);
    QString extentOfView() const;
    const session::Operation* chosen() const;

    Workspace& m_workspace;
    session::FactBook& m_facts;
    QWidget* m_made;
    QLabel* m_from;
    QLabel* m_remarks;
    QLabel* m_stale;
    OperationForm* m_madeForm;
    QPushButton* m_again;
    CodeView* m_command;
    QWidget* m_new;
    QComboBox* m_operation;
    QComboBox* m_ready;
    OperationForm* m_newForm;
    QLabel* m_names;
    QComboBox* m_by;
    QPushButton* m_view;
    bool m_isOfFeatures = false;  ///< what the list of operations was made for
};

}  // namespace ledge::app
