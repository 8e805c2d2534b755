#pragma once
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "document/id.h"

/// Small factories that give bench pages one look: captions above fields, the 4 px grid, accessible
/// names from captions.
namespace ledge::app {

QLabel* makeLabel(const QString& text, const char* role = "");
QPushButton* makeButton(const QString& text, const QString& tip, bool isPrimary = false);
/// A quiet text button that reads like a link.
QPushButton* makeLink(const QString& text, const QString& tip);
QDoubleSpinBox* makeNumber(const QString& name, double low, double high, int decimals,
                           const QString& suffix = {}, double step = 1);
QComboBox* makeChoice(const QString& name, const QStringList& options);
QLineEdit* makeText(const QString& name, const QString& placeholder = {});
/// A line to stand beneath a field: why what was typed cannot be used. Hidden until showWrong(),
/// and as soon as the field is typed on. It is called as the field is, with "Wrong" behind.
QLabel* wrongBelow(QLineEdit* edit);
/// An empty `why`: nothing is wrong.
void showWrong(QLineEdit* edit, QLabel* below, const QString& why);
/// A caption above a field.
QWidget* captioned(const QString& caption, QWidget* field);
/// Widgets side by side with equal room.
QWidget* sideBySide(const QList<QWidget*>& widgets);

/// The id that a row of a choice stands for.
doc::Id idAt(const QComboBox* box, int index);
void showNumber(QDoubleSpinBox* box, double value);
void showText(QLineEdit* edit, const QString& text);
void showChoice(QComboBox* box, int index);
void showCheck(QCheckBox* box, bool on);

}  // namespace ledge::app
