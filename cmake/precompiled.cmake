# What the compiler reads once and not once a file: headers of the system that many files of a kind
# include. Files go on including what they use, and compile without. Headers of our own stay out, so
# that a change to one costs only the files that include it.

set(standard_headers
    <algorithm> <array> <atomic> <charconv> <cmath> <filesystem> <functional> <map> <memory> <mutex>
    <numeric> <optional> <set> <span> <string> <string_view> <unordered_map> <variant> <vector>)
set(drawing_headers
    ${standard_headers} <QImage> <QPainter> <QPainterPath> <QPolygonF> <QRegularExpression>
    <QStringList>)
set(window_headers
    ${drawing_headers} <QApplication> <QCheckBox> <QComboBox> <QHBoxLayout> <QKeyEvent> <QLabel>
    <QLineEdit> <QMenu> <QMouseEvent> <QPointer> <QPushButton> <QScrollArea> <QTimer> <QToolButton>
    <QVBoxLayout> <QWidget>)

# A set of headers for targets with these flags and libraries: targets that reuse it must have them
# too, and may have more.
function(ledge_precompiled name)
    cmake_parse_arguments(ARG "" "" "HEADERS;LINKS" ${ARGN})
    add_library(${name} OBJECT ${PROJECT_SOURCE_DIR}/cmake/precompiled.cpp)
    target_link_libraries(${name} PRIVATE ledge_flags ${ARG_LINKS})
    target_precompile_headers(${name} PRIVATE ${ARG_HEADERS})
endfunction()

ledge_precompiled(standard_precompiled HEADERS ${standard_headers})
ledge_precompiled(drawing_precompiled HEADERS ${drawing_headers} LINKS ledge_qt Qt6::Gui)
ledge_precompiled(window_precompiled HEADERS ${window_headers} LINKS ledge_qt Qt6::Widgets)
# Commands read their arguments and write JSON.
ledge_precompiled(command_precompiled HEADERS ${drawing_headers} <CLI/CLI.hpp> <iostream> <nlohmann/json.hpp>
    LINKS ledge_qt Qt6::Gui CLI11::CLI11 nlohmann_json::nlohmann_json)
# Tests, by what they link.
ledge_precompiled(standard_test_precompiled
    HEADERS ${standard_headers} <random> <QTest> LINKS Qt6::Test)
ledge_precompiled(drawing_test_precompiled
    HEADERS ${drawing_headers} <random> <QTest> LINKS Qt6::Test Qt6::Gui)
ledge_precompiled(window_test_precompiled
    HEADERS ${window_headers} <random> <QTest> LINKS Qt6::Test Qt6::Widgets)
