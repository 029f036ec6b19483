// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/cli.h"

#include <iostream>

int main(int argc, char** argv) {
    const ohmo::RealDisk disk;
    return ohmo::run_cli({argv + 1, argv + argc}, disk, ohmo::data_dir(), std::cout, std::cerr);
}
