#include "carto/tile_store.h"

#include <QPainter>
#include <algorithm>

namespace ledge::carto {
namespace {
constexpr int kSide = TileStore::kSide;

std::int64_t tileOf(std::int64_t pixel) {
    return pixel >= 0 ? pixel / kSide : -((-pixel + kSide - 1) / kSide);
}

bool isClear(const QImage& image) {
    for (int y = 0; y < image.height(); ++y) {
        const auto* row = reinterpret_cast<const QRgb*>(image.constScanLine(y));
        if (std::any_of(row, row + image.width(), [](QRgb pixel) { return pixel != 0; }))
            return false;
    }
    return true;
}

// One tile of a larger picture; null when there is nothing on it.
QImage cut(const QImage& from, int left, int top) {
    if (from.isNull()) return {};
    QImage out = from.copy(left, top, kSide, kSide);
    return isClear(out) ? QImage() : out;
}
}  // namespace

// Clear tiles have no pixels, but there may be millions of them.
std::size_t TileStore::bytesOf(const Tile& tile) {
    constexpr std::size_t kOfItself = sizeof(Tile) + sizeof(Place) + 4 * sizeof(void*);
    return static_cast<std::size_t>(tile.pictures.base.sizeInBytes() +
                                    tile.pictures.screen.sizeInBytes()) +
           kOfItself;
}

void TileStore::beginPicture(const std::set<doc::Id>& layers) {
    ++m_turn;
    for (auto it = m_sheets.begin(); it != m_sheets.end();)
        it = layers.contains(it->version.look.id) ? std::next(it) : drop(it);
    // What the last picture had too much of goes, and what was drawn first stays: the next picture
    // asks for it first.
    while (m_bytes > m_limit && m_sheets.size() > 1 && m_sheets.back().used + 1 < m_turn)
        drop(std::prev(m_sheets.end()));
    while (m_bytes > m_limit && m_sheets.size() > 1) drop(m_sheets.begin());
}

TileStore::Sheet& TileStore::sheet(const Version& version) {
    auto& ofLayer = m_byLayer[version.look.id];
    const auto it = std::find_if(ofLayer.begin(), ofLayer.end(),
                                 [&](const auto& s) { return s->version == version; });
    if (it == ofLayer.end()) {
        m_sheets.push_front({version, {}, m_turn});
        ofLayer.push_back(m_sheets.begin());
    } else {
        m_sheets.splice(m_sheets.begin(), m_sheets, *it);
    }
    m_sheets.front().used = m_turn;
    return m_sheets.front();
}

std::vector<PixelRect> TileStore::missing(const Version& version, const PixelRect& wanted) {
    Sheet& kept = sheet(version);
    struct Run {
        std::int64_t row, first, last, rows = 1;
    };
    std::vector<Run> runs, open;
    for (std::int64_t row = tileOf(wanted.top); row <= tileOf(wanted.bottom() - 1); ++row) {
        std::vector<Run> here;
        for (std::int64_t col = tileOf(wanted.left); col <= tileOf(wanted.right() - 1); ++col) {
            if (const auto it = kept.tiles.find({row, col}); it != kept.tiles.end()) {
                it->second.used = m_turn;
                continue;
            }
            if (!here.empty() && here.back().last == col - 1)
                here.back().last = col;
            else
                here.push_back({row, col, col});
        }
        // Runs alike in rows that follow each other are one rectangle.
        std::vector<Run> next;
        for (const Run& run : here) {
            const auto above = std::find_if(open.begin(), open.end(), [&](const Run& o) {
                return o.first == run.first && o.last == run.last;
            });
            next.push_back(run);
            if (above == open.end()) continue;
            next.back() = *above;
            ++next.back().rows;
            open.erase(above);
        }
        runs.insert(runs.end(), open.begin(), open.end());
        open = std::move(next);
    }
    runs.insert(runs.end(), open.begin(), open.end());
    std::vector<PixelRect> out;
    for (const Run& run : runs)
        out.push_back({run.first * kSide, run.row * kSide,
                       static_cast<int>((run.last - run.first + 1) * kSide),
                       static_cast<int>(run.rows * kSide)});
    return out;
}

void TileStore::put(const Version& version, const PixelRect& tiles, const LayerPictures& pictures) {
    Sheet& into = sheet(version);
    for (int top = 0; top < tiles.height; top += kSide)
        for (int left = 0; left < tiles.width; left += kSide) {
            const Place place{tileOf(tiles.top + top), tileOf(tiles.left + left)};
            Tile tile{{cut(pictures.base, left, top), cut(pictures.screen, left, top)}, m_turn};
            if (const auto old = into.tiles.find(place); old != into.tiles.end()) drop(into, old);
            m_bytes += bytesOf(tile);
            into.tiles.emplace(place, std::move(tile));
        }
    makeRoom();
}

LayerPictures TileStore::assembled(const Version& version, const PixelRect& wanted) {
    Sheet& kept = sheet(version);
    const auto blank = [&] {
        QImage image(wanted.width, wanted.height, QImage::Format_ARGB32_Premultiplied);
        image.fill(Qt::transparent);
        return image;
    };
    LayerPictures out{blank(), {}};
    const auto lay = [&](const QImage& tile, const Place& place, QImage& onto) {
        if (tile.isNull()) return;
        if (onto.isNull()) onto = blank();
        QPainter painter(&onto);
        painter.setCompositionMode(QPainter::CompositionMode_Source);
        painter.drawImage(QPointF(static_cast<double>(place.second * kSide - wanted.left),
                                  static_cast<double>(place.first * kSide - wanted.top)),
                          tile);
    };
    for (std::int64_t row = tileOf(wanted.top); row <= tileOf(wanted.bottom() - 1); ++row)
        for (std::int64_t col = tileOf(wanted.left); col <= tileOf(wanted.right() - 1); ++col) {
            const auto it = kept.tiles.find({row, col});
            if (it == kept.tiles.end()) continue;
            it->second.used = m_turn;
            lay(it->second.pictures.base, it->first, out.base);
            lay(it->second.pictures.screen, it->first, out.screen);
        }
    return out;
}

std::set<doc::Id> TileStore::layers() const {
    std::set<doc::Id> out;
    for (const Sheet& sheet : m_sheets) out.insert(sheet.version.look.id);
    return out;
}

void TileStore::drop(Sheet& sheet, std::map<Place, Tile>::iterator tile) {
    m_bytes -= bytesOf(tile->second);
    sheet.tiles.erase(tile);
}

TileStore::Sheets::iterator TileStore::drop(Sheets::iterator sheet) {
    for (const auto& [place, tile] : sheet->tiles) m_bytes -= bytesOf(tile);
    const auto ofLayer = m_byLayer.find(sheet->version.look.id);
    std::erase(ofLayer->second, sheet);
    if (ofLayer->second.empty()) m_byLayer.erase(ofLayer);
    return m_sheets.erase(sheet);
}

void TileStore::makeRoom() {
    // Whole drawings first, then what is out of view in those in use.
    while (m_bytes > m_limit && m_sheets.size() > 1 && m_sheets.back().used < m_turn)
        drop(std::prev(m_sheets.end()));
    if (m_bytes <= m_limit || m_searched == m_turn) return;
    for (Sheet& sheet : m_sheets)
        for (auto it = sheet.tiles.begin(); it != sheet.tiles.end() && m_bytes > m_limit;) {
            const auto tile = it++;
            if (tile->second.used < m_turn) drop(sheet, tile);
        }
    if (m_bytes > m_limit) m_searched = m_turn;
}

}  // namespace ledge::carto
