#pragma once
#include <QObject>
#include <QPointer>

class QLineEdit;
class QWidget;

namespace ledge::app {

/// What wheel and undo do in fields, the same for every field of the application. The wheel
/// scrolls; it changes a field only once that was clicked. Undo and redo are the document's, but
/// for what is being typed into a field and was not used yet.
class FieldGuard : public QObject {
    Q_OBJECT

public:
    /// Watches every field of the application.
    explicit FieldGuard(QObject* parent = nullptr);

    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QPointer<QWidget> m_clicked;
};

}  // namespace ledge::app
