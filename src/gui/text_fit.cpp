// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/text_fit.h"

namespace ohmo {
namespace {

bool may_break_after(QChar c) { return c == u' ' || c == u'-' || c == u'_' || c == u'.' || c == u'/'; }

} // namespace

QStringList in_lines(const QString& text, const QFontMetricsF& metrics, double width, int most) {
    QStringList lines;
    QString rest = text;
    while (lines.size() + 1 < most && metrics.horizontalAdvance(rest) > width) {
        qsizetype end = 0;
        for (qsizetype i = 1; i < rest.size(); ++i) {
            if (metrics.horizontalAdvance(rest.left(i).trimmed()) > width) break;
            if (may_break_after(rest[i - 1]) && i > 1) end = i; // a sign in front stays with its number
        }
        if (end == 0) break;
        lines << rest.left(end).trimmed();
        rest = rest.mid(end);
    }
    return lines << metrics.elidedText(rest, Qt::ElideMiddle, width);
}

} // namespace ohmo
