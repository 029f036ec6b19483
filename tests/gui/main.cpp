// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/disk.h"
#include "gui/application.h"

#include <gtest/gtest.h>

#include <QApplication>

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    QApplication app(argc, argv);
    if (!ohmo::load_fonts(ohmo::data_dir())) return 3;
    return RUN_ALL_TESTS();
}
