#pragma once
#include <QFrame>
#include <QIcon>
#include <QLabel>
#include <QToolButton>

namespace ledge::app {

/// The card that a thing on the sheet or a strip is shown on. One of them at a time is reached by
/// Tab, with what is on it; arrow keys go from one to the next.
class RowFrame : public QFrame {
    Q_OBJECT

public:
    explicit RowFrame(QWidget* parent);
    /// Whether Tab comes here, and to the controls on it.
    void setReachable(bool isReachable);
    /// Current: what the bench is about. Selected: together with it.
    void setSelected(bool isSelected, bool isCurrent);

Q_SIGNALS:
    /// Taken by whoever accepts it.
    void keyPressed(QKeyEvent* event);

protected:
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override;
    void focusOutEvent(QFocusEvent*) override;
    void paintEvent(QPaintEvent*) override;

private:
    bool m_isSelected = false, m_isCurrent = false;
};

/// A lamp: lit it glows, or is pale where a group around it is dark; unlit it is an empty ring.
QIcon lampIcon(bool isLit, bool isInTheDark = false);
QToolButton* makeLamp(QWidget* parent);

}  // namespace ledge::app
