// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/action_list.h"

#include <QLineEdit>
#include <QListWidget>
#include <QShortcut>
#include <QVBoxLayout>

namespace ohmo {

ActionList::ActionList(std::vector<Row> rows, QWidget* window) : QWidget(window, Qt::Dialog) {
    setObjectName(QStringLiteral("action-list"));
    setWindowTitle(tr("All actions"));
    resize(460, 480);
    auto* layout = new QVBoxLayout(this);
    auto* search = new QLineEdit;
    search->setObjectName(QStringLiteral("action-search"));
    search->setPlaceholderText(tr("search"));
    search->setAccessibleName(tr("Search actions"));
    auto* list = new QListWidget;
    list->setObjectName(QStringLiteral("action-items"));
    list->setAccessibleName(tr("Actions"));
    for (const auto& row : rows) list->addItem(row.info.text + QStringLiteral("    ") + row.info.key.toString(QKeySequence::NativeText));
    layout->addWidget(search);
    layout->addWidget(list);
    connect(search, &QLineEdit::textChanged, list, [list](const QString& text) {
        for (int i = 0; i < list->count(); ++i) list->item(i)->setHidden(!list->item(i)->text().contains(text, Qt::CaseInsensitive));
    });
    const auto run = [this, list, rows = std::move(rows)] {
        int row = list->currentRow();
        if (row < 0 || list->item(row)->isHidden())
            for (row = 0; row < list->count() && list->item(row)->isHidden();) ++row;
        if (row >= list->count()) return;
        auto* action = rows[static_cast<std::size_t>(row)].action;
        if (action == nullptr) return;
        close();
        action->trigger();
    };
    connect(search, &QLineEdit::returnPressed, this, run);
    connect(list, &QListWidget::itemActivated, this, run);
    connect(new QShortcut(QKeySequence(Qt::Key_Escape), this), &QShortcut::activated, this, &QWidget::close);
    search->setFocus();
}

} // namespace ohmo
