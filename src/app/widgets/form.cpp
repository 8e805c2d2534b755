#include "app/widgets/form.h"

#include <QStyle>

namespace ledge::app {

QLabel* makeLabel(const QString& text, const char* role) {
    auto* label = new QLabel(text);
    label->setProperty("role", role);
    label->setWordWrap(true);
    return label;
}

QPushButton* makeButton(const QString& text, const QString& tip, bool isPrimary) {
    auto* button = new QPushButton(text);
    button->setToolTip(tip);
    button->setProperty("primary", isPrimary);
    button->setMinimumHeight(32);
    return button;
}

QPushButton* makeLink(const QString& text, const QString& tip) {
    auto* button = new QPushButton(text);
    button->setToolTip(tip);
    button->setProperty("quiet", true);
    button->setCursor(Qt::PointingHandCursor);
    return button;
}

QDoubleSpinBox* makeNumber(const QString& name, double low, double high, int decimals,
                           const QString& suffix, double step) {
    auto* box = new QDoubleSpinBox;
    box->setAccessibleName(name);
    box->setToolTip(name);
    box->setRange(low, high);
    box->setDecimals(decimals);
    box->setSuffix(suffix);
    box->setSingleStep(step);
    box->setKeyboardTracking(false);
    box->setGroupSeparatorShown(false);
    box->setFocusPolicy(Qt::StrongFocus);
    return box;
}

QComboBox* makeChoice(const QString& name, const QStringList& options) {
    auto* box = new QComboBox;
    box->setAccessibleName(name);
    box->setToolTip(name);
    box->addItems(options);
    box->setFocusPolicy(Qt::StrongFocus);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(6);
    return box;
}

QLabel* wrongBelow(QLineEdit* edit) {
    auto* below = makeLabel("", "trouble");
    below->setObjectName(edit->objectName() + "Wrong");
    below->setWordWrap(true);
    below->hide();
    QObject::connect(edit, &QLineEdit::textEdited, below,
                     [edit, below] { showWrong(edit, below, {}); });
    return below;
}

void showWrong(QLineEdit* edit, QLabel* below, const QString& why) {
    below->setText(why);
    below->setVisible(!why.isEmpty());
    if (edit->property("wrong").toBool() == !why.isEmpty()) return;
    edit->setProperty("wrong", !why.isEmpty());
    edit->style()->unpolish(edit);
    edit->style()->polish(edit);
}

QLineEdit* makeText(const QString& name, const QString& placeholder) {
    auto* edit = new QLineEdit;
    edit->setAccessibleName(name);
    edit->setToolTip(name);
    edit->setPlaceholderText(placeholder);
    return edit;
}

QWidget* captioned(const QString& caption, QWidget* field) {
    auto* out = new QWidget;
    auto* layout = new QVBoxLayout(out);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    auto* label = makeLabel(caption, "muted");
    label->setBuddy(field);
    layout->addWidget(label);
    layout->addWidget(field);
    return out;
}

QWidget* sideBySide(const QList<QWidget*>& widgets) {
    auto* out = new QWidget;
    auto* layout = new QHBoxLayout(out);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    for (QWidget* widget : widgets) layout->addWidget(widget, 1);
    return out;
}

void showNumber(QDoubleSpinBox* box, double value) {
    const QSignalBlocker quiet(box);
    box->setValue(value);
}
void showText(QLineEdit* edit, const QString& text) {
    if (edit->text() == text || edit->hasFocus()) return;
    const QSignalBlocker quiet(edit);
    edit->setText(text);
    edit->setCursorPosition(0);  // long texts show their beginning
}
doc::Id idAt(const QComboBox* box, int index) { return box->itemData(index).value<doc::Id>(); }
void showChoice(QComboBox* box, int index) {
    const QSignalBlocker quiet(box);
    box->setCurrentIndex(index);
}
void showCheck(QCheckBox* box, bool on) {
    const QSignalBlocker quiet(box);
    box->setChecked(on);
}

}  // namespace ledge::app
