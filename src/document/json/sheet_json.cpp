#include "document/json/sheet_json.h"

#include "document/kinds.h"

namespace ledge::doc {
namespace {
Align alignFrom(const Json& json, Align fallback) {
    const std::string name = json.value("align", "");
    for (std::size_t i = 0; i < kAlignNames.size(); ++i)
        if (name == kAlignNames[i]) return static_cast<Align>(i);
    return fallback;
}

struct ContentWriter {
    Json& out;
    void operator()(const MapPanel& p) const {
        out["centre"] = {p.centre.x, p.centre.y};
        out["scale"] = p.scale;
        out["rotation"] = p.rotation;
        out["crs"] = p.crs;
        out["frame_mm"] = p.frameMm;
        out["ticks"] = p.hasTicks;
        if (p.frozen) out["frozen"] = layersJson(*p.frozen);
    }
    void operator()(const TextItem& t) const {
        out.update({{"text", t.text},
                    {"size_pt", t.sizePt},
                    {"bold", t.isBold},
                    {"italic", t.isItalic},
                    {"colour", colourText(t.colour)},
                    {"align", kAlignNames[static_cast<std::size_t>(t.align)]}});
    }
    void operator()(const LegendItem& l) const {
        out.update({{"panel", l.panel},
                    {"columns", l.columns},
                    {"size_pt", l.sizePt},
                    {"title", l.title}});
        Json names = Json::object();
        for (const auto& [id, name] : l.names) names[std::to_string(id)] = name;
        if (!names.empty()) out["names"] = names;
        if (!l.left_out.empty()) out["left_out"] = l.left_out;
    }
    void operator()(const ScaleBarItem& s) const {
        out.update({{"panel", s.panel}, {"size_pt", s.sizePt}});
    }
    void operator()(const UnknownItem&) const {}  // its members are kept as they were
    void operator()(const NorthArrowItem& n) const { out["panel"] = n.panel; }
    void operator()(const ProfileItem& p) const {
        out.update({{"profile", p.profile}, {"size_pt", p.sizePt}});
    }
    void operator()(const CreditsItem& c) const {
        out.update({{"added", c.added},
                    {"size_pt", c.sizePt},
                    {"align", kAlignNames[static_cast<std::size_t>(c.align)]}});
    }
};

struct ContentReader {
    const Json& j;
    void operator()(MapPanel& p) const {
        p.centre = {j.at("centre").at(0).get<double>(), j.at("centre").at(1).get<double>()};
        p.scale = j.value("scale", p.scale);
        p.rotation = j.value("rotation", 0.0);
        p.crs = j.value("crs", "");
        p.frameMm = j.value("frame_mm", p.frameMm);
        p.hasTicks = j.value("ticks", p.hasTicks);
        if (j.contains("frozen")) p.frozen = layersFrom(j.at("frozen"));
    }
    void operator()(LegendItem& l) const {
        l.panel = j.value("panel", Id{0});
        l.columns = std::clamp(j.value("columns", l.columns), 1, 12);
        l.sizePt = j.value("size_pt", l.sizePt);
        l.title = j.value("title", "");
        const Json names = j.value("names", Json::object());
        for (const auto& [id, name] : names.items())
            l.names[std::strtoll(id.c_str(), nullptr, 10)] = name.get<std::string>();
        l.left_out = j.value("left_out", l.left_out);
    }
    void operator()(ScaleBarItem& s) const {
        s.panel = j.value("panel", s.panel);
        s.sizePt = j.value("size_pt", s.sizePt);
    }
    void operator()(NorthArrowItem& n) const { n.panel = j.value("panel", n.panel); }
    void operator()(ProfileItem& p) const {
        p.profile = j.value("profile", p.profile);
        p.sizePt = j.value("size_pt", p.sizePt);
    }
    void operator()(CreditsItem& c) const {
        c.added = j.value("added", "");
        c.sizePt = j.value("size_pt", c.sizePt);
        c.align = alignFrom(j, c.align);
    }
    void operator()(TextItem& t) const {
        t.text = j.value("text", "");
        t.sizePt = j.value("size_pt", t.sizePt);
        t.isBold = j.value("bold", false);
        t.isItalic = j.value("italic", false);
        t.colour = colourFrom(j.value("colour", Json()), t.colour);
        t.align = alignFrom(j, t.align);
    }
    void operator()(UnknownItem&) const {}
};

SheetContent contentFrom(const Json& j, const std::string& kind) {
    SheetContent out = UnknownItem{kind};
    forItemKind(kind, [&](auto content) {
        ContentReader{j}(content);
        out = std::move(content);
    });
    return out;
}
}  // namespace

Json sheetJson(const Sheet& sheet) {
    Json items = Json::array();
    for (const SheetItem& item : sheet.items) {
        const PageRect& r = item.rect;
        Json out{{"id", item.id},
                 {"kind", itemKind(item)},
                 {"name", item.name},
                 {"rect_mm", {r.left, r.top, r.width, r.height}}};
        if (item.isHidden) out["hidden"] = true;
        if (item.isLocked) out["locked"] = true;
        std::visit(ContentWriter{out}, item.content);
        items.push_back(std::move(out));
    }
    return {{"id", sheet.id},
            {"name", sheet.name},
            {"width_mm", sheet.widthMm},
            {"height_mm", sheet.heightMm},
            {"items", std::move(items)}};
}

Sheet sheetFrom(const Json& json) {
    Sheet sheet;
    sheet.id = json.at("id").get<Id>();
    sheet.name = json.value("name", "Sheet");
    sheet.widthMm = std::clamp(json.at("width_mm").get<double>(), 10.0, 5000.0);
    sheet.heightMm = std::clamp(json.at("height_mm").get<double>(), 10.0, 5000.0);
    for (const Json& j : json.value("items", Json::array())) {
        SheetItem item;
        item.id = j.at("id").get<Id>();
        item.name = j.value("name", "");
        const Json& r = j.at("rect_mm");
        item.rect = {r.at(0).get<double>(), r.at(1).get<double>(), r.at(2).get<double>(),
                     r.at(3).get<double>()};
        item.isHidden = j.value("hidden", false);
        item.isLocked = j.value("locked", false);
        item.content = contentFrom(j, j.value("kind", "text"));
        sheet.items.push_back(std::move(item));
    }
    return sheet;
}

}  // namespace ledge::doc
