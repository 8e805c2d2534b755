#include "app/crs/crs_picker.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <algorithm>

#include "app/benches/bench_page.h"
#include "app/crs/crs_maker.h"
#include "app/theme.h"
#include "app/widgets/form.h"
#include "core/crs/catalogue.h"
#include "core/crs/transformation.h"
#include "core/crs/world_crs.h"
#include "document/edits/layer_edits.h"
#include "document/edits/project_edits.h"
#include "session/crs_candidates.h"

namespace ledge::app {
namespace {
constexpr QSize kPreviewSize(276, 156);
constexpr int kListWidth = 348, kHeight = 500;
constexpr int kTextRole = Qt::UserRole;

// Where a world CRS is centred, as it is typed: "150", or "-10, 60" where a latitude counts.
QString centreText(const std::string& text) {
    const Point at = crs::worldCentre(text).value_or(Point{0, 0});
    QString out = QString::number(at.x);
    if (const auto* world = crs::worldCrs(text); world && world->takesLatitude)
        out += ", " + QString::number(at.y);
    return out;
}

// A document as it would be with the candidate, and the frame that shows it.
struct Preview {
    doc::Document document;
    carto::MapFrame frame;
};
}  // namespace

CrsPicker::CrsPicker(Workspace& workspace, Request request, QWidget* parent)
    : QFrame(parent, Qt::Popup), m_workspace(workspace), m_request(std::move(request)),
      m_search(makeText(tr("Search"), tr("Code, name, country or place"))), m_list(new QListWidget),
      m_preview(new QLabel), m_name(makeLabel("", "heading")), m_facts(makeLabel("", "muted")),
      m_change(makeLabel("")), m_warning(makeLabel("", "trouble")),
      m_star(makeLink("", tr("Keep among the favourites"))), m_right(new QStackedWidget),
      m_maker(new CrsMaker(m_request.current)),
      m_centre(makeText(tr("Centred on"), tr("Longitude in degrees"))),
      m_centreProblem(makeLabel("", "trouble")),
      m_renderer(std::make_shared<carto::MapRenderer>(workspace.session().sources())) {
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName("crsPicker");
    setStyleSheet(QString("QFrame#crsPicker { background: %1; border: 1px solid %2; }")
                      .arg(theme().surface.name(), theme().line.name()));
    m_centre->setObjectName("crsCentre");
    m_centreProblem->hide();
    m_centrePart = new QWidget;
    auto* centre = new QVBoxLayout(m_centrePart);
    centre->setContentsMargins(0, 0, 0, 0);
    centre->addWidget(captioned(tr("Centred on"), m_centre));
    centre->addWidget(m_centreProblem);
    m_search->setObjectName("crsSearch");
    m_search->installEventFilter(this);
    m_list->setObjectName("crsList");
    m_list->setAccessibleName(tr("CRSs"));
    m_list->setFixedWidth(kListWidth);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setTextElideMode(Qt::ElideRight);
    m_preview->setObjectName("crsPreview");
    m_preview->setFixedSize(kPreviewSize);
    m_preview->setAccessibleName(tr("The map in this CRS"));
    m_preview->setStyleSheet(QString("background: %1; border: 1px solid %2;")
                                 .arg(theme().stone.name(), theme().line.name()));
    m_name->setObjectName("crsName");
    m_change->setObjectName("crsChange");
    m_warning->setObjectName("crsWarning");
    m_star->setObjectName("crsStar");
    const QString use = m_request.purpose == Purpose::Map       ? tr("Use for the map")
                        : m_request.purpose == Purpose::Declare ? tr("Declare this CRS")
                                                                : tr("Reproject to this CRS…");
    m_use = makeButton(use, use, true);
    m_use->setObjectName("crsUse");

    auto* left = new QVBoxLayout;
    left->setSpacing(8);
    left->addWidget(makeLabel(m_request.title, "title"));
    left->addWidget(m_search);
    left->addWidget(m_list, 1);
    if (!m_request.recentred.isEmpty()) {
        auto* here = makeButton(tr("Centre here"),
                                tr("Turn the globe so that the middle of what is seen is its own "
                                   "middle; where it is torn follows"));
        here->setObjectName("centreHere");
        left->addWidget(here);
        connect(here, &QPushButton::clicked, this, [this] {
            Q_EMIT chosen(m_request.recentred);
            close();
        });
    }
    auto* candidate = new QWidget;
    auto* right = new QVBoxLayout(candidate);
    right->setContentsMargins(0, 0, 0, 0);
    right->setSpacing(6);
    right->addWidget(m_preview);
    right->addWidget(m_name);
    right->addWidget(m_facts);
    right->addWidget(m_centrePart);
    right->addWidget(m_change);
    right->addWidget(m_warning);
    right->addStretch(1);
    auto* make = makeLink(tr("Make one from a method…"), tr("A CRS of your own by its parameters"));
    make->setObjectName("crsMake");
    make->setStyleSheet("font-weight: 600; color: " + theme().indigo.name());
    right->addWidget(sideBySide({m_star, make}));
    right->addWidget(m_use);
    m_right->addWidget(candidate);
    m_right->addWidget(m_maker);
    m_right->setFixedWidth(kPreviewSize.width());
    auto* all = new QHBoxLayout(this);
    all->setContentsMargins(14, 12, 14, 14);
    all->setSpacing(14);
    all->addLayout(left);
    all->addWidget(m_right);
    setFixedHeight(kHeight);

    connect(m_search, &QLineEdit::textChanged, this, &CrsPicker::fillList);
    connect(m_list, &QListWidget::currentItemChanged, this, &CrsPicker::showCandidate);
    connect(m_list, &QListWidget::itemActivated, this, &CrsPicker::take);
    connect(m_use, &QPushButton::clicked, this, &CrsPicker::take);
    connect(m_star, &QPushButton::clicked, this, [this] {
        auto& shelf = m_workspace.crsShelf();
        const auto done = shelf.setFavourite(m_text, !shelf.isFavourite(m_text));
        if (!done) m_workspace.say(qtext(done.error().text()), true);
        showCandidate();
    });
    connect(m_centre, &QLineEdit::textEdited, this, &CrsPicker::moveCentre);
    connect(make, &QPushButton::clicked, this, [this] { m_right->setCurrentIndex(1); });
    connect(m_maker, &CrsMaker::cancelled, this, [this] { m_right->setCurrentIndex(0); });
    connect(m_maker, &CrsMaker::made, this, [this](const QString& name, const QString& wkt) {
        m_workspace.perform("custom-crs",
                            {{"name", name.toStdString()}, {"wkt", wkt.toStdString()}});
        m_right->setCurrentIndex(0);
        m_search->clear();
        fillList();
        for (int row = 0; row < m_list->count(); ++row)
            if (m_list->item(row)->data(kTextRole).toString() == wkt) m_list->setCurrentRow(row);
    });
    fillList();
}

CrsPicker::~CrsPicker() = default;

void CrsPicker::openBelow(QWidget* anchor) {
    adjustSize();
    const QWidget* window = anchor->window();
    QPoint at = anchor->mapToGlobal(QPoint(anchor->width() - width(), anchor->height() + 6));
    const QRect room(window->mapToGlobal(QPoint(8, 8)), window->size() - QSize(16, 16));
    at.setX(std::clamp(at.x(), room.left(), std::max(room.left(), room.right() - width())));
    at.setY(std::clamp(at.y(), room.top(), std::max(room.top(), room.bottom() - height())));
    move(at);
    show();
    m_search->setFocus();
}

void CrsPicker::addHeading(const QString& text) {
    auto* item = new QListWidgetItem(text, m_list);
    item->setFlags(Qt::NoItemFlags);
    QFont font = item->font();
    font.setBold(true);
    item->setFont(font);
    item->setForeground(theme().muted);
}

void CrsPicker::addCrs(const std::string& text, const QString& detail) {
    if (text.empty()) return;
    const auto crs = crs::parseCrs(text);
    if (!crs || !*crs) return;
    QString said = qtext((*crs)->name);
    if ((*crs)->code != 0) said += QString("   EPSG:%1").arg((*crs)->code);
    if (!detail.isEmpty()) said += "   " + detail;
    auto* item = new QListWidgetItem(said, m_list);
    item->setData(kTextRole, qtext(text));
    item->setToolTip((*crs)->area ? qtext((*crs)->area->name) : said);
}

void CrsPicker::fillList() {
    const QSignalBlocker quiet(m_list);
    m_list->clear();
    const auto& catalogue = crs::Catalogue::shipped();
    const std::string typed = m_search->text().trimmed().toStdString();
    const auto codeText = [](int code) { return "EPSG:" + std::to_string(code); };
    if (!typed.empty()) {
        // A pasted definition is a candidate as it stands.
        if (typed.find('[') != std::string::npos) {
            addHeading(tr("Definition"));
            addCrs(typed);
        }
        // Any other name that files and services use.
        const auto named = crs::parseCrs(typed);
        const bool isNamed = named && *named && typed.find('[') == std::string::npos;
        // Declaring says what coordinates are; no datum is left by it.
        const bool isDeclared = m_request.purpose == Purpose::Declare;
        const auto found =
            session::findCrs(typed, m_request.place, isDeclared ? nullptr : m_request.current);
        if (isNamed && found.empty()) {
            addHeading(tr("Of this name"));
            addCrs(typed);
        } else if (found.empty() && typed.find('[') == std::string::npos) {
            addHeading(tr("Nothing of this code, name, method or place"));
        }
        for (const bool isForPlace : {true, false}) {
            bool isFirst = true;
            for (const session::CrsCandidate& one : found) {
                if (one.isForPlace != isForPlace) continue;
                if (std::exchange(isFirst, false))
                    addHeading(isForPlace ? tr("Found, for this place")
                                          : tr("Found, for other places"));
                addCrs(one.text, qtext(one.accuracy));
            }
        }
    } else {
        if (!m_request.guesses.empty()) {
            addHeading(tr("In these it would lie on the other data"));
            for (const auto& guess : m_request.guesses)
                addCrs(codeText(guess.code), tr("%1 %").arg(qRound(guess.share * 100)));
        }
        const auto& custom = m_workspace.document().customCrs;
        if (!custom.empty()) addHeading(tr("Of this project's own"));
        for (const auto& own : custom) addCrs(own.wkt);
        const auto& shelf = m_workspace.crsShelf();
        if (!shelf.favourites().empty()) addHeading(tr("Favourites"));
        for (const auto& text : shelf.favourites()) addCrs(text);
        if (m_request.place.isFinite()) {
            addHeading(tr("Suits the place"));
            for (const auto* entry : catalogue.suitable(m_request.place, 6))
                addCrs(codeText(entry->code));
        }
        if (!shelf.recent().empty()) addHeading(tr("Used lately"));
        for (const auto& text : shelf.recent()) addCrs(text);
        addHeading(tr("For everywhere"));
        for (const int code : {4326, 3857}) addCrs(codeText(code));
        for (const crs::WorldCrs& world : crs::worldCrss())
            addCrs(crs::worldCrsText(world, {0, 0}), qtext(std::string(nameOf(world.keeps))));
    }
    for (int row = 0; row < m_list->count(); ++row)
        if (m_list->item(row)->flags() & Qt::ItemIsSelectable) {
            m_list->setCurrentRow(row);
            break;
        }
    showCandidate();
}

void CrsPicker::showCandidate() {
    const auto* item = m_list->currentItem();
    m_centreProblem->hide();
    m_text = item ? item->data(kTextRole).toString().toStdString() : std::string();
    m_candidate = m_text.empty() ? nullptr : crs::parseCrs(m_text).value_or(nullptr);
    const auto centre = crs::worldCentre(m_text);
    m_centrePart->setVisible(centre.has_value());
    if (centre) showText(m_centre, centreText(m_text));
    showFacts();
}

void CrsPicker::showFacts() {
    m_use->setEnabled(m_candidate != nullptr);
    m_star->setVisible(m_candidate != nullptr);
    if (!m_candidate) {
        m_name->setText(tr("Choose a CRS"));
        m_facts->clear();
        m_change->clear();
        m_warning->hide();
        return;
    }
    const bool isFavourite = m_workspace.crsShelf().isFavourite(m_text);
    m_star->setText(isFavourite ? tr("★ Favourite") : tr("☆ Favourite"));
    m_name->setText(qtext(m_candidate->name));
    QString facts = qtext(session::crsInWords(*m_candidate)).section('\n', 1);
    if (!m_candidate->remark.text.empty()) facts += "\n" + qtext(m_candidate->remark.text);
    m_facts->setText(facts);
    const auto change = session::crsChange(m_request.current, m_candidate, m_request.place);
    QStringList lines;
    for (const std::string& line : change.lines) lines << qtext(line);
    m_change->setText(lines.join("\n"));
    m_warning->setText(qtext(change.warning));
    m_warning->setVisible(!change.warning.empty());
    drawPreview();
}

// A world CRS centred elsewhere; what cannot be read is said beneath the field.
void CrsPicker::moveCentre(const QString& typed) {
    const auto* world = crs::worldCrs(m_text);
    if (!world) return;
    QString plain = typed;
    const std::string text =
        "world:" + std::string(world->key) + "@" + plain.remove(' ').toStdString();
    const auto moved = crs::parseCrs(text);
    m_centreProblem->setVisible(!moved);
    if (!moved)
        return m_centreProblem->setText(world->takesLatitude
                                            ? tr("Write longitude and latitude in degrees: -10, 60")
                                            : tr("Write a longitude in degrees: 150"));
    m_text = text;
    m_candidate = *moved;
    showFacts();
}

void CrsPicker::drawPreview() {
    const double ratio = devicePixelRatioF();
    Preview preview{m_workspace.document(), {}};
    carto::MapFrame& frame = preview.frame;
    frame.widthPx = qRound(kPreviewSize.width() * ratio);
    frame.heightPx = qRound(kPreviewSize.height() * ratio);
    // Small, as the whole canvas seen from afar.
    frame.pxPerMm = 96 / 25.4 * ratio * 0.5;
    const auto mapCrs = m_workspace.session().mapCrs();
    frame.view = m_workspace.view();
    frame.crs = mapCrs;
    if (m_request.purpose == Purpose::Declare) {
        preview.document = doc::withSource(preview.document, m_request.source,
                                           [this](doc::SourceRef& s) { s.declaredCrs = m_text; });
        // What is declared shows, whatever its lamp says.
        const doc::Id layer = m_workspace.selectedLayer();
        preview.document =
            doc::withLayer(preview.document, layer, [](doc::Layer& l) { l.isVisible = true; });
    } else {
        frame.crs = m_candidate;
    }
    const double scale = frame.view.scale * 2;
    m_worker.start([this, preview, mapCrs, scale, renderer = m_renderer,
                    ratio](const std::stop_token& stop) mutable {
        auto& wanted = preview.frame;
        if (const auto way = crs::Transformation::between(mapCrs, wanted.crs)) {
            const Point centre = way->forward(wanted.view.centre);
            if (centre.isFinite()) wanted.view.centre = centre;
        }
        wanted.view.scale = scale;
        carto::MapReport report;
        auto picture = renderer->picture(preview.document, preview.document.layers, wanted,
                                         {stop, {}}, report);
        if (!picture || stop.stop_requested()) return;
        QImage paper(picture->size(), QImage::Format_RGB32);
        paper.fill(Qt::white);
        QPainter(&paper).drawImage(0, 0, *picture);
        paper.setDevicePixelRatio(ratio);
        QMetaObject::invokeMethod(
            this, [this, paper] { m_preview->setPixmap(QPixmap::fromImage(paper)); });
    });
}

void CrsPicker::take() {
    if (!m_candidate) return;
    const auto kept = m_workspace.crsShelf().addRecent(m_text);
    if (!kept) m_workspace.say(qtext(kept.error().text()), true);
    Q_EMIT chosen(qtext(m_text));
    close();
}

void CrsPicker::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) {
        close();
        return;
    }
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return take();
    QFrame::keyPressEvent(event);
}

// The list is moved through while typing goes on.
bool CrsPicker::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_search && event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Down || key->key() == Qt::Key_Up) {
            const int step = key->key() == Qt::Key_Down ? 1 : -1;
            for (int row = m_list->currentRow() + step; row >= 0 && row < m_list->count();
                 row += step)
                if (m_list->item(row)->flags() & Qt::ItemIsSelectable) {
                    m_list->setCurrentRow(row);
                    break;
                }
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace ledge::app
