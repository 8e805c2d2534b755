#include <fstream>
#include <iostream>
#include <sstream>

#include "cli/arguments.h"
#include "core/base/numbers.h"
#include "core/crs/transformation.h"

namespace ledge::cli {
namespace {
struct Options {
    std::string from, to, file = "-";
    int digits = 0;
};

std::vector<std::string> cells(const std::string& line) {
    std::vector<std::string> out;
    std::string cell;
    bool isQuoted = false;
    for (const char c : line) {
        if (c == '"') isQuoted = !isQuoted;  // quotes stay, so that other columns pass unchanged
        if (c == ',' && !isQuoted)
            out.push_back(std::exchange(cell, {}));
        else if (c != '\r')
            cell += c;
    }
    out.push_back(cell);
    return out;
}

int indexOf(const std::vector<std::string>& header, const char* name) {
    for (std::size_t i = 0; i < header.size(); ++i)
        if (lowered(trimmed(header[i])) == name) return static_cast<int>(i);
    return -1;
}

Result<void> transform(const Options& o) {
    const auto from = crsArgument(o.from), to = crsArgument(o.to);
    if (!from) return from.error();
    if (!to) return to.error();
    const auto way = crs::Transformation::between(*from, *to);
    if (!way) return way.error();
    std::ifstream file;
    if (o.file != "-") {
        file.open(o.file);
        if (!file) return Error{ErrorCode::NotFound, o.file, "cannot be opened", "check the path"};
    }
    std::istream& in = o.file == "-" ? std::cin : file;
    std::string line;
    if (!std::getline(in, line))
        return Error{ErrorCode::BadFormat, o.file, "is empty", "give a header line x,y and rows"};
    const auto header = cells(line);
    const int x = indexOf(header, "x"), y = indexOf(header, "y");
    if (x < 0 || y < 0)
        return Error{ErrorCode::BadFormat, o.file, "has no columns x and y in its header line",
                     "name them x,y[,z]"};
    std::cout << trimmed(line) << '\n';
    long outside = 0, unreadable = 0;
    while (std::getline(in, line)) {
        if (trimmed(line).empty()) continue;
        auto row = cells(line);
        row.resize(std::max(row.size(), header.size()));
        auto& xCell = row[static_cast<std::size_t>(x)];
        auto& yCell = row[static_cast<std::size_t>(y)];
        const auto px = parseNumber(xCell), py = parseNumber(yCell);
        const Point p = px && py ? way->forward(Point{*px, *py}) : kNowhere;
        if (!px || !py)
            ++unreadable;
        else if (!p.isFinite())
            ++outside;
        const auto text = [&](double v) {
            return o.digits > 0 ? roundedNumber(v, o.digits) : exactNumber(v);
        };
        xCell = p.isFinite() ? text(p.x) : "";
        yCell = p.isFinite() ? text(p.y) : "";
        std::string joined;
        for (std::size_t i = 0; i < row.size(); ++i) joined += (i > 0 ? "," : "") + row[i];
        std::cout << joined << '\n';
    }
    if (outside > 0)
        std::cerr << "ledge: transform: " << outside
                  << " points lie outside the domain of a projection; their cells are empty\n";
    if (unreadable > 0)
        std::cerr << "ledge: transform: " << unreadable << " rows have no numbers in x and y\n";
    return {};
}
}  // namespace

void addTransform(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("transform", "Coordinates from one CRS to another, as CSV");
    auto o = std::make_shared<Options>();
    c->add_option("--from", o->from, "EPSG:n, WKT or @file")->required();
    c->add_option("--to", o->to, "EPSG:n, WKT or @file")->required();
    c->add_option("FILE", o->file, "CSV with columns x,y[,z]; - or nothing: standard input");
    c->add_option("--digits", o->digits, "Significant digits instead of exact numbers");
    add(c, [o](const Context&) { return transform(*o); });
}

}  // namespace ledge::cli
