// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of the record with what is written on them painted in: paper has no second layer.
#pragma once
#include "report/record.h"

namespace ohmo {

/// No wider than `width` pixels, its marks in the picture and not beside it any more. As it was where it cannot be read. Not for the
/// interface thread.
RecordPicture painted(RecordPicture picture, int width);

} // namespace ohmo
