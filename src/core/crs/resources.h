#pragma once
#include <string_view>

namespace ledge::crs {

/// assets/crs/definitions.txt, as scripts/crs-definitions writes it.
std::string_view definitionsTable();
/// assets/crs/datum-operations.csv: reviewed operations between geographic CRSs.
std::string_view datumOperationsTable();

}  // namespace ledge::crs
