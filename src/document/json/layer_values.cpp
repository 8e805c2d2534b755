#include "document/json/values.h"

namespace ledge::doc::json {

LEDGE_VALUE(, Lineage);
LEDGE_VALUE(, EditLog);
LEDGE_VALUE(, SourceRef);
LEDGE_VALUE(, Layer);

}  // namespace ledge::doc::json
