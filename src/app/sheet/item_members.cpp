#include "app/sheet/item_members.h"

#include <QCoreApplication>

#include "carto/sheet/live_text.h"
#include "core/base/units.h"

namespace ledge::app {
namespace {
QString tr(const char* text) { return QCoreApplication::translate("ItemMembers", text); }
using Kind = MemberRow::Kind;
using Rows = std::vector<MemberRow>;

MemberRow number(const char* member, const QString& caption, double low, double high, int decimals,
                 const QString& suffix, double step, const char* object = "",
                 const QString& tip = {}) {
    return {member, Kind::Number, caption, object, tip, low, high, step, decimals, suffix};
}
MemberRow check(const char* member, const QString& caption, const char* object = "",
                const QString& tip = {}) {
    return {member, Kind::Check, caption, object, tip};
}
MemberRow choice(const char* member, const QString& caption, const QStringList& options,
                 std::vector<const char*> words, const char* object = "", const QString& tip = {}) {
    MemberRow out{member, Kind::Choice, caption, object, tip};
    out.options = options, out.words = std::move(words);
    return out;
}
MemberRow of(Kind kind, const char* member, const QString& caption, const char* object = "",
             const QString& tip = {}) {
    return {member, kind, caption, object, tip};
}
MemberRow typeSize(const char* object = "itemSize") {
    return number("size_pt", tr("Size of type"), 1, 500, 1, tr(" pt"), 0.5, object);
}
MemberRow alignment() {
    return choice("align", tr("Alignment"), {tr("Left"), tr("Centre"), tr("Right")},
                  {"left", "centre", "right"}, "itemAlign");
}

// What may stand in braces, for those who write texts.
QString liveWords() {
    QString out = tr("Filled in where they stand in braces:");
    for (const auto& [name, said] : carto::liveNames())
        out += QString("\n{%1}: %2").arg(name, QCoreApplication::translate("ledge", said));
    return out + "\n" + tr("{Layer: sum(field)}, {Panel: scale} and {feature: formula} too");
}

struct RowsOf {
    Rows operator()(const doc::MapPanel&) const {
        return {check("ticks", tr("Coordinates outside the neat line"), "panelTicks"),
                of(Kind::Layer, "shaped_by", tr("Cut by the areas of"), "panelShape",
                   tr("Only what lies in the areas of this layer is shown"))};
    }
    Rows operator()(const doc::TextItem&) const {
        return {of(Kind::Lines, "text", tr("Text"), "itemText", liveWords()),
                typeSize(),
                alignment(),
                choice("upright", tr("In its height"), {tr("Top"), tr("Middle"), tr("Foot")},
                       {"top", "middle", "bottom"}),
                number("line_spacing", tr("Line spacing"), 0.5, 5, 2, {}, 0.05),
                check("bold", tr("Bold"), "itemBold"),
                check("italic", tr("Italic"), "itemItalic"),
                of(Kind::Colour, "colour", tr("Colour"), "itemColour"),
                of(Kind::Font, "font", tr("Font"), "itemFont")};
    }
    Rows operator()(const doc::LegendItem&) const {
        return {
            of(Kind::Panel, "panel", tr("Of the panel"), "itemPanel"),
            number("columns", tr("Columns"), 1, 12, 0, {}, 1, "legendColumns"),
            of(Kind::Line, "title", tr("Heading"), "legendTitle"),
            typeSize(),
            number("patch_mm", tr("Width of samples"), 1, 60, 1, tr(" mm"), 0.5, "legendPatch"),
            of(Kind::Font, "font", tr("Font")),
            check("of_view", tr("Only what the panel shows"), "legendOfView",
                  tr("Classes of which there is no feature on the panel are left out")),
            check("groups", tr("Groups together, under their names"), "legendGroups",
                  tr("Layers of a group of the stack stand together beneath its name")),
            check("fits", tr("Give way until all fits"), "legendFits",
                  tr("Columns change, then type and samples shrink, to no less than 5 points"))};
    }
    Rows operator()(const doc::ScaleBarItem&) const {
        QStringList units{tr("by the project")}, second{tr("none")};
        std::vector<const char*> words{""};
        for (const NamedLength& unit : scaleBarUnits()) {
            units << QString::fromStdString(unit.name);
            second << QString::fromStdString(unit.name);
            words.push_back(unit.name.c_str());
        }
        return {
            of(Kind::Panel, "panel", tr("Of the panel"), "itemPanel"),
            choice("form", tr("Form"), {tr("Hairline"), tr("Blocks"), tr("Stepped"), tr("Rail")},
                   {"hairline", "blocks", "steps", "rail"}, "barForm"),
            typeSize(),
            choice("unit", tr("Unit"), units, words, "barUnit"),
            choice("second_unit", tr("And beneath"), second, words, "barSecondUnit"),
            number("length", tr("Length (0: round by itself)"), 0, 1e9, 3, {}, 1, "barLength"),
            number("divisions", tr("Divisions (0: by itself)"), 0, 20, 0, {}, 1, "barDivisions"),
            number("left_divisions", tr("Left of zero"), 0, 20, 0, {}, 1, "barLeft")};
    }
    Rows operator()(const doc::NorthArrowItem&) const {
        return {of(Kind::Panel, "panel", tr("Of the panel"), "itemPanel"),
                choice("design", tr("Design"), {tr("Plain"), tr("Split"), tr("Ring"), tr("Slim")},
                       {"plain", "split", "ring", "slim"}, "arrowDesign"),
                choice("north", tr("Points to"),
                       {tr("true north, where it matters"), tr("true north"), tr("grid north"),
                        tr("a declination")},
                       {"usual", "true", "grid", "typed"}, "arrowNorth"),
                number("degrees", tr("Declination from grid north"), -360, 360, 1, "°", 0.5,
                       "arrowDegrees")};
    }
    Rows operator()(const doc::CreditsItem&) const {
        return {of(Kind::Lines, "added", tr("Added to the credits"), "itemText"), typeSize(),
                alignment()};
    }
    Rows operator()(const doc::ProfileItem&) const {
        return {of(Kind::Profile, "profile", tr("Profile"), "profileShown"), typeSize()};
    }
    Rows operator()(const doc::PictureItem&) const {
        return {of(Kind::File, "file", tr("File"), "pictureFile", tr("PNG, JPEG, TIFF or SVG")),
                check("keeps_shape", tr("Keep its shape"), "pictureShape"), alignment()};
    }
    Rows operator()(const doc::ShapeItem& shape) const {
        Rows out{
            choice("form", tr("Form"), {tr("Rectangle"), tr("Ellipse"), tr("Polygon"), tr("Line")},
                   {"rectangle", "ellipse", "polygon", "line"}, "shapeForm"),
            of(Kind::Paint, "fill", tr("Fill"), "shapeFill"),
            of(Kind::Paint, "stroke", tr("Line"), "shapeStroke"),
            number("stroke_mm", tr("Width"), 0, 50, 2, tr(" mm"), 0.05, "shapeWidth"),
            choice("dash", tr("Dashes"), {tr("Solid"), tr("Dashes"), tr("Dots"), tr("Dash-dot")},
                   {"solid", "dashes", "dots", "dash-dot"})};
        if (shape.form == doc::ShapeForm::Rectangle)
            out.push_back(number("round_mm", tr("Round corners"), 0, 100, 1, tr(" mm"), 0.5));
        if (shape.form == doc::ShapeForm::Line) {
            out.push_back(check("head", tr("Arrow at its end"), "shapeHead"));
            out.push_back(check("tail", tr("Arrow at its start"), "shapeTail"));
        }
        return out;
    }
    Rows operator()(const doc::TableItem&) const {
        return {of(Kind::Layer, "layer", tr("Rows of"), "tableLayer"),
                of(Kind::List, "fields", tr("Columns, one a line"), "tableFields",
                   tr("A field, or what it is called and a field or formula: "
                      "Rain, mm: year_mm; none: the first four fields")),
                of(Kind::Line, "keep", tr("Only rows for which"), "tableKeep",
                   tr("A condition of the Ask language, such as sheep > 100")),
                of(Kind::Formula, "sort_by", tr("Ordered by"), "tableSort"),
                check("descending", tr("Largest first"), "tableDescending"),
                number("most_rows", tr("Rows at most"), 1, 10000, 0, {}, 1, "tableMost"),
                typeSize(),
                check("head", tr("Names of the columns")),
                check("lines", tr("Lines between rows"))};
    }
    Rows operator()(const doc::ChartItem& chart) const {
        Rows out{of(Kind::Layer, "layer", tr("Values of"), "chartLayer"),
                 choice("form", tr("Form"), {tr("Histogram"), tr("Bars")}, {"histogram", "bars"},
                        "chartForm"),
                 of(Kind::Formula, "field", tr("Field or formula"), "chartField")};
        if (chart.form == doc::ChartForm::Histogram) {
            out.push_back(number("bins", tr("Bins, about"), 2, 500, 0, {}, 1, "chartBins"));
        } else {
            out.push_back(of(Kind::Formula, "names", tr("Bars are called"), "chartNames"));
            out.push_back(number("most_bars", tr("Bars at most"), 1, 200, 0, {}, 1));
        }
        out.push_back(of(Kind::Line, "title", tr("Title"), "chartTitle"));
        out.push_back(typeSize());
        out.push_back(of(Kind::Colour, "colour", tr("Colour")));
        return out;
    }
    Rows operator()(const doc::UnknownItem&) const { return {}; }
};
}  // namespace

std::vector<MemberRow> contentMembers(const doc::SheetItem& item) {
    return std::visit(RowsOf{}, item.content);
}

std::vector<MemberRow> frameMembers() {
    return {number("frame_mm", tr("Frame"), 0, 20, 2, tr(" mm"), 0.05, "itemFrame"),
            of(Kind::Colour, "frame", tr("Its colour"), "itemFrameColour"),
            check("has_background", tr("Background"), "itemHasBackground"),
            of(Kind::Colour, "background", tr("Colour of the background"), "itemBackground"),
            number("padding_mm", tr("Padding"), 0, 100, 1, tr(" mm"), 0.5, "itemPadding"),
            number("corner_mm", tr("Round corners"), 0, 100, 1, tr(" mm"), 0.5, "itemCorner"),
            number("opacity", tr("Opacity"), 0, 1, 2, {}, 0.05, "itemOpacity"),
            number("turn", tr("Turned"), -360, 360, 1, "°", 5, "itemTurn")};
}

}  // namespace ledge::app
