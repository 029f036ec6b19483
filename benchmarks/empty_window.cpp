// SPDX-License-Identifier: GPL-3.0-or-later
// The least a Qt window takes on this machine: what scripts/measure-start compares ours with.
#include <QApplication>
#include <QElapsedTimer>
#include <QMainWindow>
#include <QTimer>

#include <cstdio>

int main(int argc, char** argv) {
    QElapsedTimer since_start;
    since_start.start();
    QApplication app(argc, argv);
    QMainWindow window;
    window.resize(1280, 800);
    window.show();
    QTimer::singleShot(0, &window, [&] {
        std::printf("%lld\n", static_cast<long long>(since_start.elapsed()));
        std::fflush(stdout);
        QApplication::exit(0);
    });
    return QApplication::exec();
}
