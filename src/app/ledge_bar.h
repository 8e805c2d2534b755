#pragma once
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QScrollArea>
#include <QToolButton>

#include "app/canvas/latest_worker.h"
#include "app/settling.h"
#include "app/workspace.h"
#include "carto/map_renderer.h"

namespace ledge::app {

/// A card on the ledge: a live thumbnail with name and kind.
class Card : public QToolButton {
    Q_OBJECT

public:
    Card(const QString& name, const QString& kind, QWidget* parent = nullptr);
    void setPicture(const QImage& picture);
    void setShown(bool isShown);
    /// A field over the name, until Return, Escape or another place is clicked.
    void startRenaming();

Q_SIGNALS:
    void renamed(const QString& name);

protected:
    void keyPressEvent(QKeyEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;
    void paintEvent(QPaintEvent*) override;

private:
    QString m_name, m_kind;
    QImage m_picture;
    QLineEdit* m_rename;
    bool m_isShown = false;
};

/// A running job: name, progress, time left, Stop.
class JobCard : public QWidget {
    Q_OBJECT

public:
    JobCard(session::JobRunner& jobs, int job, QWidget* parent = nullptr);
    void refresh();

protected:
    void paintEvent(QPaintEvent*) override;

private:
    session::JobRunner& m_jobs;
    int m_job;
    QLabel* m_left;
    QProgressBar* m_bar;
};

/// The shelf of cards along the bottom: saved views, sheets, and the jobs at work.
class LedgeBar : public QWidget {
    Q_OBJECT

public:
    explicit LedgeBar(Workspace& workspace, QWidget* parent = nullptr);
    void saveView();

Q_SIGNALS:
    void profileAsked(doc::Id id);
    void questionAsked(doc::Id id);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void rebuild();
    void saveViewAs(const std::string& name);
    void refreshShown();
    void drawThumbnails();
    void outdate(const doc::Change& change);
    void cardMenu(Card* card, doc::Id id);
    void rename(doc::Id id, const QString& name);

    Workspace& m_workspace;
    QWidget* m_cards;
    QWidget* m_jobArea;
    std::map<doc::Id, Card*> m_byId;
    std::map<doc::Id, QImage> m_pictures;
    std::map<doc::Id, int> m_outdated;  ///< pictures to be drawn, with the turn that asked for them
    int m_turn = 0;
    std::map<int, JobCard*> m_jobCards;
    std::vector<std::pair<doc::Id, std::string>> m_known;
    std::shared_ptr<std::map<doc::Id, carto::MapRenderer>> m_renderers;
    Settling m_later{500};  ///< ms, for the thumbnails
    LatestWorker m_worker;
};

}  // namespace ledge::app
