#include "app/header_bar.h"

#include "app/crs/crs_picker.h"
#include "session/crs_checks.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolButton>

#include "app/theme.h"
#include "app/widgets/form.h"
#include "carto/map_frame.h"
#include "carto/qtext.h"
#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "core/crs/world_crs.h"
#include "document/edits/project_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/map_crs.h"

namespace ledge::app {
namespace {
}  // namespace

Chip::Chip(const QString& name, const QString& tip, QWidget* parent)
    : QPushButton(parent), m_name(name) {
    setToolTip(tip);
    setAccessibleName(name);
    setCursor(Qt::PointingHandCursor);
    connect(this, &QPushButton::clicked, this, [this] { m_open ? m_open() : openEditor(); });
}

void Chip::setEditor(const QString& value, const QStringList& offers) {
    m_value = value;
    m_offers = offers;
}

void Chip::openEditor() {
    auto* popup = new QFrame(this, Qt::Popup);
    popup->setAttribute(Qt::WA_DeleteOnClose);
    popup->setObjectName("chipEditor");
    popup->setStyleSheet(QString("QFrame#chipEditor { background: %1; border: 1px solid %2; }")
                             .arg(theme().surface.name(), theme().line.name()));
    auto* layout = new QVBoxLayout(popup);
    layout->setContentsMargins(10, 10, 10, 10);
    auto* title = new QLabel(m_name);
    title->setProperty("role", "muted");
    auto* edit = new QLineEdit(m_value);
    edit->setObjectName("chipValue");
    edit->setAccessibleName(m_name);
    edit->selectAll();
    layout->addWidget(title);
    layout->addWidget(edit);
    auto* below = wrongBelow(edit);
    layout->addWidget(below);
    const auto take = [this, popup, edit, below](const QString& value) {
        const QString why = m_use ? m_use(value) : QString();
        if (why.isEmpty()) return void(popup->close());
        showWrong(edit, below, why);
        popup->adjustSize();
    };
    connect(edit, &QLineEdit::returnPressed, popup, [edit, take] { take(edit->text()); });
    if (!m_offers.isEmpty()) {
        auto* list = new QListWidget;
        list->addItems(m_offers);
        list->setFixedHeight(std::min<int>(8, static_cast<int>(m_offers.size())) * 26 + 6);
        connect(list, &QListWidget::itemActivated, popup, [take](QListWidgetItem* item) {
            take(item->text().section(QStringLiteral("  "), 0, 0));
        });
        connect(list, &QListWidget::itemClicked, popup, [take](QListWidgetItem* item) {
            take(item->text().section(QStringLiteral("  "), 0, 0));
        });
        layout->addWidget(list);
    }
    popup->setMinimumWidth(std::max(220, width()));
    popup->adjustSize();
    const QPoint corner = mapToGlobal(QPoint(width() - popup->width(), height() + 6));
    popup->move(corner);
    popup->show();
    edit->setFocus();
}

HeaderBar::HeaderBar(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_name(new QLabel), m_state(new QLabel),
      m_jump(new QLineEdit), m_found(new QListWidget(parent)),
      m_crs(new Chip(tr("CRS of the map"),
                     tr("CRS of the map: EPSG:n or WKT, empty for local coordinates"))),
      m_scale(new Chip(tr("Scale"), tr("Scale of the map"))),
      m_rotation(new Chip(tr("Rotation"), tr("Degrees by which the map is turned clockwise"))) {
    setObjectName("header");
    setFixedHeight(46);
    auto* mark = new QToolButton;
    mark->setFixedSize(34, 34);
    mark->setAccessibleName(tr("Project menu"));
    mark->setToolTip(tr("Project menu (Alt+P)"));
    mark->setShortcut(QKeySequence("Alt+P"));
    mark->setStyleSheet("QToolButton { background: transparent; } QToolButton:hover { background: "
                        "rgba(255,255,255,30); }");
    QPixmap stairs(QSize(26, 20) * 2);
    stairs.fill(Qt::transparent);
    {
        QPainter painter(&stairs);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.scale(2, 2);
        painter.setPen(QPen(QColor("#D99A2B"), 2.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(QPolygonF({{2, 17}, {8, 17}, {8, 11}, {15, 11}, {15, 5}, {24, 5}}));
    }
    stairs.setDevicePixelRatio(2);
    mark->setIcon(QIcon(stairs));
    mark->setIconSize(QSize(26, 20));
    connect(mark, &QToolButton::clicked, this,
            [this, mark] { Q_EMIT menuAsked(mark->mapToGlobal(QPoint(0, mark->height() + 6))); });
    m_name->setStyleSheet("color: white; font-size: 14px; font-weight: 600;");
    m_state->setStyleSheet("color: #B9BCE0; font-size: 11px;");
    m_jump->setObjectName("jumpField");
    m_jump->setAccessibleName(tr("Jump field"));
    m_jump->setToolTip(tr("Jump to a place, coordinate, grid reference, layer, view, sheet or CRS, "
                          "or do what a word says (Ctrl+J)"));
    m_jump->setPlaceholderText(tr("Jump to a place, layer, view or coordinate        Ctrl+J"));
    m_jump->setMinimumWidth(240);
    m_jump->setMaximumWidth(380);
    m_jump->setStyleSheet("QLineEdit { background: #32367A; color: white; border: 1px solid "
                          "#32367A; border-radius: 14px; "
                          "padding: 5px 16px; } QLineEdit:focus { border: 1px solid #D99A2B; }");
    QPalette palette = m_jump->palette();
    palette.setColor(QPalette::PlaceholderText, QColor("#BEC1E6"));
    m_jump->setPalette(palette);
    m_jump->installEventFilter(this);
    m_found->setObjectName("jumpList");
    m_found->setAccessibleName(tr("Places found"));
    m_found->setFocusPolicy(Qt::NoFocus);
    m_found->hide();
    for (Chip* chip : {m_crs, m_scale, m_rotation})
        chip->setStyleSheet(
            "QPushButton { background: #32367A; color: white; border: none; border-radius: 6px; "
            "padding: 6px 14px; font-weight: 600; } QPushButton:hover { background: #3D4296; } "
            "QPushButton:focus { border: 1px solid #D99A2B; }");
    m_crs->setObjectName("crsChip");
    m_scale->setObjectName("scaleChip");
    m_rotation->setObjectName("rotationChip");
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(10, 0, 16, 0);
    layout->setSpacing(8);
    layout->addWidget(mark);
    layout->addWidget(m_name);
    layout->addSpacing(10);
    layout->addWidget(m_state);
    layout->addStretch(1);
    layout->addWidget(m_jump, 3);
    layout->addStretch(1);
    for (Chip* chip : {m_crs, m_scale, m_rotation}) layout->addWidget(chip);

    connect(&workspace.session(), &session::Session::changed, this, &HeaderBar::refresh);
    connect(&workspace, &Workspace::viewChanged, this, &HeaderBar::refresh);
    connect(&workspace, &Workspace::canvasChanged, this, &HeaderBar::refresh);
    connect(&workspace, &Workspace::itemSelected, this, &HeaderBar::refresh);
    connect(m_jump, &QLineEdit::textEdited, this, &HeaderBar::search);
    connect(m_jump, &QLineEdit::returnPressed, this, [this] {
        m_takesFirst = m_shownFor != m_jump->text().trimmed();
        if (!m_takesFirst) takeRow(m_found->currentRow());
    });
    connect(m_found, &QListWidget::itemClicked, this,
            [this](QListWidgetItem* item) { takeRow(m_found->row(item)); });
    m_crs->setOpener([this] { pickCrs(); });
    m_scale->setUse([this](const QString& typed) { return enterScale(typed); });
    m_rotation->setUse([this](const QString& typed) { return enterRotation(typed); });
    refresh();
}

void HeaderBar::paintEvent(QPaintEvent*) { QPainter(this).fillRect(rect(), theme().ink); }

namespace {
const doc::SheetItem* chipPanel(const Workspace& workspace) {
    const doc::Sheet* sheet = workspace.sheet();
    return sheet ? sheet->panel(workspace.selectedItem()) : nullptr;
}

// About as much as is seen of the map, to tell how far its scale varies.
carto::MapFrame shownFrame(const doc::MapView& view, const crs::CrsPtr& crs) {
    carto::MapFrame frame;
    frame.crs = crs;
    frame.view = view;
    frame.widthPx = 720, frame.heightPx = 560;
    return frame;
}
}  // namespace

void HeaderBar::refresh() {
    const auto& session = m_workspace.session();
    m_name->setText(qtext(m_workspace.document().name));
    m_state->setText(session.isModified()     ? tr("not saved")
                     : session.path().empty() ? QString()
                                              : tr("saved"));
    doc::MapView view = m_workspace.view();
    std::string crsName = m_workspace.document().mapCrs;
    if (const auto* item = chipPanel(m_workspace)) {
        const auto& panel = *item->as<doc::MapPanel>();
        view = doc::viewOf(panel);
        crsName = panel.crs;
    }
    const auto crs = doc::crsIn(m_workspace.document(), crsName);
    m_crs->setText(crs ? qtext(crs->shortName()) : tr("local coordinates"));
    const double scale = shownScale(doc::groundScale(view, crs));
    m_scale->setText(qtext(shownFrame(view, crs).scaleText()));
    m_scale->setToolTip(tr("Scale on the ground in the middle of the map"));
    m_rotation->setText(qtext(formatNumber(view.rotation, {1, false})).remove(".0") + "°");
    m_crs->setToolTip(crs ? qtext(session::crsInWords(*crs)) : tr("Plain local coordinates"));
    m_scale->setEditor(qtext(formatNumber(scale, {-1, false})),
                       {"1:10000", "1:25000", "1:50000", "1:100000", "1:250000", "1:1000000"});
    m_rotation->setEditor(qtext(formatNumber(view.rotation, {-1, false})).replace("\u2212", "-"),
                          {});
}

void HeaderBar::search() {
    const std::string typed = m_jump->text().toStdString();
    m_searcher.start([this, typed, snapshot = m_workspace.session().snapshot(),
                      sources = m_workspace.session().sources(),
                      crs = m_workspace.session().mapCrs()](const std::stop_token& stop) {
        auto found = session::jumpTargets(*snapshot, *sources, crs, typed);
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, typed, found = std::move(found)]() mutable {
            showFound(qtext(typed).trimmed(), std::move(found));
        });
    });
}

void HeaderBar::showFound(const QString& typed, std::vector<session::JumpTarget> targets) {
    if (typed != m_jump->text().trimmed()) return;  // typed on meanwhile
    m_shownFor = typed;
    constexpr std::size_t kMostActs = 5;
    constexpr int kRow = 26, kMostRows = 10;
    m_targets = std::move(targets);
    m_acts.clear();
    if (typed.size() >= 3 && m_actions)
        for (JumpAction& one : m_actions())
            if (m_acts.size() < kMostActs && one.matches(typed)) m_acts.push_back(std::move(one));
    m_found->clear();
    for (const auto& target : m_targets)
        m_found->addItem(qtext(target.text) + "   —   " + qtext(target.detail));
    for (const JumpAction& one : m_acts) m_found->addItem(one.title + "   —   " + one.where);
    const bool isNothing = m_found->count() == 0;
    if (isNothing && !typed.isEmpty()) {
        m_found->addItem(tr("Nothing is called so: no place, layer, view, sheet, CRS or action"));
        m_found->item(0)->setFlags(Qt::NoItemFlags);
    }
    m_found->setVisible(m_found->count() > 0 && m_jump->hasFocus());
    if (m_found->count() == 0) return;
    if (!isNothing) m_found->setCurrentRow(0);
    const QPoint corner = m_jump->mapTo(parentWidget(), QPoint(0, m_jump->height() + 8));
    m_found->setGeometry(corner.x(), corner.y(), m_jump->width(),
                         std::min(kMostRows, m_found->count()) * kRow + 8);
    m_found->raise();
    if (std::exchange(m_takesFirst, false)) takeRow(0);
}

void HeaderBar::takeRow(int row) {
    const auto at = static_cast<std::size_t>(std::max(0, row));
    if (at < m_targets.size()) return jumpTo(m_targets[at]);
    if (at >= m_targets.size() + m_acts.size()) return;
    const auto run = m_acts[at - m_targets.size()].run;
    m_found->hide();
    m_jump->clear();
    run();
}

bool HeaderBar::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_jump && event->type() == QEvent::FocusOut) m_found->hide();
    if (watched == m_jump && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int step = key == Qt::Key_Down ? 1 : -1;
            m_found->setCurrentRow(
                std::clamp(m_found->currentRow() + step, 0, std::max(0, m_found->count() - 1)));
            return true;
        }
        if (key == Qt::Key_Escape) {
            m_jump->clear();
            m_takesFirst = false;
            m_found->hide();
            if (QWidget* window = parentWidget()) window->setFocus();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void HeaderBar::jumpTo(const session::JumpTarget& target) {
    using Kind = session::JumpTarget::Kind;
    m_found->hide();
    m_jump->clear();
    doc::MapView view = m_workspace.view();
    switch (target.kind) {
    case Kind::Coordinate:
    case Kind::Place:
        view.centre = target.at;
        if (const auto crs = m_workspace.session().mapCrs(); doc::groundScale(view, crs) > 25000)
            view = doc::atGroundScale(view, crs, 25000);
        m_workspace.showMap();
        m_workspace.setView(view);
        m_workspace.say(tr("%1 is in the middle of the map").arg(qtext(target.text)));
        break;
    case Kind::Layer:
        m_workspace.selectLayer(target.id);
        Q_EMIT m_workspace.fitAsked(target.id);
        break;
    case Kind::View: m_workspace.showView(target.id); break;
    case Kind::Sheet: m_workspace.showSheet(target.id); break;
    case Kind::Crs: enterCrs(qtext(target.crs)); break;
    }
}

void HeaderBar::pickCrs() {
    CrsPicker::Request request;
    doc::MapView view = m_workspace.view();
    request.current = m_workspace.session().mapCrs();
    request.title = tr("CRS of the map");
    std::string named = m_workspace.document().mapCrs;
    if (const auto* item = chipPanel(m_workspace)) {
        const auto& panel = *item->as<doc::MapPanel>();
        named = panel.crs;
        view = doc::viewOf(panel);
        request.current = doc::crsIn(m_workspace.document(), panel.crs);
        request.title = tr("CRS of %1").arg(qtext(item->name));
    }
    request.place = crs::toLonLat(request.current, view.centre);
    if (const auto there = crs::recentred(named, request.place)) request.recentred = qtext(*there);
    auto* picker = new CrsPicker(m_workspace, std::move(request), this);
    connect(picker, &CrsPicker::chosen, this, &HeaderBar::enterCrs);
    picker->openBelow(m_crs);
}

void HeaderBar::enterCrs(const QString& typed) {
    const auto crs = crs::parseCrs(typed.trimmed().toStdString());
    if (!crs) return m_workspace.say(qtext(crs.error().text()), true);
    const std::string name = *crs ? typed.trimmed().toStdString() : "";
    if (*crs)
        if (const auto kept = m_workspace.crsShelf().addRecent(name); !kept)
            m_workspace.say(qtext(kept.error().text()), true);
    if (const auto* item = chipPanel(m_workspace)) {
        return void(
            m_workspace.perform("panel-crs", {{"sheet", Workspace::target(m_workspace.sheetId())},
                                              {"item", Workspace::target(item->id)},
                                              {"crs", name}}));
    }
    m_workspace.perform("map-crs", {{"crs", name}});
}

QString HeaderBar::enterScale(const QString& typed) {
    const auto scale = session::parseScale(typed.toStdString());
    if (!scale) return tr("\"%1\" is no scale; write 1:50000").arg(typed);
    if (const auto* item = chipPanel(m_workspace)) {
        m_workspace.perform("panel-scale", {{"sheet", Workspace::target(m_workspace.sheetId())},
                                            {"item", Workspace::target(item->id)},
                                            {"scale", exactNumber(*scale)}});
        return {};
    }
    m_workspace.setView(
        doc::atGroundScale(m_workspace.view(), m_workspace.session().mapCrs(), *scale));
    return {};
}

QString HeaderBar::enterRotation(const QString& typed) {
    const auto degrees =
        parseNumber(QString(typed).remove("°").replace("\u2212", "-").toStdString());
    if (!degrees || !std::isfinite(*degrees))
        return tr("\"%1\" is no angle; write degrees").arg(typed);
    const double turn = std::remainder(*degrees, 360.0);
    if (const auto* item = chipPanel(m_workspace)) {
        m_workspace.perform("panel-rotation", {{"sheet", Workspace::target(m_workspace.sheetId())},
                                               {"item", Workspace::target(item->id)},
                                               {"degrees", exactNumber(turn)}});
        return {};
    }
    doc::MapView view = m_workspace.view();
    view.rotation = turn;
    m_workspace.setView(view);
    return {};
}

}  // namespace ledge::app
