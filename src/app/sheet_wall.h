#pragma once
#include <QImage>

#include "session/session.h"

namespace ledge::app {

/// All sheets of a project on one wall, as they are printed; of a series over features its second
/// page, of one over fields, layers or views all, beside each other. Null when one of them cannot be
/// drawn.
QImage sheetWall(const session::Session& session, int widthPx);

}  // namespace ledge::app
