# One library target a layer. What a layer may use is what it links; nothing else is on its include
# path but src itself, and tests/layers_test checks the includes.

add_library(ledge_flags INTERFACE)
target_include_directories(ledge_flags INTERFACE ${PROJECT_SOURCE_DIR}/src)
target_compile_options(ledge_flags INTERFACE
    -Wall -Wextra -Wpedantic -Wshadow -Wconversion -Wsign-conversion -Wdouble-promotion
    -Wno-restrict  # GCC 12 reports std::string concatenation wrongly (GCC bug 105651)
    -fno-math-errno -fno-trapping-math
    $<$<BOOL:${LEDGE_WERROR}>:-Werror>)
if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    if(NOT CMAKE_DISABLE_PRECOMPILE_HEADERS)
        # Of what is precompiled, the same false alarm comes by these names, too. The preset "apart"
        # compiles without, and has them on.
        target_compile_options(ledge_flags INTERFACE -Wno-stringop-overflow
            -Wno-stringop-overread -Wno-array-bounds)
    endif()
    # The compiler looks for what it can free only when it is worth it: with a precompiled header in
    # memory each look costs a tenth of a second.
    target_compile_options(ledge_flags INTERFACE --param=ggc-min-heapsize=524288)
endif()
# Its hundred programs link in a quarter of the time so.
find_program(MOLD mold)
if(MOLD AND CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    target_link_options(ledge_flags INTERFACE -fuse-ld=mold)
endif()
if(LEDGE_SANITIZE)
    # Instrumented, headers of the library itself look uninitialized to the compiler.
    target_compile_options(ledge_flags INTERFACE -Wno-maybe-uninitialized
        -fsanitize=${LEDGE_SANITIZE} -fno-sanitize-recover=all -fno-omit-frame-pointer)
    target_link_options(ledge_flags INTERFACE -fsanitize=${LEDGE_SANITIZE})
    target_compile_definitions(ledge_flags INTERFACE LEDGE_SANITIZED)
endif()

# Files of a layer that stand beside each other in its list are compiled three at a time: what their
# headers make the compiler do is then done once. Names in unnamed namespaces must differ among them.
option(LEDGE_TOGETHER "Compile several files of a layer at a time" ON)
if(LEDGE_TOGETHER)
    # Takes files that are compiled together for headers.
    target_compile_options(ledge_flags INTERFACE -Wno-subobject-linkage)
endif()

# What computes and draws is optimised as far as the compiler can. What shows, edits and tests spends
# its time elsewhere, and compiles in two thirds of the time so.
add_library(ledge_glue INTERFACE)
target_compile_options(ledge_glue INTERFACE $<$<CONFIG:Release>:-O1>)

# Code that sees Qt.
add_library(ledge_qt INTERFACE)
target_compile_definitions(ledge_qt INTERFACE QT_NO_KEYWORDS QT_NO_CAST_TO_ASCII)

include(${CMAKE_CURRENT_LIST_DIR}/precompiled.cmake)

# QT for layers that see Qt, WIDGETS for those that see its widgets, too, COMMANDS for the commands.
function(ledge_layer name)
    cmake_parse_arguments(ARG "QT;WIDGETS;COMMANDS;GLUE" "" "SOURCES;LINKS;PRIVATE" ${ARGN})
    add_library(${name} STATIC ${ARG_SOURCES})
    target_link_libraries(${name} PUBLIC ${ARG_LINKS} PRIVATE ledge_flags ${ARG_PRIVATE})
    target_include_directories(${name} PUBLIC ${PROJECT_SOURCE_DIR}/src)
    ledge_settle(${name} ${ARGN})
endfunction()

# How a library or a program is compiled, by the words of ledge_layer.
function(ledge_settle name)
    cmake_parse_arguments(ARG "QT;WIDGETS;COMMANDS;GLUE" "" "" ${ARGN})
    set_target_properties(${name} PROPERTIES UNITY_BUILD ${LEDGE_TOGETHER} UNITY_BUILD_BATCH_SIZE 3)
    if(ARG_GLUE)
        target_link_libraries(${name} PRIVATE ledge_glue)
    endif()
    if(ARG_QT OR ARG_WIDGETS OR ARG_COMMANDS)
        target_link_libraries(${name} PRIVATE ledge_qt)
        set_target_properties(${name} PROPERTIES AUTOMOC ON)
    endif()
    if(ARG_WIDGETS)
        target_precompile_headers(${name} REUSE_FROM window_precompiled)
    elseif(ARG_COMMANDS)
        target_precompile_headers(${name} REUSE_FROM command_precompiled)
    elseif(ARG_QT)
        target_precompile_headers(${name} REUSE_FROM drawing_precompiled)
    else()
        target_precompile_headers(${name} REUSE_FROM standard_precompiled)
    endif()
endfunction()
