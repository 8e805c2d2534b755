#include "support/random_document.h"

#include <random>

#include "document/edits/layer_edits.h"
#include "document/json/described.h"

using namespace ledge::doc;

namespace ledge::test {
namespace {
// Fills whatever is described with random values: what the description lists, this sets, so a
// member that is listed and not written, or written and not read, is found here.
class Filler {
public:
    static constexpr bool isReading = true;
    explicit Filler(unsigned seed) : m_random(seed) {}

    template <typename T>
    void operator()(const char*, T& value) {
        fill(value);
    }
    template <typename T>
    void operator()(const char*, T& value, Between range) {
        fill(value);
        keep(value, range);
    }
    template <typename T>
    void required(const char*, T& value) {
        fill(value);
    }
    template <typename T>
    void sparse(const char*, T& value) {
        if (chance(70)) fill(value);
    }
    template <typename T>
    void sparse(const char*, T& value, Between range) {
        if (chance(70)) (*this)("", value, range);
    }
    template <typename T>
    void usually(const char*, T& value, const T&) {
        if (chance(70)) fill(value);
    }
    template <typename T>
    void usually(const char*, T& value, const T&, Between range) {
        if (chance(70)) (*this)("", value, range);
    }
    template <typename T>
    void list(const char*, std::vector<T>& values, const T&) {
        fill(values);
    }
    // "none" stands for the colour too, so only colours that are there come back.
    void paint(const char*, bool& isThere, Colour& colour) {
        isThere = true;
        fill(colour);
    }
    void either(const char*, bool& isOne, const char*, const char*) { isOne = chance(50); }
    void numberOr(const char*, std::optional<double>& value, const char*) {
        value.reset();
        if (chance(50)) fill(value.emplace());
    }
    bool has(const char*, bool) { return true; }
    template <typename V>
    void kind(const char*, V& content, const char*) {
        std::vector<V> all{contentNamed<V>("a kind of a later version")};
        forEachKind<V>([&]<typename T>(const T& one) {
            if constexpr (!std::is_same_v<T, UnknownLayer> && !std::is_same_v<T, UnknownItem>)
                all.emplace_back(one);
        });
        content = all[pick(all.size())];
    }
    template <typename V>
    void membersOf(V& content) {
        std::visit([this](auto& c) { describe(*this, c); }, content);
    }
    template <typename F>
    void then(const F& check) {
        check();
    }

private:
    bool chance(int percent) { return static_cast<int>(m_random() % 100) < percent; }
    std::size_t pick(std::size_t count) { return m_random() % count; }
    double number() { return std::uniform_real_distribution(-1e6, 1e6)(m_random); }

    template <typename T>
    void fill(T& value) {
        if constexpr (std::is_enum_v<T>)
            value = static_cast<T>(pick(kNames<T>.size()));
        else if constexpr (IsDescribed<T>::value)
            describe(*this, value);
        else if constexpr (std::is_same_v<T, bool>)
            value = chance(50);
        else if constexpr (std::is_integral_v<T>)
            value = static_cast<T>(m_random() % 100000);
        else
            value = number();
    }
    void fill(std::string& s) {
        static const std::array<const char*, 5> words{"", "Glen \"of\" \\ 3", "Ålesund · ü", "a\nb",
                                                      "x"};
        s = words[pick(words.size())];
    }
    void fill(Colour& c) {
        c = {static_cast<std::uint8_t>(m_random()), static_cast<std::uint8_t>(m_random()),
             static_cast<std::uint8_t>(m_random()), static_cast<std::uint8_t>(m_random())};
    }
    void fill(Point& p) { p = {number(), number()}; }
    void fill(PageRect& r) { r = {number(), number(), number(), number()}; }
    void fill(std::filesystem::path& p) {
        p = "/data/" + std::string(chance(50) ? "here/" : "") + std::to_string(m_random()) + ".tif";
    }
    void fill(Ramp& ramp) {
        ramp.stops.clear();
        double at = number();
        for (std::size_t i = 0; i < 1 + pick(4); ++i) {
            ramp.stops.push_back({at, {}});
            fill(ramp.stops.back().colour);
            at += std::abs(number());
        }
    }
    void fill(std::array<StretchLimits, 3>& all) {
        for (StretchLimits& l : all) l.low = number(), l.high = l.low + 1 + std::abs(number());
    }
    void fill(std::array<int, 3>& all) {
        for (int& one : all) one = static_cast<int>(pick(9));
    }
    template <typename T>
    void fill(std::vector<T>& all) {
        all.clear();
        if (++m_depth < 7)
            for (std::size_t i = pick(4); i > 0; --i) {
                T one{};
                fill(one);
                all.push_back(std::move(one));
            }
        --m_depth;
    }
    template <typename T>
    void fill(std::optional<T>& value) {
        value.reset();
        if (chance(60)) fill(value.emplace());
    }
    template <typename T>
    void fill(Shared<T>& value) {
        value.change([this](T& one) { fill(one); });
    }
    void fill(EditLog& log) {
        const std::array<TableEdit, 7> kinds{CellEdit{},   GeometryEdit{}, RowAdded{},
                                             RowRemoved{}, ColumnAdded{},  ColumnRemoved{},
                                             ColumnNamed{}};
        log.edits.clear();
        for (std::size_t i = pick(6); i > 0; --i) {
            log.edits.push_back(kinds[pick(kinds.size())]);
            std::visit([this](auto& edit) { describe(*this, edit); }, log.edits.back());
        }
    }
    void fill(Geometry& shape) {
        shape = {};
        if (chance(30)) return;
        const auto at = [this] {
            return Point{static_cast<double>(m_random() % 1000), static_cast<double>(pick(1000))};
        };
        shape = chance(50) ? Geometry::point(at()) : Geometry::line({at(), at(), at()});
    }
    void fill(LayerPtr& layer) {
        Layer made;
        fill(made);
        layer = std::make_shared<const Layer>(std::move(made));
    }
    void fill(std::set<Id>& ids) {
        for (std::size_t i = pick(4); i > 0; --i) ids.insert(static_cast<Id>(m_random() % 99));
    }
    void fill(std::map<Id, std::string>& names) {
        for (std::size_t i = pick(4); i > 0; --i) fill(names[static_cast<Id>(m_random() % 99)]);
    }
    void fill(std::map<std::string, std::string>& words) {
        for (std::size_t i = pick(4); i > 0; --i) fill(words["k" + std::to_string(i)]);
    }
    template <typename T>
    static void keep(T& value, Between range) {
        if constexpr (std::is_arithmetic_v<T>)
            value = static_cast<T>(std::clamp(static_cast<double>(value), range.low, range.high));
        else
            for (auto& one : value) keep(one, range);
    }

    std::mt19937 m_random;
    int m_depth = 0;
};
}  // namespace

Document randomDocument(unsigned seed) {
    Document out;
    Filler filler(seed);
    describe(filler, out);
    return out;
}

}  // namespace ledge::test
