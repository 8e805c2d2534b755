# One library target a layer. What a layer may use is what it links; nothing else is on its include
# path but src itself, and tests/layers_test checks the includes.

add_library(ledge_flags INTERFACE)
target_include_directories(ledge_flags INTERFACE ${PROJECT_SOURCE_DIR}/src)
target_compile_options(ledge_flags INTERFACE
    -Wall -Wextra -Wpedantic -Wshadow -Wconversion -Wsign-conversion -Wdouble-promotion
    -Wno-restrict  # GCC 12 reports std::string concatenation wrongly (GCC bug 105651)
    -fno-math-errno -fno-trapping-math
    $<$<BOOL:${LEDGE_WERROR}>:-Werror>)
if(LEDGE_SANITIZE)
    # Instrumented, headers of the library itself look uninitialized to the compiler.
    target_compile_options(ledge_flags INTERFACE -Wno-maybe-uninitialized
        -fsanitize=${LEDGE_SANITIZE} -fno-sanitize-recover=all -fno-omit-frame-pointer)
    target_link_options(ledge_flags INTERFACE -fsanitize=${LEDGE_SANITIZE})
    target_compile_definitions(ledge_flags INTERFACE LEDGE_SANITIZED)
endif()

function(ledge_layer name)
    cmake_parse_arguments(ARG "QT" "" "SOURCES;LINKS;PRIVATE" ${ARGN})
    add_library(${name} STATIC ${ARG_SOURCES})
    target_link_libraries(${name} PUBLIC ${ARG_LINKS} PRIVATE ledge_flags ${ARG_PRIVATE})
    target_include_directories(${name} PUBLIC ${PROJECT_SOURCE_DIR}/src)
    if(ARG_QT)
        set_target_properties(${name} PROPERTIES AUTOMOC ON AUTORCC ON)
        target_compile_definitions(${name} PRIVATE QT_NO_KEYWORDS QT_NO_CAST_TO_ASCII)
    endif()
endfunction()
