#pragma once
#include <QPlainTextEdit>

namespace ledge::app {

/// A command or another text for copying, as high as it is long. Whatever its words, it is wrapped
/// and never wider than its place; what is copied has no breaks of its own.
class CodeView : public QPlainTextEdit {
    Q_OBJECT

public:
    explicit CodeView(const QString& accessibleName, QWidget* parent = nullptr);
    void setText(const QString& text);
    QString text() const { return toPlainText(); }
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {60, sizeHint().height()}; }

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    void fit();
};

}  // namespace ledge::app
