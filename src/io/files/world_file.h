#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/geometry/affine.h"

namespace ledge::io {

/// The placement from the world file beside a picture (six lines: column step x, column step y, row
/// step x, row step y, centre of the first cell x, y): suffix with "w" (.pgw, .pngw …) or .wld.
/// Nothing when there is none; a note when it cannot be used.
std::optional<Affine> worldFileBeside(const std::filesystem::path& picture,
                                      std::vector<std::string>& notes);

/// The text of a world file.
std::string worldFileText(const Affine& toWorld);
/// Where it belongs beside a picture: .pgw for .png, .jgw for .jpg, .tfw for .tif.
std::filesystem::path worldFilePath(const std::filesystem::path& picture);

}  // namespace ledge::io
