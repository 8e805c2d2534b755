#pragma once

namespace ledge::io {

/// SQLite's own way to files (a "VFS"), but a database whose pages are read beside each other, as a
/// table's are from its first row to its last, comes from the disk half a megabyte at a time: a
/// reader that waits for each page by itself takes several times as long. What was read ahead is
/// forgotten with every lock taken or let go, so that it is never older than what SQLite may see.
/// The name by which a connection asks for it; null where SQLite's files are of a kind not known
/// here.
const char* filesInStretches();

}  // namespace ledge::io
