#include "app/benches/number_rules.h"

#include <QToolButton>

#include "app/benches/bench_page.h"
#include "app/benches/ramp_editor.h"
#include "app/widgets/focus_kept.h"
#include "app/widgets/look_sample.h"
#include "app/widgets/rows.h"
#include "carto/legend.h"
#include "core/symbol/colour_vision.h"
#include "document/json/members.h"
#include "document/look_finder.h"
#include "session/field_classes.h"

namespace ledge::app {
namespace {
QVBoxLayout* column(QWidget* part) {
    auto* rows = new QVBoxLayout(part);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(8);
    return rows;
}
}  // namespace

NumberRules::NumberRules(QWidget* parent)
    : QWidget(parent),
      m_per(new FormulaChoice(tr("Divided by"), tr("A field, or a formula"), tr("nothing"))),
      m_note(makeLabel("", "muted")) {
    auto* rows = column(this);
    m_per->setObjectName("stylePer");
    m_perPart = captioned(tr("Divided by (a rate: people per household)"), m_per);
    m_note->setWordWrap(true);
    m_note->setObjectName("numberNote");
    m_classPart = makeClassPart();
    m_sizePart = makeSizePart();
    m_dotPart = makeDotPart();
    for (QWidget* part : {m_perPart, m_classPart, m_sizePart, m_dotPart}) rows->addWidget(part);
    rows->addWidget(m_note);
    connect(m_per, &FormulaChoice::said, this, [this](const std::string& text) {
        Q_EMIT edited("style.per", text, {});
        ask();
    });
}

QWidget* NumberRules::makeClassPart() {
    auto* part = new QWidget;
    auto* rows = column(part);
    m_method =
        makeChoice(tr("How breaks are found"),
                   {tr("Natural breaks"), tr("Quantiles"), tr("Equal steps"), tr("Round steps"),
                    tr("Geometric steps"), tr("Standard deviations"), tr("By hand")});
    m_count = makeNumber(tr("Classes"), 2, 12, 0);
    m_count->setValue(session::kUsualClasses);
    m_family = makeChoice(tr("Colours"), {});
    for (const RampFamily& family : rampFamilies())
        m_family->addItem(familyIcon(rampOf(family.id, 0, 1)), qtext(family.name),
                          qtext(family.id));
    m_family->setIconSize(QSize(72, 14));
    m_flip = makeButton(tr("Flip"), tr("Dark where it was light"));
    m_view = new BreakView;
    m_fit = makeLabel("", "muted");
    m_outlines = new QCheckBox(tr("Outlines"));
    m_outlines->setToolTip(tr("Off: no class has an outline, for maps of many small areas"));
    m_method->setObjectName("classMethod");
    m_count->setObjectName("classCount");
    m_family->setObjectName("classFamily");
    m_flip->setObjectName("classFlip");
    m_fit->setObjectName("fitOfClasses");
    m_outlines->setObjectName("classOutlines");
    m_colourPart = new QWidget;
    auto* colourRows = column(m_colourPart);
    rows->addWidget(
        sideBySide({captioned(tr("Breaks"), m_method), captioned(tr("Classes"), m_count)}));
    rows->addWidget(m_view);
    auto* list = new QWidget;
    m_rows = column(list);
    m_rows->setSpacing(2);
    rows->addWidget(list);
    rows->addWidget(m_fit);
    colourRows->addWidget(captioned(tr("Colours"), m_family));
    colourRows->addWidget(sideBySide({m_flip, m_outlines}));
    rows->addWidget(m_colourPart);
    connect(m_method, &QComboBox::activated, this, &NumberRules::ask);
    connect(m_count, &QDoubleSpinBox::valueChanged, this, &NumberRules::ask);
    connect(m_view, &BreakView::moved, this, &NumberRules::breaksMoved);
    const auto colours = [this](bool isFlipped) {
        Q_EMIT familyAsked(m_family->currentData().toString().toStdString(), isFlipped);
    };
    connect(m_family, &QComboBox::activated, this,
            [this, colours] { colours(m_style.classes.isFlipped); });
    connect(m_flip, &QPushButton::clicked, this,
            [this, colours] { colours(!m_style.classes.isFlipped); });
    connect(m_outlines, &QCheckBox::clicked, this,
            [this](bool on) { Q_EMIT edited("style.outlines", doc::word(on), {}); });
    return part;
}

void NumberRules::ask() {
    const bool isSized = m_style.classing == doc::Classing::Sized && m_classed->isChecked();
    if (m_style.classing != doc::Classing::Classes && !isSized) return;
    Q_EMIT breaksAsked(static_cast<classify::Method>(m_method->currentIndex()),
                       static_cast<int>(m_count->value()));
}

QWidget* NumberRules::makeSizePart() {
    auto* part = new QWidget;
    auto* rows = column(part);
    m_largest = makeNumber(tr("Largest"), 0.1, 100, 1, " mm", 0.5);
    m_smallest = makeNumber(tr("Smallest"), 0, 50, 1, " mm", 0.1);
    m_high = makeNumber(tr("Number drawn largest"), 0, 1e15, 2);
    m_by = makeChoice(tr("What follows the number"), {tr("Area"), tr("Width")});
    m_perceptual = new QCheckBox(tr("Larger ones a little larger"));
    m_perceptual->setToolTip(
        tr("Circles are judged smaller than they are: exponent 0.57 instead of 0.5"));
    m_classed = new QCheckBox(tr("A size for each class"));
    m_classed->setToolTip(tr("Numbers are put into classes, and each class has its own size"));
    m_classed->setObjectName("sizeClassed");
    m_largest->setObjectName("sizeLargest");
    m_high->setObjectName("sizeHigh");
    m_by->setObjectName("sizeBy");
    rows->addWidget(
        sideBySide({captioned(tr("Largest"), m_largest), captioned(tr("Smallest"), m_smallest)}));
    rows->addWidget(sideBySide(
        {captioned(tr("Drawn largest"), m_high), captioned(tr("Follows the number"), m_by)}));
    rows->addWidget(m_perceptual);
    rows->addWidget(m_classed);
    const auto number = [this](QDoubleSpinBox* box, const char* member) {
        connect(box, &QDoubleSpinBox::valueChanged, this, [this, member](double v) {
            Q_EMIT edited(QString("style.sizes.") + member, exactNumber(v), member);
        });
    };
    number(m_largest, "largest_mm");
    number(m_smallest, "smallest_mm");
    number(m_high, "high");
    connect(m_by, &QComboBox::activated, this,
            [this](int i) { Q_EMIT edited("style.sizes.by_area", doc::word(i == 0), {}); });
    connect(m_classed, &QCheckBox::clicked, this, [this](bool on) {
        Q_EMIT edited("style.sizes.classed", doc::word(on), {});
        if (on && m_style.classes.classes.empty()) ask();
    });
    connect(m_perceptual, &QCheckBox::clicked, this,
            [this](bool on) { Q_EMIT edited("style.sizes.perceptual", doc::word(on), {}); });
    return part;
}

QWidget* NumberRules::makeDotPart() {
    auto* part = new QWidget;
    auto* rows = column(part);
    m_each = makeNumber(tr("What one dot stands for"), 0.0001, 1e12, 2);
    m_dotMm = makeNumber(tr("Size of dots"), 0.1, 5, 2, " mm", 0.05);
    m_addDots = makeChoice(tr("Dots of another field"), {});
    auto* anew = makeButton(tr("Strew anew"), tr("Other places for all dots, by another seed"));
    m_each->setObjectName("dotEach");
    m_dotMm->setObjectName("dotSize");
    m_addDots->setObjectName("addDots");
    anew->setObjectName("strewAnew");
    rows->addWidget(
        sideBySide({captioned(tr("One dot is"), m_each), captioned(tr("Size"), m_dotMm)}));
    auto* list = new QWidget;
    m_dotRows = column(list);
    m_dotRows->setSpacing(4);
    rows->addWidget(list);
    rows->addWidget(sideBySide({m_addDots, anew}));
    m_outside = makeChoice(tr("Areas that take no dots"), {});
    m_outside->setObjectName("dotsOutside");
    rows->addWidget(captioned(tr("Never in the areas of"), m_outside));
    connect(m_outside, &QComboBox::activated, this, [this](int i) {
        Q_EMIT edited("style.dots.outside", std::to_string(m_outside->itemData(i).value<doc::Id>()),
                      {});
    });
    connect(m_each, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { Q_EMIT edited("style.dots.each", exactNumber(v), "dotEach"); });
    connect(m_dotMm, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { Q_EMIT edited("style.dots.dot_mm", exactNumber(v), "dotMm"); });
    connect(anew, &QPushButton::clicked, this, [this] {
        Q_EMIT edited("style.dots.seed", std::to_string(m_style.dots.seed + 1), {});
    });
    connect(m_addDots, &QComboBox::activated, this, [this](int i) {
        if (i == 0) return;
        doc::DotRule next = m_style.dots;
        next.fields.push_back({m_addDots->itemText(i).toStdString(),
                               withLightness(categoryColour(next.fields.size() * 3 + 1), 0.5)});
        Q_EMIT edited("style.dots", doc::styleText(next), {});
    });
    return part;
}

void NumberRules::offerAreas(const std::vector<std::pair<QString, doc::Id>>& areas) {
    const QSignalBlocker quiet(m_outside);
    m_outside->clear();
    m_outside->addItem(tr("no layer"), QVariant::fromValue(doc::Id{0}));
    for (const auto& [name, id] : areas) {
        m_outside->addItem(name, QVariant::fromValue(id));
        if (id == m_style.dots.outside) m_outside->setCurrentIndex(m_outside->count() - 1);
    }
}

void NumberRules::show(const doc::VectorStyle& style, GeometryType geometry,
                       const std::vector<Field>& fields,
                       const std::shared_ptr<const classify::Sample>& sample,
                       const QString& problem) {
    m_style = style;
    m_sample = sample;
    const bool isClassed = style.classing == doc::Classing::Classes;
    const bool areDots = style.classing == doc::Classing::Dots;
    const bool isSized = style.classing == doc::Classing::Sized;
    m_perPart->setVisible(isClassed || isSized || style.classing == doc::Classing::Ramp);
    const bool isSizeClassed = isSized && style.sizes.isClassed;
    m_classPart->setVisible(isClassed || isSizeClassed);
    m_colourPart->setVisible(isClassed);
    m_sizePart->setVisible(isSized);
    m_dotPart->setVisible(areDots);
    {
        m_per->show(fields, true, style.per);
        const QSignalBlocker quietDots(m_addDots);
        m_addDots->clear();
        m_addDots->addItem(tr("Add dots of…"));
        for (const Field& field : fields) {
            if (field.type != FieldType::Integer && field.type != FieldType::Real) continue;
            m_addDots->addItem(qtext(field.name));
        }
    }
    // Counts in areas of unlike size mislead; the trade says so, and so does the bench.
    QString note = problem;
    if (note.isEmpty() && isClassed && geometry == GeometryType::Polygon && style.per.empty() &&
        sample && !sample->isEmpty() && sample->low() >= 0 && sample->high() > 20)
        note = tr("Classes in areas suit rates. For counts divide by another field, or draw sizes "
                  "or dots.");
    if (note.isEmpty() && isClassed) {
        std::vector<Colour> colours;
        for (const doc::NumberClass& one : style.classes.classes)
            colours.push_back(geometry == GeometryType::Line ? one.look.stroke : one.look.fill);
        static const std::array<QString, 5> kWho{tr("anybody"), tr("people without red cones"),
                                                 tr("people without green cones"),
                                                 tr("people without blue cones"), tr("grey print")};
        if (const auto alike = neighboursAlike(colours); !alike.empty())
            note = tr("Classes %1 and %2 look alike to %3")
                       .arg(alike.front().first + 1)
                       .arg(alike.front().first + 2)
                       .arg(kWho[static_cast<std::size_t>(alike.front().vision)]);
    }
    m_note->setText(note);
    m_note->setVisible(!note.isEmpty());
    if (isClassed || isSizeClassed) showClasses(style, geometry);
    if (areDots) showDots(style, fields);
    showNumber(m_largest, style.sizes.largestMm);
    showNumber(m_smallest, style.sizes.smallestMm);
    showNumber(m_high, style.sizes.high);
    showChoice(m_by, style.sizes.isByArea ? 0 : 1);
    showCheck(m_perceptual, style.sizes.isPerceptual);
    showCheck(m_classed, style.sizes.isClassed);
    m_perceptual->setEnabled(style.sizes.isByArea && !style.sizes.isClassed);
    m_high->setEnabled(!style.sizes.isClassed);
}

// Rows stay while there are as many, so that the focus does.
void NumberRules::makeClassRows(std::size_t count) {
    if (m_classRows.size() == count) return;
    const FocusKept kept(this);
    clearRows(m_rows);
    m_classRows.clear();
    for (std::size_t i = 0; i < count; ++i) {
        auto* row = new QWidget;
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        ClassRow made{new QCheckBox, new QLabel, makeText(tr("Name of class %1").arg(i + 1)),
                      makeLabel("", "muted")};
        made.lamp->setAccessibleName(tr("Show class %1").arg(i + 1));
        made.lamp->setToolTip(tr("Show this class"));
        made.sample->setFixedWidth(36);
        made.label->setObjectName(QString("className%1").arg(i));
        made.label->setToolTip(tr("As the legend says it; empty for its limits"));
        made.count->setMinimumWidth(44);
        made.count->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        const QString path = QString("style.classes.classes.%1.").arg(i);
        connect(made.lamp, &QCheckBox::clicked, this,
                [this, path](bool on) { Q_EMIT edited(path + "shown", doc::word(on), {}); });
        connect(made.label, &QLineEdit::editingFinished, this, [this, path, i, label = made.label] {
            if (label->text() == carto::classText(m_style.classes, i, m_style.numbers)) return;
            Q_EMIT edited(path + "label", label->text().toStdString(), {});
        });
        layout->addWidget(made.lamp);
        layout->addWidget(made.sample);
        layout->addWidget(made.label, 1);
        layout->addWidget(made.count);
        m_rows->addWidget(row);
        m_classRows.push_back(made);
    }
}

// Of each class: its own, or the style's in the class's size, the largest as a sample holds it.
std::vector<doc::Look> NumberRules::looksOf(const doc::VectorStyle& style, GeometryType geometry) {
    std::vector<doc::Look> out;
    const auto& classes = style.classes.classes;
    for (std::size_t i = 0; i < classes.size(); ++i) {
        if (style.classing != doc::Classing::Sized) {
            out.push_back(classes[i].look);
            continue;
        }
        constexpr double kMostMm = 3.6;
        doc::Look look = style.look;
        (geometry == GeometryType::Line ? look.strokeMm : look.markMm) =
            doc::sizeOfClass(i, classes.size(), style.sizes) *
            std::min(1.0, kMostMm / style.sizes.largestMm);
        out.push_back(std::move(look));
    }
    return out;
}

void NumberRules::showClasses(const doc::VectorStyle& style, GeometryType geometry) {
    const doc::ClassRule& rule = style.classes;
    showChoice(m_method, static_cast<int>(rule.method));
    // Fewer were found than were asked for where numbers are few: what was asked for stays.
    if (rule.method == classify::Method::Own || double(rule.classes.size()) > m_count->value())
        showNumber(m_count, static_cast<double>(rule.classes.size()));
    m_count->setEnabled(rule.method != classify::Method::Own);
    showChoice(m_family, m_family->findData(qtext(rule.family)));
    showCheck(m_outlines, style.hasOutlines);
    m_outlines->setVisible(geometry == GeometryType::Polygon);
    const auto looks = looksOf(style, geometry);
    const bool isSized = style.classing == doc::Classing::Sized;
    const GeometryType drawn =
        isSized && geometry == GeometryType::Polygon ? GeometryType::Point : geometry;
    std::vector<Colour> colours;
    for (const doc::Look& look : looks)
        colours.push_back(geometry == GeometryType::Line ? look.stroke : look.fill);
    m_view->show(m_sample, rule.breaks, std::move(colours));
    std::vector<std::int64_t> counts;
    if (m_sample) counts = classify::countsOf(*m_sample, rule.breaks);
    makeClassRows(rule.classes.size());
    for (std::size_t i = 0; i < rule.classes.size(); ++i) {
        const ClassRow& row = m_classRows[i];
        showCheck(row.lamp, rule.classes[i].isShown);
        row.sample->setPixmap(lookSample(looks[i], drawn, devicePixelRatioF()));
        showText(row.label, carto::classText(rule, i, style.numbers));
        row.count->setText(i < counts.size() ? qtext(formatNumber(double(counts[i]), {0, true}))
                                             : "");
    }
    QString fit;
    if (m_sample && !m_sample->isEmpty()) {
        fit = tr("Classes explain %1 % of the spread")
                  .arg(100 * classify::goodnessOf(*m_sample, rule.breaks), 0, 'f', 1);
        if (m_sample->missing() > 0)
            fit += tr("; %1 without a number")
                       .arg(qtext(formatNumber(double(m_sample->missing()), {0, true})));
    }
    m_fit->setText(fit);
}

void NumberRules::showDots(const doc::VectorStyle& style, const std::vector<Field>& known) {
    showNumber(m_each, style.dots.each);
    showNumber(m_dotMm, style.dots.dotMm);
    const auto& fields = style.dots.fields;
    makeDotRows(fields.size());
    for (std::size_t i = 0; i < fields.size(); ++i) {
        m_dotRowsMade[i].colour->setColour(fields[i].colour);
        m_dotRowsMade[i].field->show(known, fields[i].field);
    }
}

void NumberRules::makeDotRows(std::size_t count) {
    if (m_dotRowsMade.size() == count) return;
    const FocusKept kept(this);
    clearRows(m_dotRows);
    m_dotRowsMade.clear();
    for (std::size_t i = 0; i < count; ++i) {
        auto* row = new QWidget;
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        const DotRow made{
            new ColourButton(tr("Colour of dots %1").arg(i + 1)),
            new FormulaText(query::Wanted::Anything, tr("What dots %1 count").arg(i + 1), {})};
        made.field->setToolTip(tr("A field, or a formula"));
        made.field->setObjectName(QString("dotField%1").arg(i));
        auto* away = makeButton(tr("Remove"), tr("No dots of this"));
        away->setEnabled(count > 1);
        const QString path = QString("style.dots.fields.%1.").arg(i);
        connect(made.colour, &ColourButton::chosen, this,
                [this, path](Colour c) { Q_EMIT edited(path + "colour", colourText(c), {}); });
        connect(made.field, &FormulaText::said, this,
                [this, path](const std::string& said) { Q_EMIT edited(path + "field", said, {}); });
        connect(away, &QPushButton::clicked, this, [this, i] {
            doc::DotRule next = m_style.dots;
            next.fields.erase(next.fields.begin() + static_cast<std::ptrdiff_t>(i));
            Q_EMIT edited("style.dots", doc::styleText(next), {});
        });
        layout->addWidget(made.colour);
        layout->addWidget(made.field, 1);
        layout->addWidget(away);
        m_dotRows->addWidget(row);
        m_dotRows->addWidget(made.field->below());
        m_dotRowsMade.push_back(made);
    }
}

}  // namespace ledge::app
