#include <cstdio>

#include "document/json/values.h"

// Compiled by add_a_kind.sh against headers that hold one more kind of sheet item.
using namespace ledge::doc;

namespace {
int failures = 0;
void check(bool isSo, const char* what) {
    if (isSo) return;
    std::printf("not so: %s\n", what);
    ++failures;
}
}  // namespace

int main() {
    SheetItem item;
    item.id = 7;
    item.name = "North light";
    item.content = BeaconItem{12.5, "dim"};
    const JsonContext context{"/data"};
    const Json written = json::from(item, context);
    check(written["kind"] == "beacon", "the row names it");
    check(written["reach_mm"] == 12.5, "its members stand beside those of all items");
    SheetItem read;
    json::into(written, read, context);
    const auto* beacon = read.as<BeaconItem>();
    check(beacon && *beacon == BeaconItem{12.5, "dim"}, "it is read as it was written");
    bool isListed = false;
    forEachKind<SheetContent>(
        [&]<typename T>(const T&) { isListed = isListed || kItemKind<T>.name == "beacon"; });
    check(isListed, "what offers kinds offers it");
    std::printf(failures == 0 ? "ok: it goes through a project\n" : "");
    return failures;
}
