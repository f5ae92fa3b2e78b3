// SPDX-License-Identifier: GPL-3.0-or-later
#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

#include <QApplication>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <cstring>

#include "app/theme/theme.h"
#include "core/ground/kept_memory.h"

int main(int count, char** arguments) {
    Catch::Session session;
    // Discovery at build time lists tests without a display.
    for (int i = 1; i < count; ++i)
        if (std::strncmp(arguments[i], "--list", 6) == 0) return session.run(count, arguments);
    bricol::keep_freed_memory();  // as the program does
    QTemporaryDir own;            // settings and autosaves of a test belong to nobody else
    const QString home = qEnvironmentVariable("BRICOL_TEST_HOME", own.path());
    qputenv("HOME", home.toUtf8());
    qputenv("XDG_CONFIG_HOME", (home + "/config").toUtf8());
    qputenv("XDG_DATA_HOME", (home + "/data").toUtf8());
    qputenv("XDG_RUNTIME_DIR", home.toUtf8());
    int one = 1;
    QApplication application(one, arguments);
    QApplication::setApplicationName("bricol-test");
    QApplication::setOrganizationName("bricol-test");
    QApplication::setEffectEnabled(Qt::UI_AnimateMenu, false);
    QApplication::setEffectEnabled(Qt::UI_AnimateCombo, false);
    Q_INIT_RESOURCE(assets);
    bricol::theme::start();
    return session.run(count, arguments);
}
