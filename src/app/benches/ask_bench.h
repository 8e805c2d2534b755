#pragma once
#include "app/ask/condition_editor.h"
#include "app/benches/bench_page.h"
#include "app/canvas/latest_worker.h"
#include "app/settling.h"
#include "app/widgets/code_view.h"
#include "app/widgets/formula_edit.h"
#include "session/asking.h"
#include "session/fact_book.h"

namespace ledge::app {

/// A question about the selected layer, in plain controls or as text, both kept in step: how many
/// features answer, at once and outlined on the map; and what is done with them.
class AskBench : public BenchPage {
    Q_OBJECT

public:
    AskBench(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    FormulaEdit* text() const { return m_text; }
    bool isBusy() const { return m_later.isActive() || m_isAsking || m_values.isBusy(); }
    /// Puts a kept question into the page.
    void show(const doc::SavedQuestion& question);

Q_SIGNALS:
    /// The features that answer now; none when the page is left.
    void answered(doc::Id source, const std::vector<FeatureKey>& keys);
    /// The features that answer as a layer of their own: computed as it is shown, or in a file.
    void liveAsked(const doc::Lineage& lineage);
    void writeAsked(const doc::Lineage& lineage, const QString& path);

protected:
    void refresh() override;
    void hideEvent(QHideEvent* event) override;

private:
    void makeNear();
    void makeActs();
    void ask();
    void show(const Result<query::Rows>& found, query::Place place, const TablePtr& table,
              const std::optional<query::Summary>& sum);
    void takeText();
    void takeControls();
    void refreshCommand();
    void offerValues(const std::string& field, std::function<void(const QStringList&)> use);
    void pick(Workspace::Joining joining);
    void filter();
    void writeNew();
    std::optional<doc::Lineage> lineage() const;
    void keep();
    doc::SavedQuestion question() const;
    const doc::VectorLayer* vector() const;

    session::FactBook& m_facts;
    QWidget* m_askPart;
    ConditionEditor* m_conditions;
    QLabel* m_onlyText;
    FormulaEdit* m_text;
    QLabel* m_trouble;
    QCheckBox* m_hasNear;
    QWidget* m_nearPart;
    QComboBox* m_near;
    QComboBox* m_relation;
    QDoubleSpinBox* m_metres;
    QWidget* m_distance;
    FormulaEdit* m_nearKeep;
    QLabel* m_count;
    QComboBox* m_sumOf;
    QLabel* m_sum;
    QLineEdit* m_name;
    QPushButton *m_filter, *m_all;
    std::vector<QPushButton*> m_acts;  ///< those that need an answer
    CodeView* m_command;
    doc::Id m_layer = 0;
    std::map<doc::Id, doc::SavedQuestion> m_open;  ///< what was asked of layers last, by layer
    std::vector<FeatureKey> m_answer;
    bool m_isAnswered = false;
    bool m_isAsking = false;  ///< until the answer is shown
    Settling m_later{200};    ///< ms after the last letter
    LatestWorker m_values;
    LatestWorker m_worker;  // last: ends before what it shows in
};

}  // namespace ledge::app
