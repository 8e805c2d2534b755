#include "app/stack/layer_strip.h"

#include <QContextMenuEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QVBoxLayout>

#include "app/theme.h"
#include "carto/qtext.h"
#include "carto/swatch.h"
#include "document/edits/layer_edits.h"
#include "document/json/members.h"

namespace ledge::app {
namespace {
constexpr int kSwatchWidth = 34, kSwatchHeight = 26;


QString nameStyle(bool isDimmed) {
    return QString("font-weight: 600; color: %1;")
        .arg((isDimmed ? theme().muted : theme().text).name());
}
}  // namespace

Strip::Strip(Workspace& workspace, session::FactBook& facts, session::PhotoBook& photos,
             QWidget* parent)
    : RowFrame(parent), m_workspace(workspace), m_facts(facts), m_photos(photos),
      m_lamp(makeLamp(this)), m_swatch(new QLabel(this)), m_name(new ElidedLabel(this)),
      m_rename(new QLineEdit(this)), m_line(new ElidedLabel(this)), m_labels(new QToolButton(this)),
      m_fold(new QToolButton(this)), m_opacity(new ThinSlider(this)) {
    m_swatch->setFixedSize(kSwatchWidth, kSwatchHeight);
    m_name->setObjectName("name");
    m_name->setStyleSheet(nameStyle(false));
    m_name->setAttribute(Qt::WA_TransparentForMouseEvents);
    m_rename->setVisible(false);
    m_rename->setAccessibleName(tr("New name of the layer"));
    m_rename->setStyleSheet("padding: 0 3px; min-height: 16px;");
    m_line->setProperty("role", "muted");
    m_line->setObjectName("facts");
    // Long names and facts are cut, not the strip's right side.
    for (QLabel* label : {m_name, m_line})
        label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_opacity->setObjectName("opacity");
    m_labels->setObjectName("labelSets");
    m_labels->setFixedSize(20, 18);
    m_labels->setStyleSheet("padding: 1px;");
    m_fold->setObjectName("fold");
    m_fold->setFixedSize(18, 18);
    m_fold->setStyleSheet("padding: 1px;");
    m_fold->setToolTip(tr("Fold or unfold the group (Left, Right)"));
    m_fold->setAccessibleName(tr("Fold"));

    auto* texts = new QVBoxLayout;
    texts->setSpacing(1);
    texts->addWidget(m_name);
    texts->addWidget(m_rename);
    texts->addWidget(m_line);
    auto* top = new QHBoxLayout;
    top->setSpacing(7);
    top->addWidget(m_lamp);
    top->addWidget(m_swatch);
    top->addLayout(texts, 1);
    top->addWidget(m_labels);
    top->addWidget(m_fold);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(7, 5, 9, 2);
    all->setSpacing(0);
    all->addLayout(top);
    all->addWidget(m_opacity);

    connect(m_lamp, &QToolButton::clicked, this,
            [this](bool on) { m_workspace.setLit(m_layer, on); });
    connect(m_opacity, &QAbstractSlider::valueChanged, this, [this](int percent) {
        m_workspace.perform(
            "layer-opacity",
            {{"layer", Workspace::target(m_layer)}, {"percent", std::to_string(percent)}},
            QString("opacity%1").arg(m_layer));
    });
    connect(m_opacity, &QAbstractSlider::sliderReleased, this,
            [this] { m_workspace.session().seal(); });
    connect(m_labels, &QToolButton::clicked, this, &Strip::switchLabels);
    connect(m_fold, &QToolButton::clicked, this, [this] {
        const auto* own = m_workspace.document().layer(m_layer);
        const auto* group = own ? own->as<doc::Group>() : nullptr;
        if (group)
            m_workspace.perform("layer-fold", {{"group", Workspace::target(m_layer)},
                                               {"folded", group->isFolded ? "no" : "yes"}});
    });
    connect(m_rename, &QLineEdit::editingFinished, this, &Strip::finishRenaming);
    connect(m_line, &QLabel::linkActivated, this, [this] {
        m_workspace.selectLayer(m_layer);
        m_workspace.setBench(Bench::Data);
    });
}

void Strip::setLayer(doc::Id layer) {
    if (m_layer == layer) return;
    m_layer = layer;
    m_shown.reset();
    m_isDragging = false;
    setObjectName(QString("strip%1").arg(layer));
}

// A band picture is shown as it is, where others have a hill that is made up.
QImage Strip::photoOf(const doc::Layer& layer) const {
    const auto* raster = layer.as<doc::RasterLayer>();
    const auto* source =
        raster && raster->style.image ? m_workspace.document().source(layer.source) : nullptr;
    if (!source) return {};
    return m_photos.photo(layer, *source, QSize(kSwatchWidth, kSwatchHeight) * devicePixelRatioF());
}

void Strip::drawSwatch(const doc::Layer& layer) {
    auto look = layer;
    if (look.as<doc::Hillshade>()) look.blend = doc::Blend::Normal;
    QImage picture = m_photo;
    picture.setDevicePixelRatio(devicePixelRatioF());
    if (picture.isNull())
        picture = carto::swatch(look, {kSwatchWidth, kSwatchHeight}, devicePixelRatioF());
    m_swatch->setPixmap(QPixmap::fromImage(picture));
}

// Labels have a lamp of their own where there are any to switch.
void Strip::showLabels(const doc::Layer& layer) {
    const auto* vector = layer.as<doc::VectorLayer>();
    QStringList lit, dark;
    if (vector)
        for (const doc::LabelStyle& set : vector->labels)
            if (!set.text.empty())
                (set.isOn ? lit : dark) << (set.name.empty() ? tr("Labels") : qtext(set.name));
    m_labels->setVisible(!lit.isEmpty() || !dark.isEmpty());
    m_labels->setIcon(lineIcon("tag", lit.isEmpty() ? theme().muted : theme().lichen));
    m_labels->setToolTip(lit.isEmpty() ? tr("Labels off; press to choose")
                         : dark.isEmpty()
                             ? tr("Labels on: %1").arg(lit.join(", "))
                             : tr("Labels on: %1; off: %2").arg(lit.join(", "), dark.join(", ")));
    m_labels->setAccessibleName(tr("Labels of %1").arg(qtext(layer.name)));
}

// The only set at once, each of several from a menu.
void Strip::switchLabels() {
    const doc::Layer* layer = m_workspace.document().layer(m_layer);
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    if (!vector) return;
    const auto turn = [this, id = m_layer](std::size_t set, bool on) {
        m_workspace.perform("layer-set", {{"layer", Workspace::target(id)},
                                          {"member", "labels." + std::to_string(set) + ".on"},
                                          {"value", doc::word(on)}});
    };
    std::vector<std::size_t> sets;
    for (std::size_t i = 0; i < vector->labels.size(); ++i)
        if (!vector->labels[i].text.empty()) sets.push_back(i);
    if (sets.size() == 1) return turn(sets.front(), !vector->labels[sets.front()].isOn);
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setObjectName("labelSetMenu");
    for (const std::size_t i : sets) {
        const doc::LabelStyle& set = vector->labels[i];
        QAction* action = menu->addAction(set.name.empty() ? tr("Labels") : qtext(set.name), this,
                                          [turn, i, on = set.isOn] { turn(i, !on); });
        action->setCheckable(true);
        action->setChecked(set.isOn);
    }
    menu->popup(m_labels->mapToGlobal(QPoint(0, m_labels->height())));
}

void Strip::refresh() {
    const doc::Layer* layer = m_workspace.document().layer(m_layer);
    if (!layer) return;
    bool isInTheDark = false;
    for (auto place = doc::placeOf(m_workspace.document(), m_layer); place && place->group != 0;
         place = doc::placeOf(m_workspace.document(), place->group))
        isInTheDark =
            isInTheDark || !m_workspace.isLit(*m_workspace.document().layer(place->group));
    const bool isLit = m_workspace.isLit(*layer);
    const QImage photo = photoOf(*layer);
    const bool isOtherPhoto = photo.cacheKey() != m_photo.cacheKey();
    m_photo = photo;
    if (isOtherPhoto || !m_shown || !(*m_shown == *layer) || m_isInTheDark != isInTheDark ||
        m_isLit != isLit) {
        m_isInTheDark = isInTheDark, m_isLit = isLit;
        const QString name = qtext(layer->name);
        m_shown = std::make_shared<doc::Layer>(*layer);
        drawSwatch(*layer);
        m_name->setPlain(name);
        m_lamp->setChecked(isLit);
        m_lamp->setIcon(lampIcon(isLit, isInTheDark));
        m_lamp->setToolTip(isLit && isInTheDark
                               ? tr("Lamp on, but the group around it is dark (Space)")
                           : isLit ? tr("Lamp on: drawn (Space)")
                                   : tr("Lamp off: not drawn (Space)"));
        m_lamp->setAccessibleName(tr("Lamp of %1").arg(name));
        m_opacity->setAccessibleName(tr("Opacity of %1").arg(name));
        setAccessibleName(tr("Layer %1").arg(name));
        showLabels(*layer);
        const auto* group = layer->as<doc::Group>();
        m_fold->setVisible(group != nullptr);
        if (group)
            m_fold->setIcon(
                lineIcon(group->isFolded ? "chevron-right" : "chevron-down", theme().muted));
        if (m_isDimmed == isLit) {
            m_isDimmed = !isLit;
            m_name->setStyleSheet(nameStyle(m_isDimmed));
        }
    }
    if (!m_opacity->isSliderDown()) {
        const QSignalBlocker quiet(m_opacity);
        m_opacity->setValue(qRound(layer->opacity * 100));
        m_opacity->update();
    }
    m_opacity->setToolTip(tr("Opacity %1 %").arg(qRound(layer->opacity * 100)));
    const StripFacts facts = stripFacts(m_workspace, m_facts, *layer);
    if (facts.act.isEmpty())
        m_line->setPlain(facts.line);
    else
        m_line->setLinked(QString("%1 · <a href='act' style='color:%2'>%3</a>")
                              .arg(facts.line.toHtmlEscaped(), theme().rust.name(), facts.act));
    // A name that is cut is told whole.
    setToolTip(facts.tip.isEmpty() ? qtext(layer->name) : qtext(layer->name) + "\n" + facts.tip);
}

void Strip::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    m_pressedAt = event->globalPosition().toPoint();
    m_isPressed = true;
    m_isDragging = false;
    Q_EMIT pressed(event->modifiers());
}

void Strip::mouseMoveEvent(QMouseEvent* event) {
    if (!m_isPressed || !(event->buttons() & Qt::LeftButton)) return;
    const QPoint at = event->globalPosition().toPoint();
    if (!m_isDragging && std::abs(at.y() - m_pressedAt.y()) < 6) return;
    m_isDragging = true;
    Q_EMIT dragged(at.y(), false);
}

void Strip::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    if (!std::exchange(m_isPressed, false)) return;
    if (std::exchange(m_isDragging, false))
        Q_EMIT dragged(event->globalPosition().toPoint().y(), true);
    else
        Q_EMIT released(event->modifiers());
}

void Strip::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) startRenaming();
}

void Strip::contextMenuEvent(QContextMenuEvent* event) {
    // By the menu key it opens on the strip, wherever the pointer is.
    Q_EMIT menuAsked(event->reason() == QContextMenuEvent::Keyboard
                         ? mapToGlobal(QPoint(width() / 3, height() / 2))
                         : event->globalPos());
}

void Strip::startRenaming() {
    const doc::Layer* layer = m_workspace.document().layer(m_layer);
    if (!layer) return;
    m_rename->setText(qtext(layer->name));
    m_name->hide();
    m_rename->show();
    m_rename->selectAll();
    m_rename->setFocus();
}

void Strip::finishRenaming() {
    if (m_rename->isHidden()) return;
    const bool hadFocus = m_rename->hasFocus();  // by Return; else it went where it was sent
    m_rename->hide();
    m_name->show();
    if (hadFocus) setFocus(Qt::OtherFocusReason);
    const std::string name = m_rename->text().trimmed().toStdString();
    if (name.empty()) return;
    m_workspace.perform("layer-name", {{"layer", Workspace::target(m_layer)}, {"name", name}});
}

}  // namespace ledge::app
