// SPDX-License-Identifier: GPL-3.0-or-later
#include <QApplication>
#include <QCommandLineParser>
#include <QSettings>
#include <QThread>
#include <QTimer>
#include <chrono>
#include <cstdio>
#include <cstdlib>

#include "app/commands/command.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "app/theme/text.h"
#include "core/ground/kept_memory.h"
#include "core/ground/version.h"

int main(int count, char** arguments) {
    bricol::keep_freed_memory();
    QApplication application(count, arguments);
    QApplication::setApplicationName("bricol");
    QApplication::setOrganizationName("bricol");
    QApplication::setApplicationVersion(bricol::text_of(bricol::version()));
    Q_INIT_RESOURCE(assets);
    QCommandLineParser parser;
    parser.setApplicationDescription("Bricol: parametric assets from recipes.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("recipe", "A .bricol file to open");
    const QCommandLineOption picture("picture", "Saves a picture of the window to FILE and quits", "FILE");
    parser.addOption(picture);
    const QCommandLineOption keys("keys", "Writes the key map as Markdown and quits");
    parser.addOption(keys);
    parser.process(application);
    if (parser.isSet(keys)) {
        std::fputs(bricol::key_map().c_str(), stdout);
        return 0;
    }
    bricol::theme::start();
    bricol::MainWindow window;
    window.show();
    if (parser.positionalArguments().isEmpty())
        window.show_start_page();
    else if (!window.open(parser.positionalArguments().first()))
        window.show_start_page();
    if (parser.isSet(picture))
        // Not before what is to be seen is made; a minute at most.
        QTimer::singleShot(1500, &window, [&] {
            for (int i = 0; i < 600 && (window.session().worker().busy() || !window.session().made()); ++i) {
                QThread::msleep(100);
                QApplication::processEvents();
            }
            QApplication::processEvents(QEventLoop::AllEvents, 200);  // what is new is laid out first
            if (!window.grab().save(parser.value(picture)))
                std::fprintf(stderr, "bricol: the picture could not be saved\n");
            QApplication::exit(0);
        });
    const int code = QApplication::exec();
    if (!window.end_work(std::chrono::seconds(1))) {
        QSettings().sync();
        std::fflush(nullptr);
        std::_Exit(code);  // files are whole at every moment; what is still being made belongs to nobody
    }
    return code;
}
