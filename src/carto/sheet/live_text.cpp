#include "carto/sheet/live_text.h"

#include <QDate>
#include <QLocale>
#include <QObject>
#include <QRegularExpression>

#include "carto/qtext.h"
#include "carto/sheet/panel_frame.h"
#include "carto/sheet_painter.h"
#include "core/base/numbers.h"
#include "core/query/row_values.h"
#include "document/map_crs.h"
#include "document/panels.h"

namespace ledge::carto {
namespace {

class Filler {
public:
    Filler(const doc::Document& document, const doc::Sheet& sheet, const LivePage& page)
        : m_document(document), m_sheet(sheet), m_page(page) {}

    /// Nothing for what is not known.
    std::optional<QString> value(const QString& said) const {
        if (const auto colon = said.indexOf(':'); colon > 0)
            return ofOne(said.left(colon).trimmed(), said.mid(colon + 1).trimmed());
        if (said == "project") return qtext(m_document.name);
        if (said == "author") return qtext(m_document.author);
        if (said == "sheet") return qtext(m_sheet.name);
        if (said == "page") return QString::number(m_page.number);
        if (said == "pages") return QString::number(m_page.count);
        if (said == "page name") return m_page.name;
        if (said == "neighbours") return m_page.neighbours.join(", ");
        if (said == "date")
            return QLocale(QLocale::English).toString(QDate::currentDate(), "d MMMM yyyy");
        if (said == "credits") return gatheredCredits(m_document, m_sheet).join(" · ");
        return ofPanel(m_sheet.panel(0), said);
    }

private:
    std::optional<QString> ofOne(const QString& name, const QString& said) const {
        if (name == "feature") return ofFeature(said);
        for (const doc::SheetItem& item : m_sheet.items)
            if (qtext(item.name) == name && item.as<doc::MapPanel>()) return ofPanel(&item, said);
        return {};
    }
    std::optional<QString> ofPanel(const doc::SheetItem* item, const QString& said) const {
        if (said == "crs") {
            const auto* panel = item ? item->as<doc::MapPanel>() : nullptr;
            const auto crs =
                crs::parseCrs(panel ? doc::resolved(m_document, *panel).crs : m_document.mapCrs);
            return crs && *crs ? qtext((*crs)->name) : QObject::tr("local coordinates");
        }
        if (!item) return {};
        const MapFrame frame = panelFrame(m_document, *item, 96 / 25.4);
        if (said == "scale") return qtext(frame.scaleText());
        if (said == "rotation")
            return QString("%1°").arg(std::remainder(frame.view.rotation, 360.0), 0, 'g', 4);
        return {};
    }
    std::optional<QString> ofFeature(const QString& formula) const {
        if (!m_page.table) return QStringLiteral("–");
        auto values = query::RowValues::of(formula.toStdString(), *m_page.table);
        if (!values) return "[" + qtext(values.error().why) + "]";
        const Value value = values->value(m_page.row);
        if (isMissing(value)) return QStringLiteral("–");
        const auto* number = std::get_if<double>(&value);
        return qtext(number ? formatNumber(*number) : displayText(value));
    }

    const doc::Document& m_document;
    const doc::Sheet& m_sheet;
    const LivePage& m_page;
};
}  // namespace

QString liveText(const std::string& said, const doc::Document& document, const doc::Sheet& sheet,
                 const LivePage& page) {
    static const QRegularExpression braces(QStringLiteral("\\{([^{}]+)\\}"));
    const Filler filler(document, sheet, page);
    const QString from = qtext(said);
    QString out;
    qsizetype done = 0;
    for (auto found = braces.globalMatch(from); found.hasNext();) {
        const auto one = found.next();
        out += from.mid(done, one.capturedStart() - done);
        out += filler.value(one.captured(1)).value_or(one.captured(0));
        done = one.capturedEnd();
    }
    return out + from.mid(done);
}

const std::vector<std::pair<const char*, const char*>>& liveNames() {
    static const std::vector<std::pair<const char*, const char*>> names{
        {"project", QT_TRANSLATE_NOOP("ledge", "the project's name")},
        {"author", QT_TRANSLATE_NOOP("ledge", "who made it, as the project says")},
        {"sheet", QT_TRANSLATE_NOOP("ledge", "the sheet's name")},
        {"scale", QT_TRANSLATE_NOOP("ledge", "the panel's scale")},
        {"crs", QT_TRANSLATE_NOOP("ledge", "the panel's CRS")},
        {"rotation", QT_TRANSLATE_NOOP("ledge", "how far the panel is turned")},
        {"date", QT_TRANSLATE_NOOP("ledge", "today")},
        {"credits", QT_TRANSLATE_NOOP("ledge", "credits of the sources drawn")},
        {"page", QT_TRANSLATE_NOOP("ledge", "the page's number in a series")},
        {"pages", QT_TRANSLATE_NOOP("ledge", "how many pages there are")},
        {"page name", QT_TRANSLATE_NOOP("ledge", "what the page is of")},
        {"neighbours", QT_TRANSLATE_NOOP("ledge", "what lies beside the page's feature")}};
    return names;
}

}  // namespace ledge::carto
