// SPDX-License-Identifier: GPL-3.0-or-later
// How cells of the tables on Trace are written: a choice of words, or text with what could stand there next.
#pragma once
#include <QStringList>
#include <QStyledItemDelegate>

#include <functional>

namespace ohmo {

using WordsSource = std::function<QStringList()>;

/// One of these words; typing goes to the first that begins so.
class ChoiceCells : public QStyledItemDelegate {
    Q_OBJECT
public:
    ChoiceCells(WordsSource words, QObject* parent) : QStyledItemDelegate(parent), m_words(std::move(words)) {}
    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    void setEditorData(QWidget* editor, const QModelIndex& index) const override;
    void setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& index) const override;

private:
    WordsSource m_words;
};

/// Text; what follows the last blank or = is completed with these words.
class WordCells : public QStyledItemDelegate {
    Q_OBJECT
public:
    WordCells(WordsSource words, QObject* parent) : QStyledItemDelegate(parent), m_words(std::move(words)) {}
    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option, const QModelIndex& index) const override;

private:
    WordsSource m_words;
};

} // namespace ohmo
