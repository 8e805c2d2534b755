#!/bin/sh
# Adds a kind of sheet item to a copy of the headers, as somebody would: first only the struct, then
# its row, its description and its painter. Until all are there the compiler names what is missing;
# with all of them the kind goes through a project and back.
# Arguments: compiler, sources, folder of this test, library of core, flags.
set -eu
compiler=$1 sources=$2 here=$3 core=$4
shift 4
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
mkdir -p "$work/document/json" "$work/carto"

compiles() {  # a file of the sources, or of the overlay when it is there
    file="$sources/$1"
    [ -f "$work/$1" ] && file="$work/$1"
    "$compiler" -std=c++20 -fsyntax-only -I"$work" -I"$sources" $flags "$file" 2> "$work/said"
}
mustNot() {  # a file, and what the compiler must speak of
    if compiles "$1"; then
        echo "$1 compiles although the new kind lacks: $2"
        exit 1
    fi
    grep -q "$2" "$work/said" || { echo "$1: the compiler does not say \"$2\":"; head -20 "$work/said"; exit 1; }
    echo "ok: without it, $1 says: $2"
}
must() {
    compiles "$1" || { echo "$1 does not compile:"; head -30 "$work/said"; exit 1; }
    echo "ok: $1"
}
flags=$*

# The struct, in the list of kinds.
sed -e 's|^/// A kind that this version does not know; see UnknownLayer.|/// A lamp on the page.\
struct BeaconItem {\
    double reachMm = 5;\
    std::string word = "lit";\
    bool operator==(const BeaconItem\&) const = default;\
};\
&|' -e 's|ChartItem, UnknownItem>;|ChartItem, BeaconItem, UnknownItem>;|' \
    "$sources/document/sheet.h" > "$work/document/sheet.h"
grep -q 'BeaconItem, UnknownItem' "$work/document/sheet.h" || { echo "the list of kinds is elsewhere"; exit 1; }
mustNot document/json/project_json.cpp no_row_for_this_kind
mustNot document/document.cpp no_row_for_this_kind

# Its row.
sed 's|^inline constexpr ItemKindInfo kItemKind<UnknownItem>|inline constexpr ItemKindInfo kItemKind<BeaconItem>{"beacon"};\
template <>\
&|' "$sources/document/kinds.h" > "$work/document/kinds.h"
must document/document.cpp
mustNot document/json/sheet_values.cpp BeaconItem

# Its description.
sed 's|^LEDGE_DESCRIBED(UnknownItem)|LEDGE_DESCRIBED(BeaconItem) {\
    a("reach_mm", s.reachMm);\
    a("word", s.word);\
}\
&|' "$sources/document/json/described_sheet.h" > "$work/document/json/described_sheet.h"
must document/edits/sheet_rows.cpp
mustNot carto/sheet_painter.cpp BeaconItem

# Its painter.
sed 's|^    Result<void> draw(const doc::UnknownItem&|    Result<void> draw(const doc::BeaconItem\&) { return {}; }\
&|' "$sources/carto/sheet_painter.cpp" > "$work/carto/sheet_painter.cpp"
must carto/sheet_painter.cpp

# And it goes through a project.
"$compiler" -std=c++20 -I"$work" -I"$sources" $flags "$here/beacon.cpp" "$sources/document/label_pins.cpp" \
    "$sources/document/json/style_values.cpp" "$sources/document/json/layer_values.cpp" \
    "$sources/document/json/sheet_values.cpp" "$core" -o "$work/beacon" -licuuc -lpthread
"$work/beacon"
