// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <string>
#include <vector>
