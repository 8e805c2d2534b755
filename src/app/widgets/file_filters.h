#pragma once
#include <QString>

#include "io/registry.h"

/// What file dialogs offer, from the table of formats.
namespace ledge::app {

/// "Data and projects (*.ledge *.tif …);;All files (*)".
QString openFilter();
/// "GeoPackage (*.gpkg);;shapefile (*.shp)" of the formats that write a kind of data; `first` is
/// the suffix of the one that stands first.
QString saveFilter(io::Writes kind, const char* first);
/// "*.tif", … of what is read.
QStringList readablePatterns();

}  // namespace ledge::app
