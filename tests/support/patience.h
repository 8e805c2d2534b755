#pragma once
#include <QTest>

// A machine that is busy with much else is waited for: only what fails takes longer by it.
#undef QTRY_VERIFY
#define QTRY_VERIFY(expr) QTRY_VERIFY_WITH_TIMEOUT((expr), 20000)
#undef QTRY_VERIFY2
#define QTRY_VERIFY2(expr, text) QTRY_VERIFY2_WITH_TIMEOUT((expr), text, 20000)
#undef QTRY_COMPARE
#define QTRY_COMPARE(expr, expected) QTRY_COMPARE_WITH_TIMEOUT((expr), expected, 20000)
