#pragma once
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QWidget>

#include "app/canvas/latest_worker.h"
#include "app/jump_actions.h"
#include "app/workspace.h"
#include "session/jump.h"

namespace ledge::app {

/// A value in words that opens its own editor beneath itself.
class Chip : public QPushButton {
    Q_OBJECT

public:
    Chip(const QString& name, const QString& tip, QWidget* parent = nullptr);
    /// What its editor starts with, and what it offers to choose.
    void setEditor(const QString& value, const QStringList& offers);
    /// Opens something else than the plain editor.
    void setOpener(std::function<void()> open) { m_open = std::move(open); }
    /// Does with an entered value what it is for, and tells why it cannot; then the editor stays
    /// open and says so.
    void setUse(std::function<QString(const QString&)> use) { m_use = std::move(use); }

private:
    void openEditor();
    QString m_name, m_value;
    QStringList m_offers;
    std::function<void()> m_open;
    std::function<QString(const QString&)> m_use;
};

/// Project name, jump field, and chips for CRS, scale and rotation.
class HeaderBar : public QWidget {
    Q_OBJECT

public:
    explicit HeaderBar(Workspace& workspace, QWidget* parent = nullptr);
    QLineEdit* jumpField() const { return m_jump; }
    /// What can be done by a word typed into the jump field; asked for at each search.
    void setActions(JumpActions actions) { m_actions = std::move(actions); }

Q_SIGNALS:
    void menuAsked(const QPoint& at);

protected:
    void paintEvent(QPaintEvent*) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void refresh();
    void search();
    void showFound(const QString& typed, std::vector<session::JumpTarget> targets);
    void takeRow(int row);
    void jumpTo(const session::JumpTarget& target);
    void pickCrs();
    void enterCrs(const QString& text);
    QString enterScale(const QString& text);
    QString enterRotation(const QString& text);

    Workspace& m_workspace;
    QLabel* m_name;
    QLabel* m_state;
    QLineEdit* m_jump;
    QListWidget* m_found;
    QString m_shownFor;         ///< what the list was found for
    bool m_takesFirst = false;  ///< Return was pressed before it was found
    std::vector<session::JumpTarget> m_targets;
    std::vector<JumpAction> m_acts;  ///< listed after the targets
    JumpActions m_actions;
    Chip* m_crs;
    Chip* m_scale;
    Chip* m_rotation;
    LatestWorker m_searcher;
};

}  // namespace ledge::app
