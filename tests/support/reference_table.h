#pragma once
#include <QFile>
#include <QString>
#include <map>
#include <vector>

#include "support/places.h"

namespace ledge::test {

using Row = std::map<QString, QString>;

inline QStringList splitCsv(const QString& line) {
    QStringList out;
    QString cell;
    bool isQuoted = false;
    for (const QChar c : line) {
        if (c == '"')
            isQuoted = !isQuoted;
        else if (c == ',' && !isQuoted)
            out << std::exchange(cell, {});
        else
            cell += c;
    }
    out << cell;
    return out;
}

/// Rows of a table in tests/data; lines that start with # are comments, the next is the header.
inline std::vector<Row> readTable(const QString& name) {
    QFile file(kTestData + QStringLiteral("/") + name);
    if (!file.open(QIODevice::ReadOnly)) qFatal("missing table %s", qPrintable(name));
    std::vector<Row> out;
    QStringList header;
    for (const QString& line : QString::fromUtf8(file.readAll()).split('\n')) {
        if (line.isEmpty() || line.startsWith('#')) continue;
        const QStringList cells = splitCsv(line);
        if (header.isEmpty()) {
            header = cells;
            continue;
        }
        Row row;
        for (int i = 0; i < header.size() && i < cells.size(); ++i) row[header[i]] = cells[i];
        out.push_back(row);
    }
    return out;
}

inline double number(const Row& row, const char* name) { return row.at(name).toDouble(); }

}  // namespace ledge::test
