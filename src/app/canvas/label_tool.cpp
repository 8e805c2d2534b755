#include "app/canvas/label_tool.h"

#include <QInputDialog>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPainter>
#include <cmath>

#include "app/theme.h"
#include "carto/text.h"
#include "core/base/constants.h"
#include "core/base/numbers.h"
#include "document/json/members.h"
#include "document/label_pins.h"

namespace ledge::app {

doc::EditWords labelWords(const carto::LabelOf& of) {
    return {{"layer", Workspace::target(of.layer)},
            {"set", std::to_string(of.set)},
            {"key", std::to_string(of.key)}};
}

LabelTool::LabelTool(Workspace& workspace, QObject* parent)
    : QObject(parent), m_workspace(workspace) {}

void LabelTool::follow(const carto::MapReport& report, const carto::MapFrame& frame) {
    m_labels = report.labels;
    m_leftOut = report.leftOut;
    m_frame = frame;
    m_held.reset();
    Q_EMIT changed();
}

const carto::MapLabel* LabelTool::chosen() const {
    if (!m_chosen) return nullptr;
    for (const carto::MapLabel& label : m_labels)
        if (label.of == *m_chosen) return &label;
    return nullptr;
}

void LabelTool::choose(const carto::LabelOf& of) {
    m_chosen = of;
    Q_EMIT changed();
}

void LabelTool::letGo() {
    m_chosen.reset();
    m_held.reset();
    Q_EMIT changed();
}

void askLabelText(Workspace& workspace, const carto::LabelOf& of, const QString& text,
                  QWidget* parent) {
    bool isGiven = false;
    const QString said =
        QInputDialog::getText(parent, LabelTool::tr("Text of this label"),
                              LabelTool::tr("\\n breaks the line; empty for its own text:"),
                              QLineEdit::Normal, text, &isGiven);
    if (!isGiven || said == text) return;
    auto words = labelWords(of);
    words["text"] = said.toStdString();
    workspace.perform("label-pin", words);
}

// From pixels of the frame they stand on to those of the frame now.
Point LabelTool::shift(const carto::MapFrame& now) const {
    return now.toPixels()(m_frame.toMap()({0, 0}));
}

std::optional<std::size_t> LabelTool::labelAt(Point at) const {
    constexpr double kReach = 3;
    for (std::size_t i = 0; i < m_labels.size(); ++i)
        for (const Box& box : m_labels[i].boxes)
            if (box.grown(kReach).contains(at)) return i;
    return {};
}

bool LabelTool::press(Point at, const carto::MapFrame& now) {
    m_held = labelAt(at - shift(now));
    m_from = at;
    m_by = {};
    if (m_held) m_chosen = m_labels[*m_held].of;
    Q_EMIT changed();
    if (m_held) return true;
    constexpr double kReach = 5;
    for (const carto::LabelLeftOut& one : m_leftOut)
        if (distance(one.anchor + shift(now), at) < kReach * now.pxPerMm / 3.78)
            return place(one.of), true;
    return false;
}

void LabelTool::drag(Point at) {
    if (!m_held) return;
    m_by = at - m_from;
    Q_EMIT changed();
}

void LabelTool::release() {
    if (!m_held) return;
    const carto::MapLabel label = m_labels[*m_held];
    const Point by = std::exchange(m_by, {});
    m_held.reset();
    if (std::hypot(by.x, by.y) < 3) return Q_EMIT changed();
    pin(label, label.middle + by, label.angleRadians * kDegreesPerRadian, nullptr);
}

// One label larger or smaller than its set.
void LabelTool::resize(const carto::MapLabel& label, double times) {
    const auto* layer = m_workspace.document().layer(label.of.layer);
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    const auto set = static_cast<std::size_t>(label.of.set);
    if (!vector || set >= vector->labels.size()) return;
    const doc::LabelPin* known = vector->labels[set].pin(label.of.key, m_frame.groundScale());
    const double now = known && known->sizePt > 0 ? known->sizePt : vector->labels[set].sizePt;
    auto words = labelWords(label.of);
    words["size-pt"] = exactNumber(std::round(now * times * 10) / 10);
    m_workspace.perform("label-pin", words, "labelSize");
}

void LabelTool::pin(const carto::MapLabel& label, Point middle, double turn, const char* mergeKey) {
    const auto text = [](double v) { return exactNumber(std::round(v * 100) / 100); };
    const Point off = (middle - label.anchor) * (1 / m_frame.pxPerMm);
    auto words = labelWords(label.of);
    words["right-mm"] = text(off.x);
    words["down-mm"] = text(off.y);
    words["turn"] = text(turn);
    words["scale"] = text(std::round(m_frame.groundScale()));
    m_workspace.perform("label-pin", words, mergeKey ? mergeKey : QString());
}

bool LabelTool::key(const QKeyEvent& event, const carto::MapFrame& now) {
    const bool isNext = event.key() == Qt::Key_PageDown, isBefore = event.key() == Qt::Key_PageUp;
    if (isNext || isBefore) {
        if (m_labels.empty()) return true;
        std::size_t at = 0;
        for (std::size_t i = 0; i < m_labels.size(); ++i)
            if (m_chosen && m_labels[i].of == *m_chosen)
                at = (i + (isNext ? 1 : m_labels.size() - 1)) % m_labels.size();
        choose(m_labels[at].of);
        return true;
    }
    const carto::MapLabel* label = chosen();
    if (!label) return false;
    const double step = (event.modifiers() & Qt::ShiftModifier ? 2 : 0.5) * now.pxPerMm;
    const double turn = label->angleRadians * kDegreesPerRadian;
    const auto move = [&](double x, double y) {
        pin(*label, label->middle + Point{x * step, y * step}, turn, "labelStep");
        return true;
    };
    // Plus is reached without Shift, too.
    const int wanted = event.key() == Qt::Key_Equal ? Qt::Key_Plus : event.key();
    for (const Act& one : acts())
        if (one.key == wanted) return one.act(), true;
    switch (event.key()) {
    case Qt::Key_Left: return move(-1, 0);
    case Qt::Key_Right: return move(1, 0);
    case Qt::Key_Up: return move(0, -1);
    case Qt::Key_Down: return move(0, 1);
    default: return false;
    }
}

bool LabelTool::chooseAt(Point at, const carto::MapFrame& now) {
    const auto found = labelAt(at - shift(now));
    if (found) choose(m_labels[*found].of);
    return found.has_value();
}

std::vector<LabelTool::Act> LabelTool::acts() {
    const carto::MapLabel* found = chosen();
    if (!found) return {};
    const carto::MapLabel label = *found;
    return {
        {tr("Another text…"), Qt::Key_Return,
         [this, label] { Q_EMIT textAsked(label.of, label.text); }},
        {tr("Larger"), Qt::Key_Plus, [this, label] { resize(label, 1.1); }},
        {tr("Smaller"), Qt::Key_Minus, [this, label] { resize(label, 1 / 1.1); }},
        {tr("Turn to the left"), Qt::Key_BracketLeft, [this, label] { turn(label, -5); }},
        {tr("Turn to the right"), Qt::Key_BracketRight, [this, label] { turn(label, 5); }},
        {tr("Hide it"), Qt::Key_Delete, [this, label] { hide(label); }},
        {tr("Let it go"), Qt::Key_Backspace, [this, label] { reset(label); }},
    };
}

void LabelTool::turn(const carto::MapLabel& label, double byDegrees) {
    pin(label, label.middle, label.angleRadians * kDegreesPerRadian + byDegrees, "labelTurn");
}

void LabelTool::hide(const carto::MapLabel& label) {
    auto words = labelWords(label.of);
    words["hidden"] = "yes";
    m_workspace.perform("label-pin", words);
}

void LabelTool::reset(const carto::MapLabel& label) {
    auto words = labelWords(label.of);
    words["scale"] = exactNumber(std::round(m_frame.groundScale()));
    m_workspace.perform("label-unpin", words);
}

void LabelTool::setColour(std::optional<Colour> colour) {
    const carto::MapLabel* label = chosen();
    if (!label) return;
    auto words = labelWords(label->of);
    words["colour"] = colour ? colourText(*colour) : "none";
    m_workspace.perform("label-pin", words);
}

void LabelTool::unpinAll(doc::Id layer, int set) {
    m_workspace.perform("label-unpin",
                        {{"layer", Workspace::target(layer)}, {"set", std::to_string(set)}});
}

void LabelTool::pinAll(doc::Id layer, int set) {
    // One edit of the whole list, so that one step takes it back.
    const auto* found = m_workspace.document().layer(layer);
    const auto* vector = found ? found->as<doc::VectorLayer>() : nullptr;
    if (!vector || static_cast<std::size_t>(set) >= vector->labels.size()) return;
    doc::LabelStyle labels = vector->labels[static_cast<std::size_t>(set)];
    for (const carto::MapLabel& label : m_labels) {
        if (label.of.layer != layer || label.of.set != set || label.of.part != 0) continue;
        doc::LabelPin& pin = doc::pinAt(labels, label.of.key, m_frame.groundScale());
        pin.isPlaced = true;
        const Point off = (label.middle - label.anchor) * (1 / m_frame.pxPerMm);
        pin.rightMm = std::round(off.x * 100) / 100, pin.downMm = std::round(off.y * 100) / 100;
        pin.turn = std::round(label.angleRadians * kDegreesPerRadian * 100) / 100;
        pin.scale = std::round(m_frame.groundScale());
    }
    doc::sortPins(labels.pins);
    m_workspace.perform("layer-set", {{"layer", Workspace::target(layer)},
                                      {"member", "labels." + std::to_string(set)},
                                      {"value", doc::styleText(labels)},
                                      {"said", tr("Hold labels where they are").toStdString()}});
}

void LabelTool::place(const carto::LabelOf& of) {
    auto words = labelWords(of);
    words["right-mm"] = words["down-mm"] = words["turn"] = "0";
    words["scale"] = exactNumber(std::round(m_frame.groundScale()));
    m_workspace.perform("label-pin", words);
    carto::LabelOf whole = of;
    whole.part = 0;
    choose(whole);
}

void LabelTool::paintLeftOut(QPainter& painter, const carto::MapFrame& now, Point off) const {
    constexpr std::size_t kMostShown = 400;
    painter.setRenderHint(QPainter::Antialiasing);
    carto::TextStyle style{6, false, true, {0xB2, 0x3A, 0x2E}, true, 0};
    std::size_t shown = 0;
    for (const carto::LabelLeftOut& one : m_leftOut) {
        if (++shown > kMostShown) return;
        const Point at = one.anchor + off;
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(0xB2, 0x3A, 0x2E));
        painter.drawEllipse(carto::qt(at), 0.5 * now.pxPerMm, 0.5 * now.pxPerMm);
        carto::drawText(painter, at + Point{0.9 * now.pxPerMm, 0.8 * now.pxPerMm}, 0, one.text,
                        style, now.pxPerMm);
    }
}

void LabelTool::paint(QPainter& painter, const carto::MapFrame& now) const {
    if (now.view.scale != m_frame.view.scale) return;
    const Point off = shift(now);
    paintLeftOut(painter, now, off);
    const carto::MapLabel* label = chosen();
    if (!label) return;
    painter.setRenderHint(QPainter::Antialiasing);
    QColor ink = theme().lichen;
    const auto outline = [&](Point by) {
        for (const Box& box : label->boxes)
            painter.drawRect(
                QRectF(box.xMin + off.x + by.x, box.yMin + off.y + by.y, box.width(), box.height())
                    .adjusted(-2, -2, 2, 2));
    };
    painter.setPen(QPen(ink, 1.2 * now.pxPerMm / 3.78));
    painter.setBrush(Qt::NoBrush);
    if (label->boxes.size() == 1) outline({});
    if (label->boxes.size() > 1) {
        Box all;
        for (const Box& box : label->boxes) all.add(box);
        painter.drawRect(QRectF(all.xMin + off.x, all.yMin + off.y, all.width(), all.height()));
    }
    if (m_held && (m_by.x != 0 || m_by.y != 0)) {
        ink.setAlpha(70);
        painter.setBrush(ink);
        painter.setPen(Qt::NoPen);
        outline(m_by);
        painter.setPen(QPen(theme().lichen, 1));
        painter.drawLine(carto::qt(label->anchor + off), carto::qt(label->middle + off + m_by));
    }
}

}  // namespace ledge::app
