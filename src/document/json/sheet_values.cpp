#include "document/json/values.h"

namespace ledge::doc::json {

LEDGE_VALUE(, SheetItem);
LEDGE_VALUE(, Sheet);

}  // namespace ledge::doc::json
