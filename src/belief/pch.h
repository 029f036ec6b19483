// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <map>
#include <string>
#include <vector>
