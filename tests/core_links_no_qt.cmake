# Run by CTest: the core library must not need a symbol of Qt.
execute_process(COMMAND nm -uC ${LIBRARY} OUTPUT_VARIABLE symbols ERROR_QUIET RESULT_VARIABLE code)
if(NOT code EQUAL 0)
    message(FATAL_ERROR "nm could not read ${LIBRARY}")
endif()
if(symbols MATCHES "U (Q[A-Z][A-Za-z]+::|qt_|qBadAlloc)")
    message(FATAL_ERROR "core needs Qt: ${CMAKE_MATCH_0}")
endif()
