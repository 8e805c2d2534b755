#pragma once
#include <span>
#include <string_view>

#include "core/crs/projection.h"

namespace ledge::crs {

enum class ParameterKind { Angle, Longitude, Length, Ratio };

/// One parameter of a method: where it is kept and what the standards call it.
struct ParameterInfo {
    double ProjectionParameters::*field;
    ParameterKind kind;
    const char* name;  ///< of the EPSG dataset and WKT2
    int epsg;          ///< parameter code, 0 when it has none
    const char* wkt1;  ///< name in OGC 01-009 texts
};

/// One method: its names and its parameters in their customary order.
struct MethodInfo {
    Method method;
    const char* name;  ///< of the EPSG dataset, or of the literature
    int epsg;          ///< method code, 0 when it has none
    const char* wkt1;
    std::span<const ParameterInfo> parameters;
    bool isConformal = false, isEqualArea = false;
    /// Methods whose grids count westings and southings.
    bool isWestward = false, isSouthward = false;
};

/// Every method but None.
std::span<const MethodInfo> methods();
/// Null for None.
const MethodInfo* methodInfo(Method method);
/// A method from any of its names, compared by letters and digits only; also from `EPSG` numbers.
/// `parameterNames` (normalised) tells apart what some dialects call by one name.
/// None when it is not known.
Method methodFromName(std::string_view name, std::span<const std::string> parameterNames);

/// Where a parameter of any standard's or dialect's name belongs; null when it is not known.
double ProjectionParameters::*fieldFromName(std::string_view normalisedName);
double ProjectionParameters::*fieldFromEpsg(int parameterCode);

/// Letters and digits of a name, lower case: how names are compared.
std::string normalisedName(std::string_view name);

}  // namespace ledge::crs
