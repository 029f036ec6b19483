// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <gtest/gtest.h>

#include "job/pipeline.h"

#include <cmath>
#include <random>
#include <string>
#include <vector>
