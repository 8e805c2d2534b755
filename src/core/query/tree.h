#pragma once
#include <memory>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/feature/value.h"
#include "core/geometry/geometry.h"

/// The language in which questions and formulas are written: OGC CQL2 (21-065r2), with functions.
/// Text becomes a Tree, a Tree bound to the fields of a layer a Question, and that is answered over
/// columns.
namespace ledge::query {

struct Tree;
using TreePtr = std::shared_ptr<const Tree>;

/// What was written, by its parts. Immutable.
struct Tree {
    enum class Op : std::uint8_t {
        Literal,   ///< `value`; a missing one is NULL, and ".." in an interval
        Name,      ///< of a field: `name`
        Call,      ///< of a function: `name` in small letters, predicates such as s_within too
        Shape,     ///< `shape`; `name` is "bbox" when it was written as one
        Interval,  ///< two instants
        Array,
        Or,  ///< of two or more, as And
        And,
        Not,
        Equal,
        NotEqual,
        Less,
        LessEqual,
        Greater,
        GreaterEqual,
        Like,
        Between,  ///< three parts
        In,       ///< the first part among the others
        IsNull,
        Plus,
        Minus,
        Times,
        Divide,
        Remainder,
        WholeQuotient,
        Power,
        Negative
    };
    Op op = Op::Literal;
    Value value = {};
    std::string name = {};
    std::vector<TreePtr> parts = {};
    std::shared_ptr<const Geometry> shape = {};
    std::size_t from = 0, to = 0;  ///< place in the text, in bytes
};

/// Whether both say the same, wherever it stands.
bool isAlike(const Tree& one, const Tree& other);

/// Where something is wrong in a text, in bytes.
struct Place {
    std::size_t from = 0, to = 0;
};

/// Errors: InvalidArgument with the character, what was expected there and how to mend it; `place`
/// is set then.
Result<TreePtr> parse(const std::string& text, Place* place = nullptr);

/// In CQL2-Text, such that it is read back alike; with no more parentheses than are needed.
std::string toText(const Tree& tree);
/// A name as it must stand in a text: in double quotes where it is no plain word.
std::string nameText(const std::string& name);
/// A text as a literal: in single quotes, those within doubled.
std::string literalText(const std::string& text);

/// "character 12 of "…"": how every error about a text says where.
Error errorAt(const std::string& text, Place at, const std::string& why, const std::string& mend);

}  // namespace ledge::query
