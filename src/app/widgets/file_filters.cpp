#include "app/widgets/file_filters.h"

#include <QCoreApplication>
#include <QStringList>

namespace ledge::app {

QStringList readablePatterns() {
    QStringList out;
    for (const std::string& suffix : io::suffixes()) out << "*" + QString::fromStdString(suffix);
    return out;
}

QString openFilter() {
    return QCoreApplication::translate("FileFilters",
                                       "Data and projects (*.ledge %1);;All files (*)")
        .arg(readablePatterns().join(' '));
}

QString saveFilter(io::Writes kind, const char* first) {
    QStringList out;
    for (const io::Format& format : io::formats()) {
        if (kind == io::Writes::Tables ? !format.writeTable : !format.writeRaster) continue;
        const auto usual = format.suffixes.front();
        QString name = QString::fromUtf8(format.name.data(), qsizetype(format.name.size()));
        name[0] = name[0].toUpper();
        const QString one =
            QString("%1 (*%2)").arg(name, QString::fromUtf8(usual.data(), qsizetype(usual.size())));
        if (usual == first)
            out.prepend(one);
        else
            out << one;
    }
    return out.join(";;");
}

}  // namespace ledge::app
