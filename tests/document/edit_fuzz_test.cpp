#include <QTest>
#include <random>
#include <set>

#include "document/change.h"
#include "document/edits/edit_table.h"
#include "document/edits/layer_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/json/project_json.h"
#include "document/kinds.h"

using namespace ledge;
using namespace ledge::doc;

namespace {
using Kind = EditArgument::Kind;

Document sample() {
    Document d;
    d.mapCrs = "EPSG:32629";
    SourceRef source;
    source.name = "DEM";
    source.path = "/data/dem.tif";
    auto [withDem, dem] = addSource(d, source);
    d = std::move(withDem);
    for (const char* name : {"Light", "Lines", "Tint"}) {
        Layer layer;
        layer.name = name;
        layer.source = dem;
        if (std::string(name) == "Light")
            layer.content = Hillshade{};
        else if (std::string(name) == "Lines")
            layer.content = Contours{};
        else
            layer.content = HeightTint{};
        d = addLayer(std::move(d), std::move(layer)).first;
    }
    d = groupLayers(std::move(d), {d.layers[0]->id}, "Group").first;
    d = saveView(std::move(d), "Bay", {{500000, 6800000}, 50000, 0}).first;
    d = addSheet(std::move(d), "A4", 297, 210, {{500000, 6800000}, 20000, 0}).first;
    return d;
}

// Words for an edit as a careless script would give them: mostly what fits, sometimes not.
class Words {
public:
    explicit Words(unsigned seed) : m_random(seed) {}

    const NamedEdit& edit() {
        const auto all = namedEdits();
        return all[m_random() % all.size()];
    }
    EditWords of(const Document& d, const NamedEdit& edit) {
        EditWords out;
        for (const EditArgument& a : edit.arguments)
            if (a.isRequired || chance(50)) out[std::string(a.name)] = word(d, a, out);
        if (chance(3)) out["surplus"] = "1";
        return out;
    }

private:
    bool chance(int percent) { return static_cast<int>(m_random() % 100) < percent; }
    template <typename T>
    const T& one(const std::vector<T>& of) {
        return of[m_random() % of.size()];
    }
    std::string number(double low, double high) {
        if (chance(4)) return one<std::string>({"nan", "", "1e999", "-0", "12 apples"});
        if (low < -1e6) low = -1e6;
        if (high > 1e6) high = 1e6;
        return std::to_string(std::uniform_real_distribution(low, std::max(low, high))(m_random));
    }
    std::string text() {
        return one<std::string>({"", "A4", "Light", "style.interval", "opacity", "style", "{}",
                                 "{\"a\":", "[1,2]", "7", "yes", "ÅÄÖ \"quoted\"",
                                 std::string(300, 'x')});
    }
    std::string target(const Document& d, Kind kind, const EditWords& given) {
        if (chance(5)) return "#999999";
        std::vector<std::string> all{"#0"};
        const auto add = [&all](Id id) { all.push_back("#" + std::to_string(id)); };
        switch (kind) {
        case Kind::Layer:
        case Kind::Layers:
        case Kind::Group:
            for (const LayerPtr& layer : allLayers(d.layers)) add(layer->id);
            break;
        case Kind::Source:
        case Kind::Sources:
            for (const SourceRef& s : d.sources) add(s.id);
            break;
        case Kind::View:
            for (const SavedView& v : d.views) add(v.id);
            break;
        case Kind::Profile:
            for (const SavedProfile& p : d.profiles) add(p.id);
            break;
        case Kind::Sheet:
            for (const Sheet& s : d.sheets) add(s.id);
            break;
        case Kind::Item: {
            const auto sheet = given.find("sheet");
            for (const Sheet& s : d.sheets)
                if (sheet != given.end() && sheet->second == "#" + std::to_string(s.id))
                    for (const SheetItem& item : s.items) add(item.id);
            break;
        }
        default: break;
        }
        return all.size() > 1 && chance(95) ? all[1 + m_random() % (all.size() - 1)] : all[0];
    }
    std::string word(const Document& d, const EditArgument& a, const EditWords& given) {
        switch (a.kind) {
        case Kind::Text: return text();
        case Kind::Number: return number(a.low, a.high);
        case Kind::Yes: return one<std::string>({"yes", "no", "no", "yes", "perhaps"});
        case Kind::Choice:
            return chance(95) ? std::string(one(a.choices)) : std::string("none of these");
        case Kind::Numbers: {
            std::string out;
            for (std::size_t i = 1 + m_random() % 6; i > 0; --i)
                out += (out.empty() ? "" : ",") + number(-1e5, 1e5);
            return out;
        }
        case Kind::Crs: return one<std::string>({"EPSG:3035", "EPSG:32628", "", "EPSG:1", "moon"});
        default: return target(d, a.kind, given);
        }
    }

    std::mt19937 m_random;
};

// What holds for every project, whatever was done to it.
QString fault(const Document& d) {
    std::set<Id> ids;
    const auto isNew = [&ids](Id id) { return id != 0 && ids.insert(id).second; };
    for (const SourceRef& s : d.sources)
        if (!isNew(s.id)) return "a source shares its id";
    for (const LayerPtr& layer : allLayers(d.layers)) {
        if (!isNew(layer->id)) return "a layer shares its id";
        if (!(layer->opacity >= 0 && layer->opacity <= 1)) return "an opacity out of range";
        if (kindInfo(*layer).needsSource && !d.source(layer->source)) return "a source is missing";
        if (const auto* shade = layer->as<Hillshade>())
            if (shade->style.lights.empty()) return "a hillshade without light";
    }
    for (const SavedView& v : d.views)
        if (!isNew(v.id)) return "a view shares its id";
    for (const SavedProfile& p : d.profiles)
        if (!isNew(p.id)) return "a profile shares its id";
    for (const Sheet& sheet : d.sheets) {
        if (!isNew(sheet.id)) return "a sheet shares its id";
        if (!(sheet.widthMm > 0 && sheet.heightMm > 0)) return "a page without size";
        for (const SheetItem& item : sheet.items) {
            if (!isNew(item.id)) return "an item shares its id";
            if (!std::isfinite(item.rect.left + item.rect.top + item.rect.width + item.rect.height))
                return "an item nowhere";
        }
    }
    return {};
}
}  // namespace

/// Thousands of random edits: each is done or refused in words, and the project stays whole.
class EditFuzzTest : public QObject {
    Q_OBJECT

private slots:
    void keepsTheProjectWhole_data() {
        QTest::addColumn<int>("seed");
        for (int seed = 0; seed < 24; ++seed)
            QTest::newRow(qPrintable(QString("seed %1").arg(seed))) << seed;
    }
    void keepsTheProjectWhole() {
        QFETCH(int, seed);
        Words words(static_cast<unsigned>(seed));
        Document d = sample();
        int done = 0, refused = 0;
        for (int step = 0; step < 250; ++step) {
            if (d.layers.empty() || d.sheets.empty()) d = sample();
            const NamedEdit& edit = words.edit();
            const EditWords given = words.of(d, edit);
            const auto next = applied(d, edit.name, given);
            if (!next) {
                ++refused;
                QVERIFY(!next.error().text().empty());
                continue;
            }
            ++done;
            const QString what = QString("step %1: %2")
                                     .arg(step)
                                     .arg(QString::fromStdString(std::string(edit.name)));
            QVERIFY2(fault(next->document).isEmpty(),
                     qPrintable(what + ", " + fault(next->document)));
            // What is said of the change is what there is: nothing said, nothing changed.
            const Change change = changeBetween(d, next->document);
            if (change.isNothing())
                QVERIFY2(next->document.layers == d.layers || next->document == d,
                         qPrintable(what));
            // It survives its file.
            if (step % 10 == 0) {
                const auto read = projectFromText(projectText(next->document, "/data"), "/data");
                QVERIFY2(read.has_value(), qPrintable(what));
                QVERIFY2(*read == next->document, qPrintable(what));
            }
            d = next->document;
        }
        QVERIFY2(done > 60, qPrintable(QString("%1 done, %2 refused").arg(done).arg(refused)));
        QVERIFY(refused > 10);
    }

    // The documents of an undo list share what did not change, so that it can be endless.
    void sharesAlongALongHistory() {
        Words words(99);
        std::vector<Document> history{sample()};
        for (int step = 0; step < 400; ++step) {
            const NamedEdit& edit = words.edit();
            if (std::string_view(edit.name).ends_with("-remove")) continue;
            const auto next = applied(history.back(), edit.name, words.of(history.back(), edit));
            if (next) history.push_back(next->document);
        }
        QVERIFY(history.size() > 100);
        std::size_t pairs = 0, shared = 0;
        for (std::size_t i = 1; i < history.size(); ++i) {
            const auto& a = history[i - 1].sheets;
            const auto& b = history[i].sheets;
            for (std::size_t k = 0; k < std::min(a.size(), b.size()); ++k) {
                ++pairs;
                shared += a[k].isSameAs(b[k]) ? 1U : 0U;
            }
        }
        QVERIFY2(shared * 10 > pairs * 6, qPrintable(QString("%1 of %2").arg(shared).arg(pairs)));
    }
};

QTEST_GUILESS_MAIN(EditFuzzTest)
#include "edit_fuzz_test.moc"
