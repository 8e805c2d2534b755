#include "core/query/function_table.h"

#include <algorithm>
#include <cmath>

namespace ledge::query {

void Row::set(double value) {
    if (!std::isfinite(value)) return fail("no finite number comes out");
    m_out.valid[m_at] = 1;
    m_out.reals[m_at] = value;
}
void Row::set(std::int64_t value) {
    m_out.valid[m_at] = 1;
    m_out.wholes[m_at] = value;
}
void Row::set(bool value) { set(static_cast<std::int64_t>(value ? 1 : 0)); }
void Row::set(std::string value) { m_out.put(m_at, Value(std::move(value))); }
void Row::set(Date value) { set(static_cast<std::int64_t>(value.days)); }
void Row::set(TimeStamp value) { set(value.milliseconds); }
void Row::set(Geometry value) {
    if (m_out.ownShapes.empty()) m_out.ownShapes.resize(m_out.size());
    m_out.valid[m_at] = 1;
    m_out.ownShapes[m_at] = std::move(value);
    m_out.shapes[m_at] = m_out.ownShapes[m_at];
}

std::span<const Function> functions() {
    static const std::vector<Function> all = [] {
        std::vector<Function> out;
        for (auto* topic : {numberFunctions, textFunctions, dateFunctions, shapeFunctions,
                            predicateFunctions, groupFunctions}) {
            auto rows = topic();
            out.insert(out.end(), std::make_move_iterator(rows.begin()),
                       std::make_move_iterator(rows.end()));
        }
        return out;
    }();
    return all;
}

const Function* functionNamed(std::string_view name) {
    const auto all = functions();
    const auto it =
        std::find_if(all.begin(), all.end(), [&](const Function& f) { return f.name == name; });
    return it == all.end() ? nullptr : &*it;
}

}  // namespace ledge::query
