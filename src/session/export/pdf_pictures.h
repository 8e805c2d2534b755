#pragma once
#include <QPainter>
#include <QRectF>
#include <filesystem>
#include <fstream>
#include <vector>

#include "core/base/result.h"

class QPDF;

namespace ledge::session {

/// Large pictures of a PDF, deflated on all cores as they come and kept in a file until the pages
/// are put together. The painter of PDF, which deflates on one core, gets a mark of a few pixels in
/// the place of each.
class PdfPictures {
public:
    /// `file` is there to be written into; `named` is what failures speak of.
    PdfPictures(const std::filesystem::path& file, std::filesystem::path named);

    /// Paints the mark of an opaque picture. Errors: IoFailure.
    Result<void> paint(QPainter& painter, const QRectF& at, const QImage& image);
    /// Puts the pictures in the place of their marks; the file is read when the PDF is written.
    /// Errors: IoFailure.
    Result<void> putInto(QPDF& pdf);

private:
    struct Kept {
        int width = 0, height = 0;
        std::uintmax_t from = 0, bytes = 0;
    };
    Result<void> failure() const;

    std::filesystem::path m_path, m_named;
    std::ofstream m_file;
    std::vector<Kept> m_kept;
};

}  // namespace ledge::session
