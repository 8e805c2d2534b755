#pragma once
#include <algorithm>
#include <vector>

namespace ledge::app {

/// Keeps a list of those of a class that are alive. They are made and end on the interface's
/// thread.
template <typename One>
class Listed {
public:
    Listed(const Listed&) = delete;
    Listed& operator=(const Listed&) = delete;

    template <typename Is>
    static bool any(const Is& is) {
        return std::ranges::any_of(
            s_all, [&](const Listed* one) { return is(static_cast<const One&>(*one)); });
    }

    template <typename Does>
    static void each(const Does& does) {
        for (Listed* one : s_all) does(static_cast<One&>(*one));
    }

protected:
    Listed() { s_all.push_back(this); }
    ~Listed() { std::erase(s_all, this); }

private:
    inline static std::vector<Listed*> s_all;
};

}  // namespace ledge::app
