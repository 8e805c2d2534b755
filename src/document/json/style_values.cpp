#include "document/json/values.h"

namespace ledge::doc::json {

LEDGE_VALUE(, Look);
LEDGE_VALUE(, VectorStyle);
LEDGE_VALUE(, LabelStyle);
LEDGE_VALUE(, RasterStyle);
LEDGE_VALUE(, HillshadeStyle);
LEDGE_VALUE(, ContourStyle);
LEDGE_VALUE(, GridStyle);

}  // namespace ledge::doc::json
