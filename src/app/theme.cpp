#include "app/theme.h"

#include <QApplication>
#include <QFile>
#include <QPainter>
#include <QPalette>
#include <QStyleFactory>
#include <QSvgRenderer>

namespace ledge::app {
namespace {
Theme light() {
    return {"#23265A", "#3D4296", "#F6F6FB", "#E9EAF4", "#D5D7E8", "#23263F", "#5F6385",
            "#D99A2B", "#3F6B3A", "#B4532A", "#FFFFFF", "#FFFFFF", false};
}
Theme dark() {
    return {"#15173A", "#8D93E6", "#1B1D30", "#24273F", "#3A3E5E", "#E8E9F6", "#A3A7C6",
            "#E0A845", "#8FC487", "#E58A63", "#202338", "#F4F4FC", true};
}
Theme g_theme = light();

QString styleSheet(const Theme& t) {
    QString css = QStringLiteral(R"css(
* { font-family: "Inter"; font-size: 12px; color: @text; }
QMainWindow, QDialog { background: @paper; }
QToolTip { background: @ink; color: @onink; border: none; padding: 4px 6px; }
QTableWidget { background: @surface; border: 1px solid @line; border-radius: 6px;
    alternate-background-color: @paper; selection-background-color: @stone;
    selection-color: @text; }
QTableWidget::item { padding: 0 2px; border: none; }
QTableWidget::item:selected { background: @stone; color: @text; }
QHeaderView { background: transparent; }
QHeaderView::section { background: @surface; color: @muted; padding: 4px 4px; border: none;
    border-bottom: 1px solid @line; font-weight: 600; }
QScrollArea { border: 1px solid transparent; background: transparent; }
QScrollArea:focus { border: 1px solid @indigo; border-radius: 6px; }
QScrollArea > QWidget > QWidget { background: transparent; }
QScrollBar:vertical { background: transparent; width: 8px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: 8px; margin: 0; }
QScrollBar::handle { background: @line; border-radius: 4px; min-height: 24px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QLineEdit, QDoubleSpinBox, QSpinBox, QComboBox, QPlainTextEdit {
  background: @surface; border: 1px solid @line; border-radius: 6px; padding: 4px 8px;
  selection-background-color: @indigo; selection-color: @paper; min-height: 18px; }
QLineEdit:focus, QDoubleSpinBox:focus, QSpinBox:focus, QComboBox:focus, QPlainTextEdit:focus { border: 1px solid @indigo; }
QLineEdit[wrong="true"] { border: 1px solid @rust; }
QDoubleSpinBox::up-button, QDoubleSpinBox::down-button, QSpinBox::up-button, QSpinBox::down-button { width: 0; border: none; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(:/icons/chevron-down.svg); width: 12px; height: 12px; }
QComboBox QAbstractItemView { background: @surface; border: 1px solid @line; selection-background-color: @stone; selection-color: @text; outline: 0; }
QPushButton { background: @surface; border: 1px solid @indigo; border-radius: 7px; padding: 7px 12px; color: @indigo; font-weight: 600; }
QPushButton:hover { background: @stone; }
QPushButton, QToolButton { outline: 0; }
QPushButton:focus { border: 2px solid @indigo; padding: 6px 11px; }
QPushButton:disabled { color: @muted; border-color: @line; }
QPushButton[primary="true"] { background: @indigo; color: @paper; }
QPushButton[primary="true"]:hover { background: @ink; }
QPushButton[primary="true"]:disabled { background: @line; color: @muted; border-color: @line; }
QPushButton[quiet="true"] { border: none; background: transparent; padding: 2px 4px; text-align: left; }
QPushButton[quiet="true"]:hover { text-decoration: underline; }
QPushButton[quiet="true"]:focus { border: 1px solid @indigo; padding: 1px 3px; }
QToolButton { background: transparent; border: none; border-radius: 6px; padding: 4px; }
QToolButton:hover { background: @stone; }
QToolButton:focus { border: 1px solid @indigo; }
QToolButton[popupMode="2"] { padding-right: 20px; }
QToolButton::menu-indicator { image: url(:/icons/chevron-down.svg); width: 12px; height: 12px; subcontrol-origin: padding; subcontrol-position: center right; right: 4px; }
QCheckBox { spacing: 8px; }
QCheckBox::indicator, QAbstractItemView::indicator { width: 14px; height: 14px; border: 1px solid @muted; border-radius: 4px; background: @surface; }
QCheckBox::indicator:checked, QAbstractItemView::indicator:checked { background: @indigo; border-color: @indigo; image: url(:/icons/@tick.svg); }
QCheckBox:focus { color: @indigo; }
QLabel[role="title"] { font-size: 15px; font-weight: 600; }
QLabel[role="heading"] { font-weight: 600; }
QLabel[role="muted"] { color: @muted; font-size: 11px; }
QLabel[role="good"] { background: @goodback; color: @fern; border-radius: 6px; padding: 6px 8px; font-size: 11px; }
QLabel[role="trouble"] { color: @rust; }
QPlainTextEdit[role="code"], QLabel[role="code"] { border: none; background: @stone; border-radius: 6px; padding: 6px 8px; font-size: 11px; }
QPlainTextEdit[role="code"]:focus { border: 1px solid @indigo; padding: 5px 7px; }
QSplitter::handle { background: @line; }
QSplitter::handle:hover { background: @lichen; }
QMenu { background: @surface; border: 1px solid @line; border-radius: 6px; padding: 4px; }
QMenu::item { padding: 5px 18px 5px 10px; border-radius: 4px; }
QMenu::item:selected { background: @stone; }
QMenu::separator { height: 1px; background: @line; margin: 4px 6px; }
QListWidget { background: @surface; border: 1px solid @line; border-radius: 6px; outline: 0; }
QListWidget::item { padding: 4px 6px; border: none; }
QListWidget::item:selected { background: @stone; color: @text; }
)css");
    css.replace("@tick", t.isDark ? "tick-ink" : "tick-paper");
    const std::pair<const char*, QColor> names[] = {
        {"@ink", t.ink},
        {"@indigo", t.indigo},
        {"@paper", t.paper},
        {"@stone", t.stone},
        {"@line", t.line},
        {"@text", t.text},
        {"@muted", t.muted},
        {"@fern", t.fern},
        {"@lichen", t.lichen},
        {"@rust", t.rust},
        {"@surface", t.surface},
        {"@onink", t.onInk},
        {"@goodback", t.isDark ? QColor("#233324") : QColor("#E9F1E6")}};
    for (const auto& [name, colour] : names) css.replace(name, colour.name());
    return css;
}
}  // namespace

const Theme& theme() { return g_theme; }

void applyTheme(QApplication& application, bool isDark) {
    g_theme = isDark ? dark() : light();
    application.setStyle(QStyleFactory::create("Fusion"));
    QPalette palette;
    palette.setColor(QPalette::Window, g_theme.paper);
    palette.setColor(QPalette::Base, g_theme.surface);
    palette.setColor(QPalette::Text, g_theme.text);
    palette.setColor(QPalette::WindowText, g_theme.text);
    palette.setColor(QPalette::ButtonText, g_theme.text);
    palette.setColor(QPalette::PlaceholderText, g_theme.muted);
    palette.setColor(QPalette::Highlight, g_theme.indigo);
    palette.setColor(QPalette::HighlightedText, g_theme.paper);
    palette.setColor(QPalette::Button, g_theme.stone);
    application.setPalette(palette);
    QFont font("Inter");
    font.setPixelSize(12);
    application.setFont(font);
    application.setStyleSheet(styleSheet(g_theme));
}

QPixmap linePixmap(const QString& name, const QColor& colour, int size, double ratio) {
    QFile file(QStringLiteral(":/icons/%1.svg").arg(name));
    if (!file.open(QIODevice::ReadOnly)) return {};
    QByteArray svg = file.readAll();
    svg.replace("currentColor", colour.name().toUtf8());
    svg.replace("stroke-width=\"2\"", "stroke-width=\"1.75\"");
    QSvgRenderer renderer(svg);
    QPixmap pixmap(QSize(size, size) * ratio);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    renderer.render(&painter);
    painter.end();
    pixmap.setDevicePixelRatio(ratio);
    return pixmap;
}

QIcon lineIcon(const QString& name, const QColor& colour) {
    QIcon icon;
    for (const double ratio : {1.0, 2.0}) icon.addPixmap(linePixmap(name, colour, 18, ratio));
    return icon;
}

}  // namespace ledge::app
