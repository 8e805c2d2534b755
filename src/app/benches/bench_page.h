#pragma once
#include <QVBoxLayout>
#include <QWidget>

#include "app/widgets/form.h"
#include "app/workspace.h"
#include "carto/qtext.h"

namespace ledge::app {

/// A page of the bench: title, subtitle, and rows below. It refreshes when the document or the
/// selection changed while it is shown.
class BenchPage : public QWidget {
    Q_OBJECT

public:
    BenchPage(Workspace& workspace, const QString& title, QWidget* parent = nullptr);

protected:
    virtual void refresh() = 0;
    void showEvent(QShowEvent*) override { refresh(); }
    QVBoxLayout* rows() const { return m_rows; }
    void add(QWidget* widget) { m_rows->addWidget(widget); }
    QLabel* heading(const QString& text);
    void setTitle(const QString& title, const QString& subtitle);
    Workspace& workspace() const { return m_workspace; }

private:
    Workspace& m_workspace;
    QLabel* m_title;
    QLabel* m_subtitle;
    QVBoxLayout* m_rows;
};


}  // namespace ledge::app
