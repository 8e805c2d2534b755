#include "app/sheet/item_menu.h"

#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QMimeData>
#include <QRegularExpression>

#include "app/benches/bench_page.h"
#include "app/sheet/on_paper.h"
#include "core/base/numbers.h"
#include "document/edits/item_layout.h"
#include "document/json/members.h"
#include "document/json/sheet_text.h"
#include "document/map_crs.h"

namespace ledge::app {
namespace {
constexpr const char* kMime = "application/x-indigo-ledge-items";


QString freeName(const doc::Sheet& sheet, const QString& wanted, const QStringList& also = {}) {
    const auto isTaken = [&](const QString& name) {
        return also.contains(name) ||
               std::any_of(sheet.items.begin(), sheet.items.end(),
                           [&](const doc::SheetItem& i) { return qtext(i.name) == name; });
    };
    // "Title 2" is followed by "Title 3".
    static const QRegularExpression numbered(QStringLiteral(" \\d+$"));
    const QString stem = QString(wanted).remove(numbered);
    QString out = wanted;
    for (int number = 2; isTaken(out); ++number) out = QString("%1 %2").arg(stem).arg(number);
    return out;
}

void paste(Workspace& workspace, const std::string& text) {
    const doc::Sheet* sheet = workspace.sheet();
    auto items = doc::itemsFromText(text);
    if (!items) return workspace.say(qtext(items.error().text()), true);
    if (!sheet || items->empty()) return;
    QStringList names;
    for (doc::SheetItem& item : *items) {
        const bool isThere =
            std::any_of(sheet->items.begin(), sheet->items.end(),
                        [&](const doc::SheetItem& one) { return one.rect == item.rect; });
        if (isThere) item.rect.left += 5, item.rect.top += 5;
        const QString name = freeName(*sheet, qtext(item.name), names);
        names << name;
        item.name = name.toStdString();
    }
    doc::Sheet carrier;
    for (doc::SheetItem& item : *items) carrier.items.push_back(std::move(item));
    std::vector<doc::Id> all;
    for (const doc::SheetItem& item : carrier.items) all.push_back(item.id);
    if (!workspace.performOnSheet("items-paste", {{"text", doc::itemsText(carrier, all)}})) return;
    std::vector<doc::Id> fresh;
    for (const doc::SheetItem& item : workspace.sheet()->items)
        if (names.contains(qtext(item.name))) fresh.push_back(item.id);
    workspace.selectItems(fresh, fresh.empty() ? 0 : fresh.front());
}
}  // namespace

void copyItems(Workspace& workspace) {
    if (!workspace.sheet() || workspace.selectedItems().empty()) return;
    const QByteArray text = QByteArray::fromStdString(doc::itemsText(
        *workspace.sheet(), doc::withGroups(*workspace.sheet(), workspace.selectedItems())));
    auto* data = new QMimeData;
    data->setData(kMime, text);
    data->setText(QString::fromUtf8(text));
    QApplication::clipboard()->setMimeData(data);
}

void cutItems(Workspace& workspace) {
    copyItems(workspace);
    workspace.performOnItems("items-remove", {});
}

void pasteItems(Workspace& workspace) {
    const QMimeData* data = QApplication::clipboard()->mimeData();
    if (!data) return;
    const QByteArray bytes = data->hasFormat(kMime) ? data->data(kMime) : data->text().toUtf8();
    paste(workspace, bytes.toStdString());
}

void doubleItems(Workspace& workspace) {
    if (!workspace.sheet() || workspace.selectedItems().empty()) return;
    paste(workspace,
          doc::itemsText(*workspace.sheet(),
                         doc::withGroups(*workspace.sheet(), workspace.selectedItems())));
}

void orderSelected(Workspace& workspace, const std::string& to) {
    const doc::Sheet* sheet = workspace.sheet();
    if (!sheet) return;
    if (to == "front" || to == "back") {
        workspace.performOnItems("items-order", {{"to", to}});
        return;
    }
    const bool isUp = to == "forward";
    const doc::Id of = doc::nextInOrder(*sheet, workspace.selectedItems(), isUp);
    if (of == 0) return;
    workspace.performOnItems("items-order",
                             {{"to", isUp ? "above" : "below"}, {"of", Workspace::target(of)}});
}

bool addItem(Workspace& workspace, const QString& name, const char* kind, const std::string& rect,
             doc::EditWords more) {
    const doc::Sheet* sheet = workspace.sheet();
    if (!sheet) return false;
    more.insert({{"kind", kind}, {"name", freeName(*sheet, name).toStdString()}, {"rect", rect}});
    if (!workspace.performOnSheet("item-add", more)) return false;
    workspace.selectItem(workspace.sheet()->items.front()->id);
    return true;
}

ItemMenu::ItemMenu(Workspace& workspace, QWidget* parent) : QMenu(parent) {
    setToolTipsVisible(true);
    const doc::SheetItem* item = workspace.item();
    const std::size_t count = workspace.selectedItems().size();
    const auto act = [this](QMenu* menu, const QString& name, const QKeySequence& keys, auto does) {
        QAction* action = menu->addAction(name, this, does);
        action->setShortcut(keys);
        action->setShortcutVisibleInContextMenu(true);
        action->setShortcutContext(Qt::WidgetShortcut);
        return action;
    };
    if (item && item->as<doc::MapPanel>() && count == 1) {
        act(this, tr("Move the map inside"), {}, [&workspace] {
            workspace.setMovesContent(true);
        })->setObjectName("menuMoveContent");
        addSeparator();
    }
    act(this, tr("Copy"), QKeySequence::Copy, [&workspace] {
        copyItems(workspace);
    })->setEnabled(count > 0);
    act(this, tr("Cut"), QKeySequence::Cut, [&workspace] {
        cutItems(workspace);
    })->setEnabled(count > 0);
    act(this, tr("Paste"), QKeySequence::Paste, [&workspace] { pasteItems(workspace); });
    act(this, tr("Once more"), QKeySequence("Ctrl+D"), [&workspace] {
        doubleItems(workspace);
    })->setEnabled(count > 0);
    act(this, tr("Remove"), QKeySequence::Delete, [&workspace] {
        workspace.performOnItems("items-remove", {});
    })->setEnabled(count > 0);
    if (count == 0) return;
    addSeparator();
    QMenu* align =
        addMenu(count > 1 ? tr("Align with each other") : tr("Align with the page's margins"));
    const std::pair<const char*, QString> edges[] = {
        {"left", tr("Left sides")}, {"centre", tr("Centres")}, {"right", tr("Right sides")},
        {"top", tr("Upper sides")}, {"middle", tr("Middles")}, {"foot", tr("Lower sides")}};
    for (const auto& [edge, said] : edges)
        act(align, said, {}, [&workspace, edge = edge] {
            workspace.performOnItems("items-align", {{"edge", edge}});
        })->setObjectName(QString("align-%1").arg(edge));
    QMenu* spread = addMenu(tr("Equal gaps"));
    spread->setEnabled(count > 2);
    act(spread, tr("Across"), {}, [&workspace] {
        workspace.performOnItems("items-distribute", {{"way", "across"}});
    });
    act(spread, tr("Down"), {}, [&workspace] {
        workspace.performOnItems("items-distribute", {{"way", "down"}});
    });
    QMenu* size = addMenu(tr("Same size as the first"));
    size->setEnabled(count > 1);
    const std::pair<const char*, QString> sizes[] = {
        {"width", tr("Width")}, {"height", tr("Height")}, {"both", tr("Both")}};
    for (const auto& [as, said] : sizes)
        act(size, said, {}, [&workspace, as = as] {
            workspace.performOnItems("items-size", {{"as", as}});
        });
    QMenu* order = addMenu(tr("Order"));
    const std::tuple<const char*, QString, const char*> orders[] = {
        {"front", tr("To the top"), "Ctrl+Shift+Up"},
        {"forward", tr("One up"), "Ctrl+Up"},
        {"backward", tr("One down"), "Ctrl+Down"},
        {"back", tr("To the bottom"), "Ctrl+Shift+Down"}};
    for (const auto& [to, said, keys] : orders)
        act(order, said, QKeySequence(keys),
            [&workspace, to = to] { orderSelected(workspace, to); });
    act(this, tr("Group"), QKeySequence("Ctrl+G"), [&workspace] {
        workspace.performOnItems("items-group", {{"grouped", "yes"}});
    })->setEnabled(count > 1);
    act(this, tr("Ungroup"), QKeySequence("Ctrl+Shift+G"), [&workspace] {
        workspace.performOnItems("items-group", {{"grouped", "no"}});
    })->setEnabled(item && item->group != 0);
    QMenu* pin = addMenu(tr("Pin to the page"));
    const std::pair<const char*, QString> sides[] = {{"left", tr("Left side")},
                                                     {"top", tr("Upper side")},
                                                     {"right", tr("Right side")},
                                                     {"bottom", tr("Lower side")}};
    for (std::size_t i = 0; i < std::size(sides); ++i) {
        const auto& [side, said] = sides[i];
        QAction* action = act(pin, said, {}, [] {});
        action->setCheckable(true);
        const auto isPinned = [item, i] {
            return item &&
                   std::any_of(item->pins.begin(), item->pins.end(), [i](const doc::ItemPin& one) {
                       return static_cast<std::size_t>(one.side) == i && one.of == 0;
                   });
        };
        action->setChecked(isPinned());
        connect(action, &QAction::triggered, this, [&workspace, side = side](bool on) {
            workspace.performOnItem("item-pin", {{"side", side}, {"to", on ? "page" : "nothing"}});
        });
    }
    // To the item that was selected before this one.
    if (count == 2) {
        const auto& ids = workspace.selectedItems();
        const doc::Id other = ids[0] == workspace.selectedItem() ? ids[1] : ids[0];
        const doc::SheetItem* host = workspace.sheet()->item(other);
        QMenu* to = addMenu(tr("Pin to %1").arg(host ? qtext(host->name) : QString()));
        const std::tuple<const char*, const char*, QString> ways[] = {
            {"left", "left", tr("Left side to its left")},
            {"left", "right", tr("Left side to its right")},
            {"right", "left", tr("Right side to its left")},
            {"right", "right", tr("Right side to its right")},
            {"top", "top", tr("Upper side to its upper")},
            {"top", "bottom", tr("Upper side to its lower")},
            {"bottom", "top", tr("Lower side to its upper")},
            {"bottom", "bottom", tr("Lower side to its lower")}};
        for (const auto& [side, toSide, said] : ways)
            act(to, said, {}, [&workspace, other, side = side, toSide = toSide] {
                workspace.performOnItem(
                    "item-pin",
                    {{"side", side}, {"to", Workspace::target(other)}, {"to_side", toSide}});
            });
    }
    QAction* lock = act(this, tr("Locked in place"), {}, [] {});
    lock->setCheckable(true);
    lock->setChecked(item && item->isLocked);
    connect(lock, &QAction::triggered, this,
            [&workspace](bool on) { workspace.setItemMember("locked", doc::word(on)); });
}

void AddMenu::offer(const QString& name, const char* kind, const char* rect, doc::EditWords more) {
    addAction(name, this,
              [this, name, kind, rect, more] { addItem(m_workspace, name, kind, rect, more); });
}

AddMenu::AddMenu(Workspace& workspace, QWidget* parent) : QMenu(parent), m_workspace(workspace) {
    const doc::MapView& view = workspace.view();
    const double scale = doc::groundScale(view, workspace.session().mapCrs());
    offer(tr("Map panel"), "map panel", "20,20,80,60",
          {{"centre", placeText(view.centre)},
           {"scale", exactNumber(scale)},
           {"rotation", exactNumber(std::remainder(view.rotation, 360.0))}});
    offer(tr("Text"), "text", "20,20,60,10", {{"text", tr("Text").toStdString()}});
    offer(tr("Title"), "text", "20,20,120,10",
          {{"text", "{project}"}, {"with", R"({"size_pt": 18, "bold": true})"}});
    offer(tr("Page number"), "text", "20,20,30,5",
          {{"text", tr("Page {page} of {pages}").toStdString()}});
    offer(tr("Legend"), "legend", "20,20,60,50");
    offer(tr("Scale bar"), "scale bar", "20,20,80,9");
    offer(tr("North arrow"), "north arrow", "20,20,9,13");
    offer(tr("Credits"), "credits", "20,20,80,6");
    addAction(tr("Picture…"), this, [this] {
        const QString path = QFileDialog::getOpenFileName(
            this, tr("Picture"), {}, tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.svg)"),
            nullptr, QFileDialog::DontUseNativeDialog);
        if (!path.isEmpty())
            addItem(m_workspace, tr("Picture"), "picture", "20,20,40,30",
                    {{"file", path.toStdString()}});
    });
    QMenu* shapes = addMenu(tr("Shape"));
    const std::pair<QString, const char*> forms[] = {
        {tr("Rectangle"), R"({"form": "rectangle"})"},
        {tr("Ellipse"), R"({"form": "ellipse"})"},
        {tr("Polygon"), R"({"form": "polygon", "points": [[0, 1], [0.5, 0], [1, 1]]})"},
        {tr("Line"), R"({"form": "line", "points": [[0, 0], [1, 1]]})"},
        {tr("Arrow"), R"({"form": "line", "points": [[0, 1], [1, 0]], "head": true})"}};
    for (const auto& [name, with] : forms)
        shapes->addAction(name, this, [this, name = name, with = with] {
            addItem(m_workspace, name, "shape", "20,20,40,25", {{"with", with}});
        });
    shapes->addSeparator();
    for (const auto& [name, form] : {std::pair(tr("Draw a polygon"), doc::ShapeForm::Polygon),
                                     std::pair(tr("Draw a line"), doc::ShapeForm::Line)})
        shapes->addAction(name, this,
                          [this, form = form] { Q_EMIT m_workspace.shapeDrawingAsked(form); });
    offer(tr("Table"), "table", "20,20,90,60");
    offer(tr("Chart"), "chart", "20,20,80,50");
    for (const auto& kept : workspace.document().profiles)
        offer(qtext(kept.name), "profile", "20,20,120,40",
              {{"profile", Workspace::target(kept.id)}});
}

}  // namespace ledge::app
