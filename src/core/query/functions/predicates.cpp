#include <algorithm>

#include "core/query/function_table.h"

namespace ledge::query {
namespace {
constexpr std::int64_t kDay = 86400000;

Function spatial(std::string_view name, std::string_view help) {
    return {name, Topic::Space,  "shape, shape", help, {Takes::Shape, Takes::Shape},
            2,    Kind::Boolean, nullptr};
}

// An end meets a beginning at the same instant; of days, on the same one.
bool joins(std::int64_t end, std::int64_t begin) {
    return end == begin || (begin % kDay == 0 && end == begin + kDay - 1);
}

// By the ends of both (21-065r2, 7.3 and the table there).
template <bool (*is)(Span, Span)>
Function temporal(std::string_view name, std::string_view help) {
    return {name,
            Topic::Time,
            "time, time",
            help,
            {Takes::Time, Takes::Time},
            2,
            Kind::Boolean,
            [](Row& row) { row.set(is(row.span(0), row.span(1))); }};
}
bool isAfter(Span a, Span b) { return a.from > b.to; }
bool isBefore(Span a, Span b) { return a.to < b.from; }
bool isAround(Span a, Span b) { return a.from < b.from && a.to > b.to; }
bool isDuring(Span a, Span b) { return isAround(b, a); }
bool isApart(Span a, Span b) { return isAfter(a, b) || isBefore(a, b); }
bool isSame(Span a, Span b) { return a == b; }
bool isEndedBy(Span a, Span b) { return a.from < b.from && a.to == b.to; }
bool ends(Span a, Span b) { return isEndedBy(b, a); }
bool shares(Span a, Span b) { return !isApart(a, b); }
bool meetsNext(Span a, Span b) { return joins(a.to, b.from); }
bool isMetBy(Span a, Span b) { return meetsNext(b, a); }
bool overlaps(Span a, Span b) {
    return a.from < b.from && a.to > b.from && a.to < b.to && !joins(a.to, b.from);
}
bool isOverlappedBy(Span a, Span b) { return overlaps(b, a); }
bool isStartedBy(Span a, Span b) { return a.from == b.from && a.to > b.to; }
bool starts(Span a, Span b) { return isStartedBy(b, a); }

bool isAmong(const std::vector<Value>& list, const Value& value) {
    return std::any_of(list.begin(), list.end(), [&](const Value& one) {
        const double a = numberOf(one), b = numberOf(value);
        return one == value || (typeOf(one) != FieldType::Boolean && a == b);
    });
}
bool holdsAll(const std::vector<Value>& list, const std::vector<Value>& others) {
    return std::all_of(others.begin(), others.end(),
                       [&](const Value& one) { return isAmong(list, one); });
}
using List = std::vector<Value>;
bool isHeldBy(const List& a, const List& b) { return holdsAll(b, a); }
bool holdSame(const List& a, const List& b) { return holdsAll(a, b) && holdsAll(b, a); }
bool share(const List& a, const List& b) {
    return std::any_of(b.begin(), b.end(), [&](const Value& one) { return isAmong(a, one); });
}
template <bool (*is)(const List&, const List&)>
Function ofLists(std::string_view name, std::string_view help) {
    return {name,
            Topic::Lists,
            "list, list",
            help,
            {Takes::Array, Takes::Array},
            2,
            Kind::Boolean,
            [](Row& row) { row.set(is(row.array(0), row.array(1))); }};
}
}  // namespace

std::vector<Function> predicateFunctions() {
    return {
        spatial("s_intersects", "They have a point in common"),
        spatial("s_disjoint", "They have no point in common"),
        spatial("s_within", "The first lies inside the second"),
        spatial("s_contains", "The second lies inside the first"),
        spatial("s_touches", "Only their boundaries meet"),
        spatial("s_crosses", "One runs through the other"),
        spatial("s_overlaps", "Each has a part in the other and one outside"),
        spatial("s_equals", "They cover the same points"),
        temporal<isAfter>("t_after", "The first begins when the second has ended"),
        temporal<isBefore>("t_before", "The first has ended when the second begins"),
        temporal<isAround>("t_contains", "The second lies within the first"),
        temporal<isDuring>("t_during", "The first lies within the second"),
        temporal<isApart>("t_disjoint", "They have no instant in common"),
        temporal<isSame>("t_equals", "They begin and end together"),
        temporal<isEndedBy>("t_finishedby", "The second begins later, both end together"),
        temporal<ends>("t_finishes", "The first begins later, both end together"),
        temporal<shares>("t_intersects", "They have an instant in common"),
        temporal<meetsNext>("t_meets", "The second begins where the first ends"),
        temporal<isMetBy>("t_metby", "The first begins where the second ends"),
        temporal<isOverlappedBy>("t_overlappedby", "The second begins first and ends within"),
        temporal<overlaps>("t_overlaps", "The first begins first and ends within the second"),
        temporal<isStartedBy>("t_startedby", "Both begin together, the first lasts longer"),
        temporal<starts>("t_starts", "Both begin together, the second lasts longer"),
        ofLists<holdsAll>("a_contains", "The first has all values of the second"),
        ofLists<isHeldBy>("a_containedby", "The second has all values of the first"),
        ofLists<holdSame>("a_equals", "They have the same values"),
        ofLists<share>("a_overlaps", "They have a value in common"),
    };
}

std::vector<Function> groupFunctions() {
    const auto choice = [](std::string_view name, std::string_view arguments, std::string_view help,
                           std::vector<Takes> takes, std::size_t least, Kind gives, bool repeats) {
        return Function{name,  Topic::Choice, arguments, help,    std::move(takes),
                        least, gives,         nullptr,   repeats, true};
    };
    const auto group = [](std::string_view name, std::string_view help, Kind gives = Kind::Real) {
        return Function{
            name, Topic::Groups, "number, group", help, {Takes::Number, Takes::Anything}, 1, gives};
    };
    return {
        choice("if", "condition, then, else", "One of two values",
               {Takes::Boolean, Takes::Anything, Takes::Anything}, 3, Kind::Nothing, false),
        choice("coalesce", "value, value, \u2026", "The first that is not missing",
               {Takes::Anything}, 1, Kind::Nothing, true),
        choice("missing", "value", "Whether it is missing", {Takes::Anything}, 1, Kind::Boolean,
               false),
        group("sum", "Sum over all rows, or over those of the row's group"),
        group("mean", "Mean over all rows, or the group's"),
        group("median", "Median over all rows, or the group's"),
        group("min", "Smallest of all rows, or the group's"),
        group("max", "Largest of all rows, or the group's"),
        group("stddev", "Standard deviation over all rows, or the group's"),
        {"count",
         Topic::Groups,
         "value, group",
         "Rows that have the value, of all or of the row's group; all rows without one",
         {Takes::Anything, Takes::Anything},
         0,
         Kind::Integer},
    };
}

}  // namespace ledge::query
