// SPDX-License-Identifier: GPL-3.0-or-later
// Text that keeps to its room: broken where words end, cut in the middle where it is still too long, as the ends of names tell them apart.
#pragma once
#include <QFontMetricsF>
#include <QStringList>

namespace ohmo {

/// `text` in at most `most` lines of at most `width` px. Breaks after spaces and after - _ . / within names; a line that has to end within
/// a word is cut there. The last line is cut in the middle where more would follow.
QStringList in_lines(const QString& text, const QFontMetricsF& metrics, double width, int most);

} // namespace ohmo
