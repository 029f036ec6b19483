// SPDX-License-Identifier: GPL-3.0-or-later
// Between the core's UTF-8 and Qt's strings.
#pragma once
#include "base/text.h"

#include <QCoreApplication>
#include <QString>

#include <string>
#include <string_view>

namespace ohmo {

inline QString qs(const std::string& text) { return QString::fromStdString(text); }
inline QString qs(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size())); }
inline std::string ss(const QString& text) { return text.toStdString(); }

/// A word of the vocabulary for people. Translators find it in the context "words".
inline QString word_text(const std::string& word, bool capital = false) {
    QString text = qs(in_words(ss(QCoreApplication::translate("words", word.c_str()))));
    if (capital && !text.isEmpty()) text[0] = text[0].toUpper();
    return text;
}

} // namespace ohmo
