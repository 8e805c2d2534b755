#pragma once
#include <QObject>
#include <functional>

#include "app/workspace.h"
#include "carto/map_renderer.h"

class QKeyEvent;

namespace ledge::app {

/// Labels placed by hand: one is taken by the mouse or chosen by the keyboard, moved, turned,
/// hidden or let go again. What is done is an edit each; all other labels flow around. What found
/// no room is shown in another colour at what it names, and is placed by a click.
class LabelTool : public QObject {
    Q_OBJECT

public:
    explicit LabelTool(Workspace& workspace, QObject* parent = nullptr);

    /// The labels of the frame that is shown.
    void follow(const carto::MapReport& report, const carto::MapFrame& frame);
    /// The one chosen; null for none, or when it is not on the frame.
    const carto::MapLabel* chosen() const;
    void choose(const carto::LabelOf& of);
    /// None is chosen any more.
    void letGo();
    bool hasLabelAt(Point at, const carto::MapFrame& now) const {
        return labelAt(at - shift(now)).has_value();
    }
    /// Pixels of the frame now. Whether a label was there to take.
    bool press(Point at, const carto::MapFrame& now);
    void drag(Point at);
    void release();
    /// Page Up and Page Down choose, arrows move by half a millimetre (two with Shift), brackets
    /// turn, Delete hides, Backspace lets it find its own place, Return asks for another text.
    bool key(const QKeyEvent& event, const carto::MapFrame& now);
    /// Chooses the label there; whether there is one.
    bool chooseAt(Point at, const carto::MapFrame& now);
    /// Something that is done with the chosen label, by its key or from its menu.
    struct Act {
        QString name;
        Qt::Key key;
        std::function<void()> act;
    };
    /// None where no label is chosen.
    std::vector<Act> acts();
    /// The colour of the chosen label; none: that of its set.
    void setColour(std::optional<Colour> colour);
    /// Stands still where it is now.
    void pinAll(doc::Id layer, int set);
    /// Labels of a set find their own places again.
    void unpinAll(doc::Id layer, int set);
    /// Puts a label that found no room upon what it names, to be moved from there.
    void place(const carto::LabelOf& of);
    void paint(QPainter& painter, const carto::MapFrame& now) const;

Q_SIGNALS:
    void changed();
    void textAsked(const ledge::carto::LabelOf& of, const QString& text);

private:
    Point shift(const carto::MapFrame& now) const;
    void paintLeftOut(QPainter& painter, const carto::MapFrame& now, Point off) const;
    std::optional<std::size_t> labelAt(Point at) const;
    void resize(const carto::MapLabel& label, double times);
    void turn(const carto::MapLabel& label, double byDegrees);
    void hide(const carto::MapLabel& label);
    void reset(const carto::MapLabel& label);
    void pin(const carto::MapLabel& label, Point middle, double turnDegrees, const char* mergeKey);

    Workspace& m_workspace;
    std::vector<carto::MapLabel> m_labels;
    std::vector<carto::LabelLeftOut> m_leftOut;
    carto::MapFrame m_frame;  ///< that they stand on
    std::optional<carto::LabelOf> m_chosen;
    std::optional<std::size_t> m_held;
    Point m_from, m_by;  ///< of the drag, pixels
};

/// Words of an edit that speaks of one label.
doc::EditWords labelWords(const carto::LabelOf& of);
/// Asks what a label is to say in place of its own text.
void askLabelText(Workspace& workspace, const carto::LabelOf& of, const QString& text,
                  QWidget* parent);

}  // namespace ledge::app
