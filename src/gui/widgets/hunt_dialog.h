// SPDX-License-Identifier: GPL-3.0-or-later
// A short hunt: the rail as the tree along which its current goes, with where the short is likely to hang and where the leads go next.
#pragma once
#include "gui/stations/station.h"
#include "job/hunt.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QLineEdit;
class QTreeWidget;

namespace ohmo {

class HuntDialog : public QDialog {
    Q_OBJECT
public:
    explicit HuntDialog(const Collaborators& with, QWidget* parent = nullptr);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    void fill_rails(const Analysis& analysis);
    void nothing(const QString& title, const QString& why); ///< to be read now
    void ask(const QString& line, Quantity what);
    void fill_tree(const Analysis& analysis, const Hunt& hunt);
    void share_width();
    void log();

    Collaborators m_with;
    QComboBox* m_rail;
    QTreeWidget* m_tree;
    QLabel *m_next, *m_halves, *m_says;
    QLineEdit* m_value;
    QString m_line; ///< of the next reading, its value left out
};

} // namespace ohmo
