#include "app/widgets/font_choice.h"

#include <QSignalBlocker>

#include "carto/text.h"

namespace ledge::app {

FontChoice::FontChoice(const QString& name, QWidget* parent) : QFontComboBox(parent) {
    setAccessibleName(name);
    setToolTip(name);
    setMinimumContentsLength(6);
    setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    connect(this, &QComboBox::activated, this, [this] {
        const QString family = currentFont().family();
        Q_EMIT said(family == carto::kOwnFont ? std::string() : family.toStdString());
    });
}

void FontChoice::show(const std::string& family) {
    const QSignalBlocker quiet(this);
    const QString name = family.empty() ? carto::kOwnFont : QString::fromStdString(family);
    setCurrentFont(QFont(name));
    if (currentText() != name) setEditText(name);
}

}  // namespace ledge::app
