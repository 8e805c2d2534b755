#include "app/ledge_bar.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>

#include "app/theme.h"
#include "app/widgets/form.h"
#include "app/widgets/rows.h"
#include "carto/qtext.h"
#include "carto/sheet_painter.h"
#include "document/edits/sheet_edits.h"
#include "document/map_crs.h"
#include "session/profiles.h"

namespace ledge::app {
namespace {
constexpr int kCardWidth = 118, kCardHeight = 82, kPictureWidth = 106, kPictureHeight = 50;
// The width a view is thought to fill, for thumbnails: about the canvas at 1280 pixels.
constexpr double kViewWidthMm = 170;

}  // namespace

Card::Card(const QString& name, const QString& kind, QWidget* parent)
    : QToolButton(parent), m_name(name), m_kind(kind), m_rename(new QLineEdit(this)) {
    m_rename->setGeometry(4, kCardHeight - 25, kCardWidth - 8, 22);
    m_rename->setStyleSheet("padding: 0 3px; min-height: 16px;");
    m_rename->setAccessibleName(tr("New name of the card"));
    m_rename->installEventFilter(this);
    m_rename->hide();
    connect(m_rename, &QLineEdit::editingFinished, this, [this] {
        if (m_rename->isHidden()) return;
        const bool hadFocus = m_rename->hasFocus();
        m_rename->hide();
        if (hadFocus) setFocus(Qt::OtherFocusReason);
        const QString typed = m_rename->text().trimmed();
        if (!typed.isEmpty() && typed != m_name) Q_EMIT renamed(typed);
    });
    setFixedSize(kCardWidth, kCardHeight);
    setAccessibleName(QString("%1, %2").arg(name, kind));
    setFocusPolicy(Qt::StrongFocus);
}
void Card::startRenaming() {
    m_rename->setText(m_name);
    m_rename->show();
    m_rename->selectAll();
    m_rename->setFocus(Qt::OtherFocusReason);
}

void Card::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_F2) return startRenaming();
    QToolButton::keyPressEvent(event);
}

void Card::mouseDoubleClickEvent(QMouseEvent*) { startRenaming(); }

bool Card::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_rename && event->type() == QEvent::KeyPress &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        m_rename->hide();
        setFocus(Qt::OtherFocusReason);
        return true;
    }
    return QToolButton::eventFilter(watched, event);
}

void Card::setPicture(const QImage& picture) {
    m_picture = picture;
    update();
}
void Card::setShown(bool isShown) {
    m_isShown = isShown;
    update();
}

void Card::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setBrush(theme().surface);
    painter.setPen(QPen(m_isShown ? theme().lichen : (hasFocus() ? theme().indigo : theme().line),
                        m_isShown ? 2 : 1));
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 7, 7);
    const QRectF picture(6, 6, kPictureWidth, kPictureHeight);
    QPainterPath clip;
    clip.addRoundedRect(picture, 3, 3);
    painter.save();
    painter.setClipPath(clip);
    painter.fillRect(picture, theme().stone);
    if (!m_picture.isNull()) {
        const QSizeF size = QSizeF(m_picture.size()).scaled(picture.size(), Qt::KeepAspectRatio);
        const QPointF at(picture.center().x() - size.width() / 2,
                         picture.center().y() - size.height() / 2);
        painter.drawImage(QRectF(at, size), m_picture);
    }
    painter.restore();
    QFont font = this->font();
    font.setPixelSize(11);
    painter.setFont(font);
    const QFontMetrics metrics(font);
    const int kindWidth = metrics.horizontalAdvance(m_kind);
    painter.setPen(theme().muted);
    painter.drawText(QRectF(0, 58, width() - 8, 20), Qt::AlignRight | Qt::AlignVCenter, m_kind);
    painter.setPen(theme().text);
    painter.drawText(QRectF(8, 58, width() - 22 - kindWidth, 20), Qt::AlignLeft | Qt::AlignVCenter,
                     metrics.elidedText(m_name, Qt::ElideRight, width() - 22 - kindWidth));
}

JobCard::JobCard(session::JobRunner& jobs, int job, QWidget* parent)
    : QWidget(parent), m_jobs(jobs), m_job(job), m_left(makeLabel("", "muted")),
      m_bar(new QProgressBar) {
    setObjectName("jobCard");
    setFixedSize(170, 66);
    auto* name = makeLabel(jobs.state(job).name);
    name->setWordWrap(false);
    m_left->setWordWrap(false);
    m_bar->setTextVisible(false);
    m_bar->setRange(0, 1000);
    m_bar->setFixedHeight(6);
    m_bar->setAccessibleName(tr("Progress of %1").arg(jobs.state(job).name));
    m_bar->setStyleSheet(
        QString("QProgressBar { background: %1; border: none; border-radius: 3px; } "
                "QProgressBar::chunk { background: %2; border-radius: 3px; }")
            .arg(theme().line.name(), theme().lichen.name()));
    auto* stop = makeLink(tr("Stop"), tr("Stop this job; nothing is left behind"));
    stop->setObjectName("stopJob");
    stop->setStyleSheet("font-weight: 600; color: " + theme().indigo.name());
    connect(stop, &QPushButton::clicked, this, [this] { m_jobs.stop(m_job); });
    auto* row = new QHBoxLayout;
    row->addWidget(m_bar, 1);
    row->addWidget(stop);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 10, 6);
    layout->setSpacing(0);
    layout->addWidget(name);
    layout->addLayout(row);
    layout->addWidget(m_left);
    refresh();
}

void JobCard::refresh() {
    const auto state = m_jobs.state(m_job);
    m_bar->setValue(qRound(state.share * 1000));
    setToolTip(state.said);
    if (!state.said.isEmpty())
        return m_left->setText(m_left->fontMetrics().elidedText(state.said, Qt::ElideMiddle,
                                                                contentsRect().width() - 22));
    m_left->setText(
        state.secondsLeft < 0
            ? tr("%1 %").arg(qRound(state.share * 100))
            : tr("%1 % · %2 s left").arg(qRound(state.share * 100)).arg(qRound(state.secondsLeft)));
}

void JobCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(theme().surface);
    painter.setPen(theme().line);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 7, 7);
}

LedgeBar::LedgeBar(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_cards(new QWidget), m_jobArea(new QWidget),
      m_renderers(std::make_shared<std::map<doc::Id, carto::MapRenderer>>()) {
    setObjectName("ledge");
    setAccessibleName(tr("Ledge"));
    setFixedHeight(100);
    m_cards->setLayout(new QHBoxLayout);
    m_cards->layout()->setContentsMargins(12, 8, 8, 8);
    m_cards->layout()->setSpacing(8);
    auto* scroll = new QScrollArea;
    scroll->setWidget(m_cards);
    scroll->setWidgetResizable(true);
    scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_jobArea->setLayout(new QHBoxLayout);
    m_jobArea->layout()->setContentsMargins(0, 8, 12, 8);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(scroll, 1);
    layout->addWidget(m_jobArea);
    connect(&m_later, &QTimer::timeout, this, &LedgeBar::drawThumbnails);
    auto& session = workspace.session();
    connect(&session, &session::Session::changed, this, [this](const doc::Change& change) {
        rebuild();
        outdate(change);
        if (!m_outdated.empty()) m_later.start();
    });
    connect(&session, &session::Session::replaced, this, [this] {
        m_worker.cancel();
        m_pictures.clear();
        m_outdated.clear();
        m_renderers = std::make_shared<std::map<doc::Id, carto::MapRenderer>>();
    });
    connect(&workspace, &Workspace::canvasChanged, this, &LedgeBar::refreshShown);
    connect(&workspace, &Workspace::viewChanged, this, &LedgeBar::refreshShown);
    auto& jobs = session.jobs();
    connect(&jobs, &session::JobRunner::started, this, [this, &jobs](int job) {
        m_jobCards[job] = new JobCard(jobs, job);
        m_jobArea->layout()->addWidget(m_jobCards[job]);
    });
    connect(&jobs, &session::JobRunner::progressed, this, [this](int job) {
        if (const auto it = m_jobCards.find(job); it != m_jobCards.end()) it->second->refresh();
    });
    connect(&jobs, &session::JobRunner::finished, this,
            [this](int job, bool, const QString& problem) {
                if (const auto it = m_jobCards.find(job); it != m_jobCards.end()) {
                    it->second->hide();
                    it->second->deleteLater();
                    m_jobCards.erase(it);
                }
                if (!problem.isEmpty()) m_workspace.say(problem, true);
            });
    rebuild();
}

void LedgeBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().stone);
    painter.fillRect(QRect(0, 0, width(), 1), theme().line);
}

void LedgeBar::saveView() {
    int number = static_cast<int>(m_workspace.document().views.size()) + 1;
    const auto taken = [&](const QString& name) {
        return std::any_of(m_workspace.document().views.begin(), m_workspace.document().views.end(),
                           [&](const doc::SavedView& v) { return v.name == name.toStdString(); });
    };
    while (taken(tr("View %1").arg(number))) ++number;
    const std::string name = tr("View %1").arg(number).toStdString();
    saveViewAs(name);
    // What it is called is asked on the card itself.
    for (const auto& view : m_workspace.document().views)
        if (const auto card = m_byId.find(view.id); view.name == name && card != m_byId.end())
            QMetaObject::invokeMethod(card->second, &Card::startRenaming, Qt::QueuedConnection);
}

void LedgeBar::saveViewAs(const std::string& name) {
    const doc::MapView& view = m_workspace.view();
    const double scale = doc::groundScale(view, m_workspace.session().mapCrs());
    m_workspace.perform("view-save",
                        {{"name", name},
                         {"centre", exactNumber(view.centre.x) + "," + exactNumber(view.centre.y)},
                         {"scale", exactNumber(scale)},
                         {"rotation", exactNumber(std::remainder(view.rotation, 360.0))}});
}

void LedgeBar::rename(doc::Id id, const QString& typed) {
    const std::string target = Workspace::target(id), name = typed.toStdString();
    const auto& document = m_workspace.document();
    if (document.question(id))
        m_workspace.perform("question-name", {{"question", target}, {"name", name}});
    else if (document.profile(id))
        m_workspace.perform("profile-name", {{"profile", target}, {"name", name}});
    else if (document.view(id))
        m_workspace.perform("view-name", {{"view", target}, {"name", name}});
    else
        m_workspace.perform("sheet-name", {{"sheet", target}, {"name", name}});
}

void LedgeBar::cardMenu(Card* card, doc::Id id) {
    const bool isView = m_workspace.document().view(id) != nullptr;
    const bool isProfile = m_workspace.document().profile(id) != nullptr;
    QMenu menu(this);
    menu.addAction(tr("Rename…\tF2"), card, &Card::startRenaming);
    if (isView)
        menu.addAction(tr("Set to what the map shows"), this, [this, id] {
            if (const auto* view = m_workspace.document().view(id)) saveViewAs(view->name);
        });
    menu.addAction(tr("Remove"), this, [this, id, isView, isProfile] {
        const std::string target = Workspace::target(id);
        if (m_workspace.document().question(id))
            return void(m_workspace.perform("question-remove", {{"question", target}}));
        if (isProfile) return void(m_workspace.perform("profile-remove", {{"profile", target}}));
        if (isView) return void(m_workspace.perform("view-remove", {{"view", target}}));
        m_workspace.perform("sheet-remove", {{"sheet", target}});
    });
    menu.exec(card->mapToGlobal(QPoint(8, -8)));
}

void LedgeBar::rebuild() {
    const auto& document = m_workspace.document();
    std::vector<std::pair<doc::Id, std::string>> now;
    for (const auto& view : document.views) now.emplace_back(view.id, view.name);
    for (const auto& profile : document.profiles) now.emplace_back(profile.id, profile.name);
    for (const auto& question : document.questions) now.emplace_back(question.id, question.name);
    for (const doc::Sheet& sheet : document.sheets) now.emplace_back(sheet.id, sheet.name);
    if (now == m_known && m_cards->layout()->count() > 0) return refreshShown();
    m_known = now;
    m_byId.clear();
    clearRows(m_cards->layout());
    const auto put = [&](doc::Id id, const std::string& name, const QString& kind,
                         const QString& tip, const std::function<void()>& show) {
        auto* card = new Card(qtext(name), kind);
        card->setObjectName(QString("card%1").arg(id));
        card->setToolTip(tip);
        card->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(card, &Card::clicked, this, show);
        connect(card, &Card::renamed, this,
                [this, id](const QString& typed) { rename(id, typed); });
        connect(card, &QWidget::customContextMenuRequested, this,
                [this, card, id] { cardMenu(card, id); });
        if (m_pictures.contains(id)) card->setPicture(m_pictures[id]);
        m_cards->layout()->addWidget(card);
        m_byId[id] = card;
    };
    for (const auto& view : document.views)
        put(view.id, view.name, tr("view"),
            tr("Show this view: where it looks and its lamps; the map stays in its CRS"),
            [this, id = view.id] { m_workspace.showView(id); });
    for (const auto& profile : document.profiles)
        put(profile.id, profile.name, tr("profile"), tr("Open this profile in the drawer"),
            [this, id = profile.id] { Q_EMIT profileAsked(id); });
    for (const auto& question : document.questions)
        put(question.id, question.name, tr("question"), tr("Ask this again"),
            [this, id = question.id] { Q_EMIT questionAsked(id); });
    for (const doc::Sheet& sheet : document.sheets)
        put(sheet.id, sheet.name, tr("sheet"), tr("Show this sheet"), [this, id = sheet.id] {
            m_workspace.showSheet(id);
            m_workspace.setBench(Bench::Sheet);
        });
    auto* add = new QToolButton;
    add->setObjectName("saveView");
    add->setIcon(lineIcon("bookmark-plus", theme().indigo));
    add->setFixedSize(36, kCardHeight);
    add->setToolTip(tr("Keep what the map shows as a view (Ctrl+Shift+V)"));
    add->setAccessibleName(tr("Keep view"));
    add->setStyleSheet(QString("QToolButton { border: 1px solid %1; border-radius: 7px; } "
                               "QToolButton:hover { background: %2; }")
                           .arg(theme().line.name(), theme().surface.name()));
    connect(add, &QToolButton::clicked, this, &LedgeBar::saveView);
    m_cards->layout()->addWidget(add);
    static_cast<QHBoxLayout*>(m_cards->layout())->addStretch(1);
    refreshShown();
}

namespace {
// A question has no picture: what it asks, in small letters.
QImage questionPicture(const doc::SavedQuestion& question, const QFont& font, double ratio) {
    QImage picture(QSize(qRound(kPictureWidth * ratio), qRound(kPictureHeight * ratio)),
                   QImage::Format_ARGB32_Premultiplied);
    picture.fill(theme().paper);
    picture.setDevicePixelRatio(ratio);
    QPainter painter(&picture);
    QFont small = font;
    small.setPixelSize(9);
    painter.setFont(small);
    painter.setPen(theme().indigo);
    QString asked = qtext(question.keep);
    if (question.near != 0)
        asked += (asked.isEmpty() ? "" : "\n") +
                 LedgeBar::tr("within %1 m").arg(question.withinMetres) +
                 (question.nearKeep.empty() ? "" : ": " + qtext(question.nearKeep));
    painter.drawText(QRectF(4, 3, kPictureWidth - 8, kPictureHeight - 6),
                     Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, asked);
    painter.end();
    picture.setDevicePixelRatio(1);
    return picture;
}

// The line of a profile over its area, without numbers.
QImage profilePicture(const std::vector<session::ProfileRun>& runs, double ratio) {
    QImage picture(QSize(qRound(kPictureWidth * ratio), qRound(kPictureHeight * ratio)),
                   QImage::Format_ARGB32_Premultiplied);
    picture.fill(Qt::white);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto& run = runs.front();
    const double low = run.summary.lowest, span = std::max(1.0, run.summary.highest - low);
    const double length = std::max(1.0, run.summary.length);
    QPolygonF line;
    for (const auto& p : run.points)
        if (std::isfinite(p.height))
            line << QPointF(p.distance / length * picture.width(),
                            picture.height() * (0.85 - 0.65 * (p.height - low) / span));
    if (line.size() < 2) return picture;
    QPolygonF area = line;
    area << QPointF(line.back().x(), picture.height())
         << QPointF(line.front().x(), picture.height());
    QColor fill = theme().indigo;
    fill.setAlphaF(0.18F);
    painter.setPen(Qt::NoPen);
    painter.setBrush(fill);
    painter.drawPolygon(area);
    painter.setPen(QPen(theme().indigo, 1.4 * ratio));
    painter.drawPolyline(line);
    return picture;
}
}  // namespace

void LedgeBar::refreshShown() {
    for (const auto& [id, card] : m_byId)
        card->setShown(id == m_workspace.sheetId() ||
                       (m_workspace.sheetId() == 0 && id == m_workspace.shownView()));
}

// Pictures that no longer show what they stand for; those of things that are gone are let go.
void LedgeBar::outdate(const doc::Change& change) {
    const auto& document = m_workspace.document();
    ++m_turn;
    std::erase_if(m_outdated, [this](const auto& one) { return !m_byId.contains(one.first); });
    std::erase_if(m_pictures, [this](const auto& one) { return !m_byId.contains(one.first); });
    const auto look = [&](doc::Id id, const std::set<doc::Id>& changed, bool isElsewhere) {
        if (isElsewhere || changed.contains(id) || !m_pictures.contains(id))
            m_outdated[id] = m_turn;
    };
    const bool isMap = change.touchesMap();
    for (const auto& view : document.views) look(view.id, change.views, isMap);
    for (const auto& question : document.questions) {
        m_pictures[question.id] = questionPicture(question, font(), devicePixelRatioF());
        if (const auto it = m_byId.find(question.id); it != m_byId.end())
            it->second->setPicture(m_pictures[question.id]);
    }
    for (const auto& profile : document.profiles)
        look(profile.id, change.profiles, !change.sources.empty());
    // Sheets show names, profiles, units and all that the map does.
    const bool isAll = isMap || change.isOther || !change.profiles.empty();
    for (const doc::Sheet& sheet : document.sheets) look(sheet.id, change.sheets, isAll);
}

void LedgeBar::drawThumbnails() {
    const double ratio = devicePixelRatioF();
    m_worker.start([this, ratio, outdated = m_outdated, snapshot = m_workspace.session().snapshot(),
                    renderers = m_renderers,
                    sources = m_workspace.session().sources()](const std::stop_token& stop) {
        const auto rendererFor = [&](doc::Id id) -> carto::MapRenderer& {
            return renderers->try_emplace(id, sources).first->second;
        };
        const auto deliver = [this, &outdated](doc::Id id, const QImage& picture) {
            QMetaObject::invokeMethod(this, [this, id, picture, turn = outdated.at(id)] {
                if (const auto it = m_outdated.find(id);
                    it != m_outdated.end() && it->second == turn)
                    m_outdated.erase(it);
                m_pictures[id] = picture;
                if (const auto it = m_byId.find(id); it != m_byId.end())
                    it->second->setPicture(picture);
            });
        };
        const Progress progress{stop, {}};
        carto::MapReport report;
        for (const auto& view : snapshot->views) {
            if (!outdated.contains(view.id)) continue;
            const doc::Document lit = doc::withLampsOf(*snapshot, view.id);
            carto::MapFrame frame;
            frame.crs = doc::mapCrs(lit);
            frame.view = view.view;
            frame.widthPx = qRound(kPictureWidth * ratio),
            frame.heightPx = qRound(kPictureHeight * ratio);
            frame.pxPerMm = frame.widthPx / kViewWidthMm;
            const auto picture =
                rendererFor(view.id).picture(lit, lit.layers, frame, progress, report);
            if (!picture) return;
            deliver(view.id, *picture);
        }
        for (const auto& kept : snapshot->profiles) {
            if (!outdated.contains(kept.id)) continue;
            const auto runs = carto::runProfile(*snapshot, *sources, kept, progress);
            if (stop.stop_requested()) return;
            if (runs) deliver(kept.id, profilePicture(*runs, ratio));
        }
        for (const doc::Sheet& sheet : snapshot->sheets) {
            if (!outdated.contains(sheet.id)) continue;
            const double scale =
                ratio * std::min(kPictureWidth / sheet.widthMm, kPictureHeight / sheet.heightMm) *
                2;
            QImage page(QSize(qRound(sheet.widthMm * scale), qRound(sheet.heightMm * scale)),
                        QImage::Format_ARGB32_Premultiplied);
            page.fill(Qt::white);
            QPainter painter(&page);
            const auto done = carto::paintSheet(
                painter, *snapshot, sheet, scale, *sources,
                [&](QPainter& p, const doc::SheetItem& item,
                    const carto::MapFrame& frame) -> Result<void> {
                    const auto picture = rendererFor(item.id).picture(
                        *snapshot, doc::panelLayers(*snapshot, *item.as<doc::MapPanel>()), frame,
                        progress, report);
                    if (!picture) return picture.error();
                    p.drawImage(0, 0, *picture);
                    return {};
                });
            painter.end();
            if (!done) return;
            deliver(sheet.id, page);
        }
    });
}

}  // namespace ledge::app
