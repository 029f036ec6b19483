// SPDX-License-Identifier: GPL-3.0-or-later
// Between the core's UTF-8 and Qt's strings.
#pragma once
#include <QString>

#include <string>
#include <string_view>

namespace ohmo {

inline QString qs(const std::string& text) { return QString::fromStdString(text); }
inline QString qs(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size())); }
inline std::string ss(const QString& text) { return text.toStdString(); }

/// A word of the vocabulary for people: "led-only" becomes "LED only".
inline QString word_text(const std::string& word, bool capital = false) {
    QString text = qs(word).replace(QLatin1Char('-'), QLatin1Char(' ')).replace(QStringLiteral("led "), QStringLiteral("LED "));
    if (capital && !text.isEmpty()) text[0] = text[0].toUpper();
    return text;
}

/// "1 reading", "7 readings".
inline QString counted(qsizetype n, const QString& one, const QString& many) {
    return QString::number(n) + QLatin1Char(' ') + (n == 1 ? one : many);
}

} // namespace ohmo
