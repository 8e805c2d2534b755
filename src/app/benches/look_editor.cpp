#include "app/benches/look_editor.h"

#include <algorithm>

#include <QFileDialog>

#include "carto/own_marks.h"
#include "core/base/number_list.h"
#include "io/files/atomic_file.h"
#include "session/aside.h"

namespace ledge::app {

LookEditor::LookEditor(QWidget* parent)
    : QWidget(parent), m_hasFill(new QCheckBox(tr("Fill"))),
      m_fill(new ColourButton(tr("Fill colour"))), m_hasStroke(new QCheckBox(tr("Line"))),
      m_stroke(new ColourButton(tr("Line colour"))),
      m_width(makeNumber(tr("Line width on paper"), 0, 10, 2, " mm", 0.05)),
      m_dash(makeChoice(tr("Dashes"), {tr("Solid"), tr("Dashes"), tr("Dots"), tr("Dash-dot")})),
      m_mark(makeChoice(tr("Mark"),
                        {tr("Circle"), tr("Square"), tr("Triangle"), tr("Diamond"), tr("Pentagon"),
                         tr("Star"), tr("Plus"), tr("Cross"), tr("Drop"), tr("Needle")})),
      m_size(makeNumber(tr("Mark size on paper"), 0.2, 40, 1, " mm", 0.2)) {
    m_width->setObjectName("lineWidth");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    m_fillRow = sideBySide({m_hasFill, m_fill});
    layout->addWidget(m_fillRow);
    layout->addWidget(sideBySide({m_hasStroke, m_stroke}));
    m_dashPart = captioned(tr("Dashes"), m_dash);
    layout->addWidget(sideBySide({captioned(tr("Width"), m_width), m_dashPart}));
    m_markPart = sideBySide({captioned(tr("Mark"), m_mark), captioned(tr("Size"), m_size)});
    layout->addWidget(m_markPart);
    m_more = new QCheckBox(tr("Pattern, casing, dashes and more"));
    m_more->setObjectName("lookMore");
    m_morePart = makeMorePart();
    m_morePart->hide();
    layout->addWidget(m_more);
    layout->addWidget(m_morePart);
    connect(m_more, &QCheckBox::toggled, m_morePart, &QWidget::setVisible);
    connect(m_hasFill, &QCheckBox::clicked, this,
            [this](bool on) { change([on](doc::Look& l) { l.hasFill = on; }); });
    connect(m_hasStroke, &QCheckBox::clicked, this,
            [this](bool on) { change([on](doc::Look& l) { l.hasStroke = on; }); });
    connect(m_fill, &ColourButton::chosen, this,
            [this](Colour c) { change([c](doc::Look& l) { l.fill = c; }); });
    connect(m_stroke, &ColourButton::chosen, this,
            [this](Colour c) { change([c](doc::Look& l) { l.stroke = c; }); });
    connect(m_width, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { change([v](doc::Look& l) { l.strokeMm = v; }); });
    connect(m_size, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { change([v](doc::Look& l) { l.markMm = v; }); });
    connect(m_dash, &QComboBox::activated, this,
            [this](int i) { change([i](doc::Look& l) { l.dash = static_cast<doc::Dash>(i); }); });
    connect(m_mark, &QComboBox::activated, this,
            [this](int i) { change([i](doc::Look& l) { l.mark = static_cast<doc::Mark>(i); }); });
}

QWidget* LookEditor::makeMorePart() {
    auto* part = new QWidget;
    auto* rows = new QVBoxLayout(part);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(8);
    m_pattern = makeChoice(tr("Pattern"), {tr("None"), tr("Hatch"), tr("Cross hatch"), tr("Dots"),
                                           tr("Crosses"), tr("Own drawing")});
    m_patternInk = new ColourButton(tr("Colour of the pattern"));
    m_patternMm = makeNumber(tr("From line to line"), 0.2, 50, 2, " mm", 0.1);
    m_patternLine = makeNumber(tr("Width of the pattern's lines"), 0.01, 10, 2, " mm", 0.05);
    m_patternTurn = makeNumber(tr("Angle of the pattern"), -180, 180, 0, "°", 15);
    m_pattern->setObjectName("pattern");
    m_patternMm->setObjectName("patternMm");
    m_patternPart = new QWidget;
    auto* pattern = new QVBoxLayout(m_patternPart);
    pattern->setContentsMargins(0, 0, 0, 0);
    pattern->setSpacing(8);
    pattern->addWidget(
        sideBySide({captioned(tr("Pattern"), m_pattern), captioned(tr("Colour"), m_patternInk)}));
    pattern->addWidget(
        sideBySide({captioned(tr("Spacing"), m_patternMm), captioned(tr("Line"), m_patternLine),
                    captioned(tr("Angle"), m_patternTurn)}));
    m_patternDrawing = makeButton(
        tr("Drawing…"),
        tr("An SVG that is repeated; what it draws in currentColor is in the pattern's colour"));
    m_patternDrawing->setObjectName("patternDrawing");
    pattern->addWidget(m_patternDrawing);
    connect(m_patternDrawing, &QPushButton::clicked, this,
            [this] { chooseDrawing(&doc::Look::patternPicture); });
    m_casingMm = makeNumber(tr("Casing on either side"), 0, 10, 2, " mm", 0.05);
    m_casing = new ColourButton(tr("Colour of the casing"));
    m_offset = makeNumber(tr("Beside the line, to its right"), -20, 20, 2, " mm", 0.1);
    m_dashes = makeText(tr("Own dashes: ink, gap, ink, gap in millimetres"), "2, 0.6, 0.3, 0.6");
    m_along =
        makeChoice(tr("Along the line"), {tr("Nothing"), tr("Arrows"), tr("Marks"), tr("Ticks")});
    m_alongMm = makeNumber(tr("From one to the next"), 1, 500, 1, " mm", 1);
    m_cap = makeChoice(tr("How lines and dashes end"),
                       {tr("as usual"), tr("round"), tr("flat"), tr("square")});
    m_cap->setToolTip(tr("How lines and dashes end; as usual: lines round, dashes flat"));
    m_join = makeChoice(tr("How lines turn a corner"), {tr("round"), tr("pointed"), tr("cut off")});
    m_cap->setObjectName("lineCap");
    m_join->setObjectName("lineJoin");
    m_casingMm->setObjectName("casingMm");
    m_dashes->setObjectName("ownDashes");
    m_dashesWrong = wrongBelow(m_dashes);
    m_along->setObjectName("alongLine");
    m_linePart = new QWidget;
    auto* line = new QVBoxLayout(m_linePart);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(8);
    line->addWidget(captioned(tr("Own dashes, mm: ink, gap, …"), m_dashes));
    line->addWidget(m_dashesWrong);
    line->addWidget(sideBySide({captioned(tr("Ends"), m_cap), captioned(tr("Corners"), m_join)}));
    line->addWidget(
        sideBySide({captioned(tr("Casing"), m_casingMm), captioned(tr("Colour"), m_casing),
                    captioned(tr("Offset"), m_offset)}));
    line->addWidget(
        sideBySide({captioned(tr("Along the line"), m_along), captioned(tr("Every"), m_alongMm)}));
    m_turn = makeNumber(tr("Turn of the mark"), -360, 360, 0, "°", 15);
    m_drawing = makeButton(
        tr("Own drawing…"),
        tr("An SVG in place of the mark; what it draws in currentColor is in the fill's colour"));
    m_drawing->setObjectName("markDrawing");
    m_characters = makeText(tr("Characters of a font in place of the mark"), tr("none"));
    m_characters->setObjectName("markCharacters");
    m_font = new FontChoice(tr("Font of the characters"));
    m_turnPart = new QWidget;
    auto* mark = new QVBoxLayout(m_turnPart);
    mark->setContentsMargins(0, 0, 0, 0);
    mark->setSpacing(8);
    mark->addWidget(
        sideBySide({captioned(tr("Turn of the mark"), m_turn), captioned(" ", m_drawing)}));
    mark->addWidget(
        sideBySide({captioned(tr("Characters"), m_characters), captioned(tr("Font"), m_font)}));
    connect(m_drawing, &QPushButton::clicked, this, [this] {
        // What is there is taken away by the same button.
        if (!m_look.markPicture.empty()) return change([](doc::Look& l) { l.markPicture.clear(); });
        chooseDrawing(&doc::Look::markPicture);
    });
    connect(m_characters, &QLineEdit::editingFinished, this, [this] {
        const std::string said = m_characters->text().trimmed().toStdString();
        change([&](doc::Look& l) { l.markText = said; });
    });
    connect(m_font, &FontChoice::said, this, [this](const std::string& family) {
        change([&](doc::Look& l) { l.markFont = family; });
    });
    for (QWidget* one : {m_patternPart, m_linePart, m_turnPart}) rows->addWidget(one);
    const auto number = [this](QDoubleSpinBox* box, double doc::Look::*member) {
        connect(box, &QDoubleSpinBox::valueChanged, this,
                [this, member](double v) { change([member, v](doc::Look& l) { l.*member = v; }); });
    };
    number(m_patternMm, &doc::Look::patternMm);
    number(m_patternLine, &doc::Look::patternLineMm);
    number(m_patternTurn, &doc::Look::patternTurn);
    number(m_casingMm, &doc::Look::casingMm);
    number(m_offset, &doc::Look::offsetMm);
    number(m_alongMm, &doc::Look::alongMm);
    number(m_turn, &doc::Look::markTurn);
    connect(m_pattern, &QComboBox::activated, this, [this](int i) {
        change([i](doc::Look& l) { l.pattern = static_cast<doc::Pattern>(i); });
    });
    connect(m_along, &QComboBox::activated, this,
            [this](int i) { change([i](doc::Look& l) { l.along = static_cast<doc::Along>(i); }); });
    connect(m_cap, &QComboBox::activated, this,
            [this](int i) { change([i](doc::Look& l) { l.cap = static_cast<doc::Cap>(i); }); });
    connect(m_join, &QComboBox::activated, this,
            [this](int i) { change([i](doc::Look& l) { l.join = static_cast<doc::Join>(i); }); });
    connect(m_patternInk, &ColourButton::chosen, this,
            [this](Colour c) { change([c](doc::Look& l) { l.patternInk = c; }); });
    connect(m_casing, &ColourButton::chosen, this,
            [this](Colour c) { change([c](doc::Look& l) { l.casing = c; }); });
    connect(m_dashes, &QLineEdit::editingFinished, this, [this] {
        const auto lengths = parseNumbers(m_dashes->text().toStdString());
        const bool isUsable =
            lengths && lengths->size() % 2 == 0 &&
            std::all_of(lengths->begin(), lengths->end(), [](double v) { return v >= 0; });
        showWrong(m_dashes, m_dashesWrong,
                  isUsable ? QString() : tr("Dashes are pairs of ink and gap, such as 2, 0.6"));
        if (!isUsable) return;
        change([&](doc::Look& l) { l.dashesMm = *lengths; });
    });
    return part;
}

// The drawing goes into the project, so that it cannot get lost.
void LookEditor::chooseDrawing(std::string doc::Look::*member) {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Drawing"), {}, tr("SVG drawings (*.svg)"), nullptr,
                                     QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    const auto text = session::aside([&] { return io::readText(path.toStdString(), 1'000'000); });
    if (!text) return Q_EMIT refused(QString::fromStdString(text.error().text()));
    if (const QString why = carto::drawingTrouble(*text); !why.isEmpty())
        return Q_EMIT refused(tr("%1: %2").arg(path, why));
    change([&](doc::Look& l) {
        l.*member = *text;
        if (member == &doc::Look::patternPicture) l.pattern = doc::Pattern::Pictures;
    });
}

void LookEditor::change(const std::function<void(doc::Look&)>& f) {
    doc::Look next = m_look;
    f(next);
    if (next == m_look) return;
    m_look = next;
    Q_EMIT edited(next);
}

void LookEditor::show(const doc::Look& look, GeometryType type) {
    m_look = look;
    m_fillRow->setVisible(type != GeometryType::Line);
    m_dashPart->setVisible(type != GeometryType::Point);
    m_markPart->setVisible(type == GeometryType::Point);
    showCheck(m_hasFill, look.hasFill);
    showCheck(m_hasStroke, look.hasStroke);
    m_fill->setColour(look.fill);
    m_stroke->setColour(look.stroke);
    showNumber(m_width, look.strokeMm);
    showNumber(m_size, look.markMm);
    showChoice(m_dash, static_cast<int>(look.dash));
    showChoice(m_mark, static_cast<int>(look.mark));
    m_patternPart->setVisible(type == GeometryType::Polygon);
    m_linePart->setVisible(type != GeometryType::Point);
    m_turnPart->setVisible(type == GeometryType::Point);
    showChoice(m_pattern, static_cast<int>(look.pattern));
    m_patternInk->setColour(look.patternInk);
    showNumber(m_patternMm, look.patternMm);
    showNumber(m_patternLine, look.patternLineMm);
    showNumber(m_patternTurn, look.patternTurn);
    showNumber(m_casingMm, look.casingMm);
    m_casing->setColour(look.casing);
    showNumber(m_offset, look.offsetMm);
    QStringList dashes;
    for (const double mm : look.dashesMm) dashes << QString::fromStdString(exactNumber(mm));
    showText(m_dashes, dashes.join(", "));
    if (!m_dashes->hasFocus()) showWrong(m_dashes, m_dashesWrong, {});
    showChoice(m_cap, static_cast<int>(look.cap));
    showChoice(m_join, static_cast<int>(look.join));
    showChoice(m_along, static_cast<int>(look.along));
    showNumber(m_alongMm, look.alongMm);
    showNumber(m_turn, look.markTurn);
    m_patternDrawing->setVisible(look.pattern == doc::Pattern::Pictures);
    m_drawing->setText(look.markPicture.empty() ? tr("Own drawing…") : tr("No drawing"));
    showText(m_characters, QString::fromStdString(look.markText));
    m_font->show(look.markFont);
}

}  // namespace ledge::app
