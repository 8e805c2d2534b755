#pragma once
#include <QString>
#include <string_view>

#include "core/base/numbers.h"

namespace ledge {

/// A text of the core, which is UTF-8, for what Qt shows.
inline QString qtext(std::string_view text) {
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}
/// How many, in groups of three digits.
inline QString counted(std::size_t count) {
    return qtext(formatNumber(static_cast<double>(count)));
}

}  // namespace ledge
