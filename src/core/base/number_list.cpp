#include "core/base/number_list.h"

#include <cmath>
#include <sstream>

#include "core/base/numbers.h"

namespace ledge {

Result<std::vector<double>> parseNumbers(const std::string& text, char separator) {
    std::vector<double> out;
    std::stringstream in(text);
    for (std::string part; std::getline(in, part, separator);) {
        const auto number = parseNumber(part);
        if (!number || !std::isfinite(*number))
            return Error{ErrorCode::InvalidArgument, "\"" + text + "\"",
                         "\"" + part + "\" is no number",
                         std::string("separate numbers by '") + separator + "'"};
        out.push_back(*number);
    }
    return out;
}

}  // namespace ledge
