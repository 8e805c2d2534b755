#include "app/stack_panel.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPointer>
#include <QVBoxLayout>

#include "app/canvas/shown_layers.h"
#include "app/theme.h"
#include "app/widgets/form.h"
#include "carto/swatch.h"
#include "document/edits/layer_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/kinds.h"
#include "session/derive/lineage.h"

namespace ledge::app {
namespace {
constexpr int kSwatchWidth = 34, kSwatchHeight = 26;

QString text(const std::string& s) { return QString::fromStdString(s); }

// A lamp: a lit disc, or an empty ring.
QIcon lampIcon(bool isLit) {
    QIcon icon;
    for (const double ratio : {1.0, 2.0}) {
        QPixmap pixmap(QSize(16, 16) * ratio);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.scale(ratio, ratio);
        painter.setPen(QPen(isLit ? theme().indigo : theme().muted, 1.5));
        painter.setBrush(isLit ? QBrush(theme().indigo) : QBrush(Qt::NoBrush));
        painter.drawEllipse(QPointF(8, 8), 5.5, 5.5);
        painter.end();
        pixmap.setDevicePixelRatio(ratio);
        icon.addPixmap(pixmap);
    }
    return icon;
}

void moveStrip(Workspace& workspace, doc::Id layer, const doc::Place& to) {
    workspace.perform("layer-move", {{"layer", Workspace::target(layer)},
                                     {"group", to.group == 0 ? "" : Workspace::target(to.group)},
                                     {"index", std::to_string(to.index)}});
}
}  // namespace

std::vector<std::pair<doc::Id, int>> visibleStrips(const std::vector<doc::LayerPtr>& layers,
                                                   int depth) {
    std::vector<std::pair<doc::Id, int>> out;
    for (const auto& layer : layers) {
        out.emplace_back(layer->id, depth);
        const auto* group = layer->as<doc::Group>();
        if (!group || group->isFolded) continue;
        const auto inner = visibleStrips(group->children, depth + 1);
        out.insert(out.end(), inner.begin(), inner.end());
    }
    return out;
}

Strip::Strip(Workspace& workspace, session::FactBook& facts, doc::Id layer, QWidget* parent)
    : QFrame(parent), m_workspace(workspace), m_facts(facts), m_layer(layer),
      m_lamp(new QToolButton(this)), m_swatch(new QLabel(this)), m_name(new QLabel(this)),
      m_rename(new QLineEdit(this)), m_line(new ElidedLabel(this)), m_fold(new QToolButton(this)),
      m_opacity(new ThinSlider(this)) {
    setFocusPolicy(Qt::StrongFocus);
    m_lamp->setObjectName("lamp");
    m_lamp->setCheckable(true);
    m_lamp->setFixedSize(20, 20);
    m_lamp->setStyleSheet("padding: 2px;");
    m_swatch->setFixedSize(kSwatchWidth, kSwatchHeight);
    m_name->setObjectName("name");
    m_name->setStyleSheet("font-weight: 600;");
    m_name->setAttribute(Qt::WA_TransparentForMouseEvents);
    m_rename->setVisible(false);
    m_rename->setAccessibleName(tr("New name of the layer"));
    m_line->setProperty("role", "muted");
    m_line->setObjectName("facts");
    // A long line of facts is cut, not the strip's right side.
    m_line->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_opacity->setObjectName("opacity");
    m_fold->setFixedSize(18, 18);
    m_fold->setStyleSheet("padding: 1px;");
    m_fold->setToolTip(tr("Fold or unfold the group"));
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
    top->addWidget(m_fold);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(7, 5, 9, 2);
    all->setSpacing(0);
    all->addLayout(top);
    all->addWidget(m_opacity);

    connect(m_lamp, &QToolButton::clicked, this, [this](bool on) {
        m_workspace.perform("layer-visible", {{"layer", Workspace::target(m_layer)},
                                              {"visible", on ? "yes" : "no"}});
    });
    connect(m_opacity, &QAbstractSlider::valueChanged, this, [this](int percent) {
        m_workspace.perform(
            "layer-opacity",
            {{"layer", Workspace::target(m_layer)}, {"percent", std::to_string(percent)}},
            QString("opacity%1").arg(m_layer));
    });
    connect(m_opacity, &QAbstractSlider::sliderReleased, this,
            [this] { m_workspace.session().seal(); });
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
    refresh();
}

namespace {
// What each kind says of itself in a line, from its source's facts where it has one.
struct FactsLine {
    const doc::SourceRef* source;
    const session::SourceFacts* facts;

    QString of() const { return facts ? text(facts->kind) : QString(); }
    QString operator()(const doc::Group& group) const {
        return Strip::tr("group of %1").arg(group.children.size());
    }
    QString operator()(const doc::GridLines& grid) const {
        return grid.style.isGraticule ? Strip::tr("graticule · live") : Strip::tr("grid · live");
    }
    QString operator()(const doc::UnknownLayer& unknown) const {
        return Strip::tr("%1 · can't be shown here").arg(text(unknown.kind));
    }
    QString operator()(const doc::VectorLayer&) const { return of(); }
    QString operator()(const doc::RasterLayer&) const { return of(); }
    QString operator()(const doc::Contours&) const {
        return Strip::tr("live from %1").arg(source ? text(source->name) : QString());
    }
    QString operator()(const doc::Hillshade&) const { return Strip::tr("hillshade · live"); }
    QString operator()(const doc::Steepness&) const { return Strip::tr("slope · live"); }
    QString operator()(const doc::HeightTint& tint) const {
        return Strip::tr("%1 to %2 m")
            .arg(text(formatNumber(tint.style.ramp.low(), {0, true})),
                 text(formatNumber(tint.style.ramp.high(), {0, true})));
    }
};
}  // namespace

QString Strip::factsText(const doc::Layer& layer, QString& act) {
    if (!doc::kindInfo(layer).needsSource) {
        if (const auto* unknown = layer.as<doc::UnknownLayer>())
            setToolTip(tr("This version does not know layers of the kind \"%1\". It is kept in the "
                          "project as it is.")
                           .arg(text(unknown->kind)));
        return std::visit(FactsLine{}, layer.content);
    }
    const auto* source = m_workspace.document().source(layer.source);
    if (!source) return tr("its source is gone");
    const auto* facts = m_facts.facts(*source);
    if (!facts) return tr("reading…");
    if (!facts->problem.empty()) {
        setToolTip(text(facts->problem));
        act = tr("why");
        return tr("cannot be read");
    }
    QString out = std::visit(FactsLine{source, facts}, layer.content);
    // In a project of plain local coordinates nothing needs a CRS.
    if (facts->concern && (facts->definition || m_workspace.session().mapCrs())) {
        act = facts->definition ? tr("look") : tr("declare");
        setToolTip(text(facts->concern->text));
        return text(facts->concern->badge);
    }
    if (const auto& reasons =
            m_workspace.session().stale().reasons(m_workspace.session().snapshot(), *source);
        !reasons.empty()) {
        act = tr("look");
        setToolTip(text(reasons.front()));
        return tr("stale");
    }
    if (source->lineage && !layer.readsHeights())
        out = (source->isLive() ? tr("live · %1") : tr("derived · %1")).arg(out);
    setToolTip(facts->definition ? text(session::crsInWords(*facts->definition)) : QString());
    if (layer.as<doc::VectorLayer>() || layer.as<doc::RasterLayer>())
        out += " · " + text(facts->crs);
    return out;
}

void Strip::refresh() {
    const doc::Layer* layer = m_workspace.document().layer(m_layer);
    if (!layer) return;
    const bool isNew = !(m_shown == *layer) || m_swatch->pixmap(Qt::ReturnByValue).isNull();
    m_lamp->setChecked(layer->isVisible);
    m_lamp->setIcon(lampIcon(layer->isVisible));
    m_lamp->setToolTip(layer->isVisible ? tr("Lamp on: drawn (Space)")
                                        : tr("Lamp off: not drawn (Space)"));
    m_lamp->setAccessibleName(tr("Lamp of %1").arg(text(layer->name)));
    m_opacity->setAccessibleName(tr("Opacity of %1").arg(text(layer->name)));
    m_opacity->setToolTip(tr("Opacity %1 %").arg(qRound(layer->opacity * 100)));
    setAccessibleName(tr("Layer %1").arg(text(layer->name)));
    if (isNew) {
        auto look = *layer;
        if (look.as<doc::Hillshade>()) look.blend = doc::Blend::Normal;
        m_swatch->setPixmap(QPixmap::fromImage(
            carto::swatch(look, {kSwatchWidth, kSwatchHeight}, devicePixelRatioF())));
        m_name->setText(text(layer->name));
    }
    if (!m_opacity->isSliderDown()) {
        const QSignalBlocker quiet(m_opacity);
        m_opacity->setValue(qRound(layer->opacity * 100));
        m_opacity->update();
    }
    const auto* group = layer->as<doc::Group>();
    m_fold->setVisible(group != nullptr);
    if (group)
        m_fold->setIcon(
            lineIcon(group->isFolded ? "chevron-right" : "chevron-down", theme().muted));
    QString act;
    const QString facts = factsText(*layer, act);
    if (act.isEmpty())
        m_line->setPlain(facts);
    else
        m_line->setLinked(QString("%1 · <a href='act' style='color:%2'>%3</a>")
                              .arg(facts.toHtmlEscaped(), theme().rust.name(), act));
    m_name->setStyleSheet(QString("font-weight: 600; color: %1;")
                              .arg((layer->isVisible ? theme().text : theme().muted).name()));
    m_shown = *layer;
    update();
}

void Strip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const bool isSelected =
        m_workspace.selectedLayer() == m_layer && m_workspace.selectedItem() == 0;
    painter.setBrush(isSelected ? theme().stone : theme().surface);
    painter.setPen(QPen(isSelected ? theme().lichen : (hasFocus() ? theme().indigo : theme().line),
                        isSelected ? 1.6 : 1));
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 7, 7);
}

void Strip::mousePressEvent(QMouseEvent* event) {
    m_pressedAt = event->globalPosition().toPoint();
    m_isDragging = false;
    if (event->button() == Qt::LeftButton) m_workspace.selectLayer(m_layer);
}

void Strip::mouseMoveEvent(QMouseEvent* event) {
    if (!(event->buttons() & Qt::LeftButton)) return;
    const QPoint at = event->globalPosition().toPoint();
    if (!m_isDragging && std::abs(at.y() - m_pressedAt.y()) < 6) return;
    m_isDragging = true;
    Q_EMIT dragged(at.y(), false);
}

void Strip::mouseReleaseEvent(QMouseEvent* event) {
    if (m_isDragging) Q_EMIT dragged(event->globalPosition().toPoint().y(), true);
    m_isDragging = false;
}

void Strip::mouseDoubleClickEvent(QMouseEvent*) { startRenaming(); }

void Strip::startRenaming() {
    m_rename->setText(m_name->text());
    m_name->hide();
    m_rename->show();
    m_rename->selectAll();
    m_rename->setFocus();
}

void Strip::finishRenaming() {
    if (m_rename->isHidden()) return;
    m_rename->hide();
    m_name->show();
    const std::string name = m_rename->text().trimmed().toStdString();
    if (name.empty()) return;
    m_workspace.perform("layer-name", {{"layer", Workspace::target(m_layer)}, {"name", name}});
}

void Strip::focusInEvent(QFocusEvent* event) {
    const bool isByTab =
        event->reason() == Qt::TabFocusReason || event->reason() == Qt::BacktabFocusReason;
    if (isByTab && !m_isQuiet) m_workspace.selectLayer(m_layer);
    QFrame::focusInEvent(event);
    update();
}

void Strip::keyPressEvent(QKeyEvent* event) {
    const auto place = doc::placeOf(m_workspace.document(), m_layer);
    if (event->modifiers() & Qt::AltModifier && place &&
        (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down)) {
        auto to = *place;
        if (event->key() == Qt::Key_Down)
            ++to.index;
        else if (to.index > 0)
            --to.index;
        return moveStrip(m_workspace, m_layer, to);
    }
    switch (event->key()) {
    case Qt::Key_Space: return m_lamp->click();
    case Qt::Key_F2: return startRenaming();
    case Qt::Key_Delete:
        return void(m_workspace.perform("layer-remove", {{"layer", Workspace::target(m_layer)}}));
    default: QFrame::keyPressEvent(event);
    }
}

void Strip::contextMenuEvent(QContextMenuEvent* event) {
    m_workspace.selectLayer(m_layer);
    const doc::Layer* layer = m_workspace.layer();
    if (!layer) return;
    QMenu menu(this);
    menu.addAction(tr("Show all of it"), this, [this] { Q_EMIT m_workspace.fitAsked(m_layer); });
    menu.addAction(tr("Rename…\tF2"), this, &Strip::startRenaming);
    QMenu* blend = menu.addMenu(tr("Blend mode"));
    const QStringList names{tr("Normal"), tr("Multiply"), tr("Screen"), tr("Overlay"),
                            tr("Soft light")};
    for (int i = 0; i < names.size(); ++i) {
        QAction* action = blend->addAction(names[i], this, [this, i] {
            m_workspace.perform(
                "layer-blend",
                {{"layer", Workspace::target(m_layer)},
                 {"mode", std::string(doc::blendNames()[static_cast<std::size_t>(i)])}});
        });
        action->setCheckable(true);
        action->setChecked(static_cast<int>(layer->blend) == i);
    }
    blend->setEnabled(!layer->isGroup());
    if (!layer->isGroup())
        menu.addAction(tr("Put into a new group"), this, [this] {
            m_workspace.perform("layer-group", {{"layers", Workspace::target(m_layer)},
                                                {"name", tr("Group").toStdString()}});
        });
    addComparison(menu);
    menu.addSeparator();
    menu.addAction(tr("Remove\tDelete"), this, [this] {
        m_workspace.perform("layer-remove", {{"layer", Workspace::target(m_layer)}});
    });
    menu.exec(event->globalPos());
}

// Any two strips or groups can be compared by curtain and blink.
void Strip::addComparison(QMenu& menu) {
    QMenu* compare = menu.addMenu(tr("Compare with"));
    for (const auto& other : doc::allLayers(m_workspace.document().layers)) {
        if (!canCompare(m_workspace.document(), m_layer, other->id)) continue;
        QAction* action = compare->addAction(text(other->name), this, [this, id = other->id] {
            m_workspace.selectLayer(m_layer);
            m_workspace.compareWith(id);
            m_workspace.say(tr("Hold B on the map to blink, Alt+C for the curtain, Esc to end"));
        });
        action->setCheckable(true);
        action->setChecked(other->id == m_workspace.comparedLayer());
    }
    compare->setEnabled(!compare->isEmpty());
    if (m_workspace.comparedLayer() != 0)
        menu.addAction(tr("End comparing"), this, [this] { m_workspace.compareWith(0); });
}

StackPanel::StackPanel(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_facts(facts), m_scroll(new QScrollArea(this)),
      m_list(new QWidget), m_dropLine(new QFrame(m_list)) {
    setObjectName("stackPanel");
    setFixedWidth(250);
    auto* title = makeLabel(tr("Stack"), "heading");
    auto* add = makeLink(tr("+ Add"), tr("Add data to the map (Ctrl+Shift+A)"));
    add->setStyleSheet("font-weight: 600; color: " + theme().indigo.name());
    connect(add, &QPushButton::clicked, this, &StackPanel::addAsked);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(16, 10, 12, 4);
    head->addWidget(title, 1);
    head->addWidget(add);
    m_scroll->setWidget(m_list);
    m_scroll->setWidgetResizable(true);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setLayout(new QVBoxLayout);
    m_list->layout()->setContentsMargins(8, 2, 8, 8);
    m_list->layout()->setSpacing(4);
    m_dropLine->setStyleSheet("background: " + theme().lichen.name());
    m_dropLine->hide();
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addLayout(head);
    all->addWidget(m_scroll, 1);
    connect(&workspace.session(), &session::Session::changed, this, &StackPanel::refresh);
    connect(&workspace, &Workspace::canvasChanged, this, &StackPanel::refresh);
    connect(&workspace, &Workspace::layerSelected, this, [this] {
        refresh();
        // Once its place is known.
        QMetaObject::invokeMethod(
            this,
            [this] {
                if (auto* selected = strip(m_workspace.selectedLayer()))
                    m_scroll->ensureWidgetVisible(selected, 0, 30);
            },
            Qt::QueuedConnection);
    });
    connect(&workspace, &Workspace::itemSelected, this, &StackPanel::refresh);
    connect(&facts, &session::FactBook::ready, this, &StackPanel::refresh);
    connect(&workspace.session().stale(), &session::StaleBook::ready, this, &StackPanel::refresh);
    refresh();
}

Strip* StackPanel::strip(doc::Id layer) const {
    const auto it = m_strips.find(layer);
    return it == m_strips.end() ? nullptr : it->second;
}

void StackPanel::refresh() {
    const auto order = visibleStrips(m_workspace.document().layers);
    const doc::Sheet* sheet = m_workspace.sheet();
    const auto items = sheet ? sheet->items : std::vector<doc::Shared<doc::SheetItem>>{};
    const bool isSame = order == m_order && items == m_items &&
                        m_shownSheet == m_workspace.sheetId() &&
                        m_shownItem == m_workspace.selectedItem();
    if (!isSame) {
        m_items = items;
        m_shownSheet = m_workspace.sheetId();
        m_shownItem = m_workspace.selectedItem();
        rebuild(order);
    }
    for (const auto& [id, strip] : m_strips) strip->refresh();
}

QWidget* StackPanel::makeItemRow(const doc::SheetItem& item) {
    auto* row = new QFrame;
    row->setObjectName(QString("item%1").arg(item.id));
    const bool isSelected = item.id == m_workspace.selectedItem();
    row->setStyleSheet(
        QString("QFrame#%1 { background: %2; border: %3px solid %4; border-radius: 7px; }")
            .arg(row->objectName(), (isSelected ? theme().stone : theme().surface).name())
            .arg(isSelected ? 2 : 1)
            .arg((isSelected ? theme().lichen : theme().line).name()));
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(6, 3, 10, 3);
    auto* lamp = new QToolButton;
    lamp->setFixedSize(20, 20);
    lamp->setStyleSheet("padding: 2px;");
    lamp->setIcon(lampIcon(!item.isHidden));
    lamp->setAccessibleName(tr("Show %1 on the sheet").arg(text(item.name)));
    lamp->setToolTip(tr("Show or hide on the sheet"));
    const doc::Id id = item.id, sheetId = m_workspace.sheetId();
    connect(lamp, &QToolButton::clicked, this, [this, id, sheetId] {
        const auto* sheet = m_workspace.document().sheet(sheetId);
        const auto* one = sheet ? sheet->item(id) : nullptr;
        if (one)
            m_workspace.perform("item-visible", {{"sheet", Workspace::target(sheetId)},
                                                 {"item", Workspace::target(id)},
                                                 {"visible", one->isHidden ? "yes" : "no"}});
    });
    auto* name = makeLink(text(item.name), tr("Select this item"));
    name->setStyleSheet("font-weight: 600; color: " + theme().text.name());
    connect(name, &QPushButton::clicked, this, [this, id] {
        m_workspace.selectItem(id);
        m_workspace.setBench(Bench::Sheet);
    });
    auto* kind = makeLabel(item.as<doc::UnknownItem>()
                               ? tr("%1 · can't be shown here").arg(text(doc::itemKind(item)))
                               : text(doc::itemKind(item)),
                           "muted");
    kind->setWordWrap(false);
    layout->addWidget(lamp);
    layout->addWidget(name, 1);
    layout->addWidget(kind);
    return row;
}

void StackPanel::rebuild(const std::vector<std::pair<doc::Id, int>>& order) {
    m_order = order;
    // Whoever has the focus keeps it.
    const QPointer<QWidget> focused = QApplication::focusWidget();
    for (const auto& [id, strip] : m_strips) strip->setQuiet(true);
    auto* layout = static_cast<QVBoxLayout*>(m_list->layout());
    std::map<doc::Id, Strip*> kept;
    kept.swap(m_strips);
    while (QLayoutItem* item = layout->takeAt(0)) {
        // Strips are kept for reuse, and may be the sender of the signal that led here.
        if (QWidget* widget = item->widget()) {
            if (auto* strip = widget->findChild<Strip*>()) strip->setParent(m_list);
            widget->hide();
            widget->deleteLater();
        }
        delete item;
    }
    if (const doc::Sheet* sheet = m_workspace.sheet()) {
        layout->addWidget(makeLabel(tr("On this sheet"), "muted"));
        for (const doc::SheetItem& item : sheet->items) layout->addWidget(makeItemRow(item));
        layout->addWidget(makeLabel(tr("Layers · follow the map"), "muted"));
    }
    for (const auto& [id, depth] : order) {
        Strip* strip = kept.contains(id) ? kept[id] : nullptr;
        kept.erase(id);
        if (!strip) {
            strip = new Strip(m_workspace, m_facts, id);
            strip->setObjectName(QString("strip%1").arg(id));
            connect(strip, &Strip::dragged, this,
                    [this, strip](int y, bool isEnd) { onDrag(strip, y, isEnd); });
        }
        auto* holder = new QWidget;
        auto* inner = new QHBoxLayout(holder);
        inner->setContentsMargins(depth * 12, 0, 0, 0);
        inner->setSpacing(0);
        inner->addWidget(strip);
        layout->addWidget(holder);
        strip->show();
        m_strips[id] = strip;
    }
    layout->addStretch(1);
    for (const auto& [id, strip] : kept) {
        strip->hide();
        strip->deleteLater();
    }
    if (focused && focused != QApplication::focusWidget() && m_list->isAncestorOf(focused))
        focused->setFocus(Qt::OtherFocusReason);
    for (const auto& [id, strip] : m_strips) strip->setQuiet(false);
}

void StackPanel::onDrag(Strip* dragged, int globalY, bool isEnd) {
    const int y = m_list->mapFromGlobal(QPoint(0, globalY)).y();
    // Above which strip would it land?
    std::size_t above = m_order.size();
    int lineY = 0;
    for (std::size_t i = 0; i < m_order.size(); ++i) {
        const Strip* one = m_strips.at(m_order[i].first);
        const int top = one->mapTo(m_list, QPoint(0, 0)).y();
        if (y < top + one->height() / 2) {
            above = i;
            lineY = top - 4;
            break;
        }
        lineY = top + one->height() + 1;
    }
    if (!isEnd) {
        m_dropLine->setGeometry(8, lineY, m_list->width() - 16, 3);
        m_dropLine->raise();
        m_dropLine->show();
        m_scroll->ensureVisible(0, y, 0, 40);
        return;
    }
    m_dropLine->hide();
    const auto& document = m_workspace.document();
    const auto from = doc::placeOf(document, dragged->layer());
    if (!from) return;
    doc::Place to{0, document.layers.size()};
    if (above < m_order.size()) to = doc::placeOf(document, m_order[above].first).value_or(to);
    if (to.group == from->group && to.index > from->index) --to.index;
    moveStrip(m_workspace, dragged->layer(), to);
}

}  // namespace ledge::app
