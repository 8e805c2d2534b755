#pragma once
#include <QString>
#include <string>

namespace ledge {

/// A text of the core, which is UTF-8, for what Qt shows.
inline QString qtext(const std::string& text) { return QString::fromStdString(text); }

}  // namespace ledge
