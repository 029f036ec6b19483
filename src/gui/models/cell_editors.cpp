// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/models/cell_editors.h"

#include <QComboBox>
#include <QCompleter>
#include <QLineEdit>

namespace ohmo {
namespace {

// Completes the last word of the line only.
class LastWord : public QCompleter {
public:
    using QCompleter::QCompleter;
    QString pathFromIndex(const QModelIndex& index) const override { return m_kept + QCompleter::pathFromIndex(index); }
    QStringList splitPath(const QString& path) const override {
        const auto at = std::max(path.lastIndexOf(QLatin1Char(' ')), path.lastIndexOf(QLatin1Char('='))) + 1;
        m_kept = path.left(at);
        return {path.mid(at)};
    }

private:
    mutable QString m_kept;
};

} // namespace

QWidget* ChoiceCells::createEditor(QWidget* parent, const QStyleOptionViewItem&, const QModelIndex&) const {
    auto* box = new QComboBox(parent);
    box->addItems(m_words());
    box->setAccessibleName(tr("One of the list"));
    return box;
}

void ChoiceCells::setEditorData(QWidget* editor, const QModelIndex& index) const {
    auto* box = qobject_cast<QComboBox*>(editor);
    box->setCurrentText(index.data(Qt::EditRole).toString());
}

void ChoiceCells::setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& index) const {
    model->setData(index, qobject_cast<QComboBox*>(editor)->currentText(), Qt::EditRole);
}

QWidget* WordCells::createEditor(QWidget* parent, const QStyleOptionViewItem&, const QModelIndex&) const {
    auto* line = new QLineEdit(parent);
    auto* completer = new LastWord(m_words(), line);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    line->setCompleter(completer);
    return line;
}

} // namespace ohmo
