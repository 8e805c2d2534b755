#pragma once
#include <QToolButton>

#include "core/base/colour.h"

namespace ledge::app {

/// A patch of a colour that opens a chooser.
class ColourButton : public QToolButton {
    Q_OBJECT

public:
    explicit ColourButton(const QString& what, QWidget* parent = nullptr);
    void setColour(Colour colour);
    Colour colour() const { return m_colour; }

Q_SIGNALS:
    void chosen(const Colour& colour);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Colour m_colour;
};

}  // namespace ledge::app
