#pragma once
#include <QLabel>

namespace ledge::app {

/// One line of plain text that ends in an ellipsis where it does not fit; the whole is its tooltip.
/// Links are shown as they are.
class ElidedLabel : public QLabel {
    Q_OBJECT

public:
    using QLabel::QLabel;
    void setPlain(const QString& text);
    void setLinked(const QString& html);
    /// What is meant, whether it fits or not.
    const QString& plain() const { return m_plain; }

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void fit();

    QString m_plain;
};

}  // namespace ledge::app
