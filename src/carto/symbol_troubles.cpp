#include "carto/symbol_troubles.h"

#include <set>

#include <QObject>

#include "carto/own_marks.h"

namespace ledge::carto {
namespace {
class Collector {
public:
    void look(const doc::Look& look) {
        if (!look.markPicture.empty())
            drawing(look.markPicture, QObject::tr("an own mark: %1; the plain mark stands in"));
        else if (!look.markText.empty())
            font(look.markFont, QObject::tr("its marks"));
        if (look.pattern == doc::Pattern::Pictures)
            drawing(look.patternPicture, QObject::tr("an own pattern: %1; it is left out"));
    }
    void font(const std::string& family, const QString& of) {
        if (!m_met.insert("font " + family).second || hasFont(family)) return;
        say(QObject::tr("the font %1 of %2 is not on this computer; another stands in")
                .arg(QString::fromStdString(family), of));
    }
    std::vector<std::string> said;

private:
    void drawing(const std::string& svg, const QString& what) {
        if (!m_met.insert("drawing " + svg).second) return;
        if (const QString why = drawingTrouble(svg); !why.isEmpty()) say(what.arg(why));
    }
    void say(const QString& what) { said.push_back(what.toStdString()); }

    std::set<std::string> m_met;
};
}  // namespace

std::vector<std::string> symbolTroubles(const doc::VectorLayer& layer) {
    Collector out;
    const doc::VectorStyle& style = layer.style;
    const auto all = [&out](const auto& list) {
        for (const auto& one : list) out.look(one.look);
    };
    out.look(style.look);
    switch (style.classing) {
    case doc::Classing::Categories: all(style.categories); break;
    case doc::Classing::Classes: all(style.classes.classes); break;
    case doc::Classing::Rules: all(style.rules); break;
    case doc::Classing::Single:
    case doc::Classing::Ramp:
    case doc::Classing::Sized:
    case doc::Classing::Dots: break;
    }
    if (style.classing != doc::Classing::Single) {
        out.look(style.missing);
        out.look(style.others);
    }
    for (const doc::LabelStyle& labels : layer.labels)
        if (labels.isOn) out.font(labels.font, QObject::tr("its labels"));
    return std::move(out.said);
}

}  // namespace ledge::carto
