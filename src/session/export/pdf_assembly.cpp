#include "session/export/pdf_assembly.h"

#include <QColorSpace>
#include <QDateTime>
#include <map>
#define POINTERHOLDER_TRANSITION 4
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

#include "core/base/numbers.h"

namespace ledge::session {
namespace {
using Handle = QPDFObjectHandle;

std::string real(double v) {
    // The sign that people read is no sign to a PDF.
    std::string out = exactNumber(std::round(v * 1e8) / 1e8);
    return out.find('e') == std::string::npos ? out : QString::number(v, 'f', 8).toStdString();
}

Handle textOf(const QString& text) { return Handle::newUnicodeString(text.toStdString()); }

// ISO 32000-2, 11.3.5.
const char* nameOf(doc::Blend blend) {
    switch (blend) {
    case doc::Blend::Normal: return "/Normal";
    case doc::Blend::Multiply: return "/Multiply";
    case doc::Blend::Screen: return "/Screen";
    case doc::Blend::Overlay: return "/Overlay";
    case doc::Blend::SoftLight: return "/SoftLight";
    }
    return "/Normal";
}

Handle rectangle(double left, double low, double right, double top) {
    Handle out = Handle::newArray();
    for (const double v : {left, low, right, top}) out.appendItem(Handle::newReal(real(v)));
    return out;
}

// A painted page as a form. Its stream becomes the form's as it is: reading it would inflate and
// deflate all that was painted once more.
Handle formOf(QPDFPageObjectHelper& page) {
    Handle contents = page.getObjectHandle().getKey("/Contents");
    if (!contents.isStream()) return page.getFormXObjectForPage(true);
    Handle dict = contents.getDict();
    dict.replaceKey("/Type", Handle::newName("/XObject"));
    dict.replaceKey("/Subtype", Handle::newName("/Form"));
    dict.replaceKey("/BBox", page.getMediaBox());
    dict.replaceKey("/Resources", page.getAttribute("/Resources", false));
    return contents;
}

class Assembly {
public:
    Assembly(QPDF& pdf, const PdfFacts& facts) : m_pdf(pdf), m_facts(facts) {}

    void addPage(const PdfPage& page, std::vector<QPDFPageObjectHelper>& raw, std::size_t first) {
        Handle forms = Handle::newDictionary(), properties = Handle::newDictionary(),
               states = Handle::newDictionary();
        std::string content;
        for (std::size_t i = 0; i < page.parts.size(); ++i) {
            QPDFPageObjectHelper& painted = raw[first + i];
            const std::string name = "/P" + std::to_string(i);
            Handle form = formOf(painted);
            forms.replaceKey(name, form);
            std::string state;
            const auto& [layerName, opacity, blend] = page.parts[i];
            if (opacity < 1 || blend != doc::Blend::Normal) {
                // As a whole: where features lie over each other it is no darker.
                form.getDict().replaceKey("/Group", Handle::parse("<< /S /Transparency >>"));
                const std::string key = "/O" + std::to_string(i);
                Handle made = Handle::newDictionary();
                for (const char* of : {"/ca", "/CA"})
                    made.replaceKey(of, Handle::newReal(real(opacity)));
                made.replaceKey("/BM", Handle::newName(nameOf(blend)));
                states.replaceKey(key, made);
                state = key + " gs ";
            }
            const auto box = painted.getMediaBox().getArrayAsRectangle();
            // Painted pages have whole points and hang from their upper edge.
            const std::string draw = "q " + state + "1 0 0 1 " + real(-page.bleedPt) + " " +
                                     real(page.heightPt + page.bleedPt - box.ury) + " cm " + name +
                                     " Do Q\n";
            if (layerName.isEmpty()) {
                content += draw;
                continue;
            }
            const std::string key = "/L" + std::to_string(i);
            properties.replaceKey(key, layer(layerName));
            content += "/OC " + key + " BDC\n" + draw + "EMC\n";
        }
        Handle resources = Handle::newDictionary();
        resources.replaceKey("/XObject", forms);
        resources.replaceKey("/Properties", properties);
        resources.replaceKey("/ExtGState", states);
        Handle made = Handle::newDictionary();
        made.replaceKey("/Type", Handle::newName("/Page"));
        const double bleed = page.bleedPt;
        made.replaceKey("/MediaBox",
                        rectangle(-bleed, -bleed, page.widthPt + bleed, page.heightPt + bleed));
        made.replaceKey("/TrimBox", rectangle(0, 0, page.widthPt, page.heightPt));
        if (bleed > 0) made.replaceKey("/BleedBox", made.getKey("/MediaBox"));
        made.replaceKey("/Resources", resources);
        made.replaceKey("/Contents", m_pdf.newStream(content));
        // What is see-through blends in the colours of the screen.
        made.replaceKey("/Group", Handle::parse("<< /S /Transparency /CS /DeviceRGB /I true >>"));
        if (!page.viewports.empty()) made.replaceKey("/VP", viewports(page));
        m_pages.push_back(m_pdf.makeIndirectObject(made));
    }

    void finish() {
        Handle root = m_pdf.getRoot();
        // A tree of the pages made takes the place of that of the painted ones: taking those out
        // one by one would go through all of them each time.
        Handle tree = m_pdf.makeIndirectObject(Handle::newDictionary());
        for (Handle& page : m_pages) page.replaceKey("/Parent", tree);
        tree.replaceKey("/Type", Handle::newName("/Pages"));
        tree.replaceKey("/Kids", Handle::newArray(m_pages));
        tree.replaceKey("/Count", Handle::newInteger(static_cast<long long>(m_pages.size())));
        root.replaceKey("/Pages", tree);
        m_pdf.updateAllPagesCache();
        if (!m_layers.empty()) {
            Handle all = Handle::newArray();
            for (const Handle& one : m_order) all.appendItem(one);
            Handle shown = Handle::newDictionary();
            shown.replaceKey("/Name", textOf(QStringLiteral("Layers")));
            shown.replaceKey("/Order", all);
            shown.replaceKey("/ON", all);
            Handle properties = Handle::newDictionary();
            properties.replaceKey("/OCGs", all);
            properties.replaceKey("/D", shown);
            root.replaceKey("/OCProperties", properties);
        }
        Handle info = m_pdf.makeIndirectObject(Handle::newDictionary());
        info.replaceKey("/Title", textOf(m_facts.title));
        if (!m_facts.author.isEmpty()) info.replaceKey("/Author", textOf(m_facts.author));
        if (!m_facts.subject.isEmpty()) info.replaceKey("/Subject", textOf(m_facts.subject));
        info.replaceKey("/Creator", textOf(QStringLiteral("Indigo Ledge")));
        info.replaceKey("/Producer", textOf(QStringLiteral("Indigo Ledge")));
        const QDateTime now = QDateTime::currentDateTimeUtc();
        info.replaceKey(
            "/CreationDate",
            Handle::newString("D:" + now.toString("yyyyMMddhhmmss").toStdString() + "Z"));
        m_pdf.getTrailer().replaceKey("/Info", info);
        root.replaceKey("/Metadata", metadata(now));
        if (m_facts.isArchival) makeArchival(root);
    }

private:
    // Of one name there is one.
    Handle layer(const QString& name) {
        auto& known = m_layers[name];
        if (!known.isInitialized()) {
            Handle made = Handle::newDictionary();
            made.replaceKey("/Type", Handle::newName("/OCG"));
            made.replaceKey("/Name", textOf(name));
            known = m_pdf.makeIndirectObject(made);
            // As a stack of layers is read: the topmost first.
            m_order.insert(m_order.begin(), known);
        }
        return known;
    }

    Handle viewports(const PdfPage& page) {
        Handle out = Handle::newArray();
        for (const PdfViewport& view : page.viewports) {
            Handle gcs = Handle::newDictionary();
            gcs.replaceKey("/Type", Handle::newName(view.isGeographic ? "/GEOGCS" : "/PROJCS"));
            if (view.epsg > 0) gcs.replaceKey("/EPSG", Handle::newInteger(view.epsg));
            if (!view.wkt.empty()) gcs.replaceKey("/WKT", Handle::newString(view.wkt));
            Handle places = Handle::newArray();
            for (const auto& [latitude, longitude] : view.corners) {
                places.appendItem(Handle::newReal(real(latitude)));
                places.appendItem(Handle::newReal(real(longitude)));
            }
            Handle measure = Handle::newDictionary();
            measure.replaceKey("/Type", Handle::newName("/Measure"));
            measure.replaceKey("/Subtype", Handle::newName("/GEO"));
            measure.replaceKey("/Bounds", Handle::parse("[0 0 0 1 1 1 1 0]"));
            measure.replaceKey("/LPTS", Handle::parse("[0 0 0 1 1 1 1 0]"));
            measure.replaceKey("/GPTS", places);
            measure.replaceKey("/GCS", m_pdf.makeIndirectObject(gcs));
            Handle port = Handle::newDictionary();
            port.replaceKey("/Type", Handle::newName("/Viewport"));
            port.replaceKey("/Name", textOf(view.name));
            const QRectF& b = view.box;
            port.replaceKey("/BBox", rectangle(b.left(), b.top(), b.right(), b.bottom()));
            port.replaceKey("/Measure", m_pdf.makeIndirectObject(measure));
            out.appendItem(m_pdf.makeIndirectObject(port));
        }
        return out;
    }

    Handle metadata(const QDateTime& now) {
        const auto plain = [](const QString& text) { return text.toHtmlEscaped(); };
        const QString date = now.toString("yyyy-MM-ddThh:mm:ssZ");
        QString xmp = QStringLiteral(
            "<?xpacket begin=\"\xEF\xBB\xBF\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?>\n"
            "<x:xmpmeta xmlns:x=\"adobe:ns:meta/\">\n"
            "<rdf:RDF xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\">\n"
            "<rdf:Description rdf:about=\"\" xmlns:dc=\"http://purl.org/dc/elements/1.1/\"\n"
            " xmlns:xmp=\"http://ns.adobe.com/xap/1.0/\" "
            "xmlns:pdf=\"http://ns.adobe.com/pdf/1.3/\"\n"
            " xmlns:pdfaid=\"http://www.aiim.org/pdfa/ns/id/\">\n");
        xmp += QString("<dc:title><rdf:Alt><rdf:li "
                       "xml:lang=\"x-default\">%1</rdf:li></rdf:Alt></dc:title>\n")
                   .arg(plain(m_facts.title));
        if (!m_facts.author.isEmpty())
            xmp += QString("<dc:creator><rdf:Seq><rdf:li>%1</rdf:li></rdf:Seq></dc:creator>\n")
                       .arg(plain(m_facts.author));
        if (!m_facts.subject.isEmpty())
            xmp += QString("<dc:description><rdf:Alt><rdf:li "
                           "xml:lang=\"x-default\">%1</rdf:li></rdf:Alt></dc:description>\n")
                       .arg(plain(m_facts.subject));
        xmp += QString("<xmp:CreatorTool>Indigo "
                       "Ledge</xmp:CreatorTool>\n<xmp:CreateDate>%1</"
                       "xmp:CreateDate>\n<pdf:Producer>Indigo Ledge</pdf:Producer>\n")
                   .arg(date);
        if (m_facts.isArchival)
            xmp += QStringLiteral(
                "<pdfaid:part>2</pdfaid:part>\n<pdfaid:conformance>B</pdfaid:conformance>\n");
        xmp +=
            QStringLiteral("</rdf:Description>\n</rdf:RDF>\n</x:xmpmeta>\n<?xpacket end=\"w\"?>\n");
        Handle out = m_pdf.newStream(xmp.toUtf8().toStdString());
        out.getDict().replaceKey("/Type", Handle::newName("/Metadata"));
        out.getDict().replaceKey("/Subtype", Handle::newName("/XML"));
        return out;
    }

    void makeArchival(Handle root) {
        const QByteArray profile = QColorSpace(QColorSpace::SRgb).iccProfile();
        Handle colours = m_pdf.newStream(profile.toStdString());
        colours.getDict().replaceKey("/N", Handle::newInteger(3));
        Handle intent = Handle::newDictionary();
        intent.replaceKey("/Type", Handle::newName("/OutputIntent"));
        intent.replaceKey("/S", Handle::newName("/GTS_PDFA1"));
        intent.replaceKey("/OutputConditionIdentifier", Handle::newString("sRGB IEC61966-2.1"));
        intent.replaceKey("/DestOutputProfile", colours);
        Handle intents = Handle::newArray();
        intents.appendItem(m_pdf.makeIndirectObject(intent));
        root.replaceKey("/OutputIntents", intents);
        for (Handle object : m_pdf.getAllObjects())
            if (object.isStream() && object.getDict().hasKey("/Interpolate"))
                object.getDict().removeKey("/Interpolate");
    }

    QPDF& m_pdf;
    const PdfFacts& m_facts;
    std::map<QString, Handle> m_layers;
    std::vector<Handle> m_order, m_pages;
};
}  // namespace

Result<void> assemblePdf(const std::filesystem::path& raw, const std::filesystem::path& out,
                         const std::vector<PdfPage>& pages, const PdfFacts& facts,
                         PdfPictures& pictures, const Progress& progress) {
    try {
        QPDF pdf;
        pdf.setSuppressWarnings(true);
        pdf.processFile(raw.c_str());
        QPDFPageDocumentHelper document(pdf);
        std::vector<QPDFPageObjectHelper> painted = document.getAllPages();
        std::size_t wanted = 0;
        for (const PdfPage& page : pages) wanted += page.parts.size();
        if (painted.size() != wanted)
            return Error{ErrorCode::IoFailure, out.string(), "has another number of painted parts",
                         "export it as a picture"};
        Assembly assembly(pdf, facts);
        std::size_t first = 0;
        for (const PdfPage& page : pages) {
            if (progress.stopped()) return cancelled("exporting");
            assembly.addPage(page, painted, first);
            first += page.parts.size();
        }
        if (const auto done = pictures.putInto(pdf); !done) return done;
        assembly.finish();
        QPDFWriter writer(pdf, out.c_str());
        writer.setMinimumPDFVersion("1.7");
        writer.setStreamDataMode(qpdf_s_compress);
        writer.write();
        return {};
    } catch (const std::exception& problem) {
        return Error{ErrorCode::IoFailure, out.string(),
                     std::string("could not be written: ") + problem.what(),
                     "check that the folder can be written and has room"};
    }
}

}  // namespace ledge::session
