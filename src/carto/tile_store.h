#pragma once
#include <QImage>
#include <list>
#include <map>
#include <set>
#include <unordered_map>

#include "carto/lattice.h"

namespace ledge::carto {

/// What a layer looks like on some pixels.
struct LayerPictures {
    QImage base, screen;  ///< `screen` only for shades laid over colour; null where all is clear
};

/// Tiles of layers that were drawn, by everything that tells one drawing from another, so that a
/// pan draws only what came into view and undo draws nothing. Bounded: when the pictures pass the
/// limit, what was longest not asked for goes first, and never what the map shows now.
class TileStore {
public:
    static constexpr int kSide = 128;  ///< pixels of a tile

    /// What a tile is a drawing of.
    struct Version {
        doc::Layer look;  ///< without what is applied when its picture is laid down
        doc::SourceRef source;
        std::uint64_t data = 0;  ///< see DrawingData::version
        Lattice lattice;
        bool operator==(const Version&) const = default;
    };

    explicit TileStore(std::size_t limit = std::size_t{192} << 20) : m_limit(limit) {}

    /// A new picture of the map begins: what the last one showed may be forgotten.
    void beginPicture(const std::set<doc::Id>& layers);
    /// Pixels of `wanted` that are not there, as few rectangles of whole tiles.
    std::vector<PixelRect> missing(const Version& version, const PixelRect& wanted);
    /// Keeps a drawing of whole tiles.
    void put(const Version& version, const PixelRect& tiles, const LayerPictures& pictures);
    /// The pixels of `wanted` put together; clear where there is nothing.
    LayerPictures assembled(const Version& version, const PixelRect& wanted);

    std::size_t bytes() const { return m_bytes; }
    /// All there is belongs to the picture that is being drawn, and there is no room for more.
    bool isFull() const { return m_bytes > m_limit && m_searched == m_turn; }
    /// Layers with pictures here, for tests.
    std::set<doc::Id> layers() const;

private:
    using Place = std::pair<std::int64_t, std::int64_t>;  // row, column
    struct Tile {
        LayerPictures pictures;
        std::uint64_t used = 0;
    };
    struct Sheet {
        Version version;
        std::map<Place, Tile> tiles;
        std::uint64_t used = 0;
    };
    using Sheets = std::list<Sheet>;
    static std::size_t bytesOf(const Tile& tile);
    Sheet& sheet(const Version& version);
    void makeRoom();
    void drop(Sheet& sheet, std::map<Place, Tile>::iterator tile);
    Sheets::iterator drop(Sheets::iterator sheet);

    std::size_t m_limit, m_bytes = 0;
    std::uint64_t m_turn = 1;
    std::uint64_t m_searched = 0;  ///< the turn in which nothing unused was left
    Sheets m_sheets;               ///< the latest used first
    std::unordered_map<doc::Id, std::vector<Sheets::iterator>> m_byLayer;
};

}  // namespace ledge::carto
