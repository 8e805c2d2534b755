#pragma once
#include <QLineEdit>

#include "app/stack/row_frame.h"
#include "app/stack/strip_facts.h"
#include "app/widgets/elided_label.h"
#include "app/widgets/thin_slider.h"
#include "session/photo_book.h"

namespace ledge::app {

/// One layer of the stack: lamp, swatch, name, a line of facts, opacity. Strips are reused for
/// other layers while the stack is scrolled.
class Strip : public RowFrame {
    Q_OBJECT

public:
    Strip(Workspace& workspace, session::FactBook& facts, session::PhotoBook& photos,
          QWidget* parent);
    doc::Id layer() const { return m_layer; }
    void setLayer(doc::Id layer);
    /// Shows what the document says of the layer now.
    void refresh();
    void startRenaming();
    bool isInUse() const { return m_isPressed || !m_rename->isHidden(); }
    /// What stands beside its name.
    QImage swatch() const { return m_swatch->pixmap().toImage(); }

Q_SIGNALS:
    void pressed(Qt::KeyboardModifiers keys);
    /// Let go where it was pressed.
    void released(Qt::KeyboardModifiers keys);
    void menuAsked(const QPoint& globalAt);
    void dragged(int globalY, bool isEnd);

protected:
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;

private:
    void finishRenaming();
    void showLabels(const doc::Layer& layer);
    void switchLabels();
    QImage photoOf(const doc::Layer& layer) const;
    void drawSwatch(const doc::Layer& layer);

    Workspace& m_workspace;
    session::FactBook& m_facts;
    session::PhotoBook& m_photos;
    doc::Id m_layer = 0;
    QToolButton* m_lamp;
    QLabel* m_swatch;
    ElidedLabel* m_name;
    QLineEdit* m_rename;
    ElidedLabel* m_line;
    QToolButton *m_labels, *m_fold;
    ThinSlider* m_opacity;
    doc::LayerPtr m_shown;
    QImage m_photo;  ///< what the swatch shows of a band picture
    QPoint m_pressedAt;
    bool m_isPressed = false, m_isDragging = false, m_isDimmed = false, m_isInTheDark = false,
         m_isLit = false;
};

}  // namespace ledge::app
