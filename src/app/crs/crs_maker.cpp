#include "app/crs/crs_maker.h"

#include <QScrollArea>

#include "app/benches/bench_page.h"
#include "app/theme.h"
#include "app/widgets/form.h"
#include "core/base/numbers.h"
#include "core/crs/wkt.h"

namespace ledge::app {
namespace {
const std::vector<crs::Unit>& units() {
    static const std::vector<crs::Unit> all{{"metre", 1},
                                            {"foot", kMetresPerFoot},
                                            {"US survey foot", 0.304800609601219},
                                            {"kilometre", 1000}};
    return all;
}
}  // namespace

CrsMaker::CrsMaker(const crs::CrsPtr& start, QWidget* parent)
    : QWidget(parent), m_start(start), m_name(makeText(tr("Name"), tr("Name of the CRS"))),
      m_base(makeText(tr("Geographic CRS"), tr("EPSG:4326, or WKT"))),
      m_method(makeChoice(tr("Method"), {})), m_unit(makeChoice(tr("Unit"), {})),
      m_form(new QFormLayout), m_trouble(makeLabel("", "trouble")) {
    setObjectName("crsMaker");
    m_name->setObjectName("ownName");
    m_method->setObjectName("ownMethod");
    for (const auto& info : crs::methods()) m_method->addItem(info.name);
    for (const auto& unit : units()) m_unit->addItem(qtext(unit.name));
    m_base->setText(
        QString("EPSG:%1").arg(start && start->geographicCode ? start->geographicCode : 4326));
    int index = 0;
    if (start)
        for (std::size_t i = 0; i < crs::methods().size(); ++i)
            if (crs::methods()[i].method == start->method) index = static_cast<int>(i);
    m_method->setCurrentIndex(index);
    auto* rows = new QWidget;
    rows->setLayout(m_form);
    m_form->setContentsMargins(0, 0, 6, 0);
    m_form->setRowWrapPolicy(QFormLayout::WrapAllRows);
    m_form->setVerticalSpacing(3);
    auto* scroll = new QScrollArea;
    scroll->setWidget(rows);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    layout->addWidget(makeLabel(tr("A CRS of your own"), "heading"));
    layout->addWidget(m_name);
    layout->addWidget(
        sideBySide({captioned(tr("Geographic CRS"), m_base), captioned(tr("Unit"), m_unit)}));
    layout->addWidget(captioned(tr("Method"), m_method));
    layout->addWidget(scroll, 1);
    layout->addWidget(m_trouble);
    auto* back = makeButton(tr("Back"), tr("Choose from the list instead"));
    auto* keep = makeButton(tr("Make it"), tr("Keep it in the project"), true);
    keep->setObjectName("ownMake");
    layout->addWidget(sideBySide({back, keep}));
    m_trouble->hide();
    connect(back, &QPushButton::clicked, this, &CrsMaker::cancelled);
    connect(keep, &QPushButton::clicked, this, &CrsMaker::make);
    connect(m_method, &QComboBox::currentIndexChanged, this, &CrsMaker::showMethod);
    showMethod();
}

void CrsMaker::showMethod() {
    while (m_form->rowCount() > 0) m_form->removeRow(0);
    m_fields.clear();
    const auto& info =
        crs::methods()[static_cast<std::size_t>(std::max(0, m_method->currentIndex()))];
    for (const auto& parameter : info.parameters) {
        const QString name = parameter.name;
        auto* edit = makeText(name);
        edit->setObjectName(QString("own_%1").arg(parameter.wkt1));
        double value = parameter.kind == crs::ParameterKind::Ratio ? 1 : 0;
        if (m_start && m_start->method == info.method) {
            value = m_start->parameters.*parameter.field;
            if (parameter.kind == crs::ParameterKind::Longitude) value -= m_start->primeMeridian;
            if (parameter.kind == crs::ParameterKind::Length) value /= m_start->unit.size;
        }
        edit->setText(qtext(exactNumber(value)));
        const bool isAngle = parameter.kind == crs::ParameterKind::Angle ||
                             parameter.kind == crs::ParameterKind::Longitude;
        m_form->addRow(makeLabel(isAngle ? tr("%1, degrees").arg(name) : name, "muted"), edit);
        m_fields.push_back({&parameter, edit});
    }
}

Result<crs::CrsPtr> CrsMaker::definition() const {
    const auto wrong = [](const QString& what, const QString& why) {
        return Error{ErrorCode::InvalidArgument, what.toStdString(), why.toStdString(), ""};
    };
    const auto base = crs::parseCrs(m_base->text().trimmed().toStdString());
    if (!base) return base.error();
    if (!*base || !(*base)->isGeographic())
        return wrong(tr("Geographic CRS"), tr("give a geographic one, as EPSG:4326"));
    if (m_name->text().trimmed().isEmpty()) return wrong(tr("Name"), tr("give it a name"));
    crs::Crs crs = **base;
    crs.angularUnit = {"degree", crs::kRadiansPerDegree};
    crs.name = m_name->text().trimmed().toStdString();
    crs.code = 0;
    crs.area.reset();
    crs.unit = units()[static_cast<std::size_t>(std::max(0, m_unit->currentIndex()))];
    crs.method =
        crs::methods()[static_cast<std::size_t>(std::max(0, m_method->currentIndex()))].method;
    for (const Field& field : m_fields) {
        auto value =
            parseNumber(field.edit->text().trimmed().replace(QChar(0x2212), '-').toStdString());
        if (!value || !std::isfinite(*value))
            return wrong(field.parameter->name, tr("\"%1\" is no number").arg(field.edit->text()));
        if (field.parameter->kind == crs::ParameterKind::Longitude) *value += crs.primeMeridian;
        if (field.parameter->kind == crs::ParameterKind::Length) *value *= crs.unit.size;
        crs.parameters.*field.parameter->field = *value;
    }
    const auto* info = crs::methodInfo(crs.method);
    crs.isWestward = info->isWestward;
    crs.isSouthward = info->isSouthward;
    const auto usable = crs::makeProjection(crs.method, crs.parameters, crs.ellipsoid);
    if (!usable) return usable.error();
    return crs::CrsPtr(std::make_shared<crs::Crs>(std::move(crs)));
}

void CrsMaker::make() {
    const auto crs = definition();
    m_trouble->setVisible(!crs.has_value());
    if (!crs) return m_trouble->setText(qtext(crs.error().text()));
    Q_EMIT made(qtext((*crs)->name), qtext(crs::toWkt2(**crs)));
}

}  // namespace ledge::app
