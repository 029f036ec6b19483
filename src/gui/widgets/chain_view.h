// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "appcore/session.h"
#include "gui/theme/theme.h"

#include <QWidget>

namespace ohmo {

/// A damage chain from cause to last effect, each step with its stress against what the part stands.
class ChainView : public QWidget {
    Q_OBJECT
public:
    explicit ChainView(const ThemeSource& theme, QWidget* parent = nullptr);
    void show_chain(const Board& board, const std::vector<Step>& steps, const std::vector<QString>& evidence);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {260, sizeHint().height()}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    struct Row {
        QString title, detail, evidence;
        double ratio = 0; ///< stress over limit; 0 when there is none
    };
    const ThemeSource& m_theme;
    std::vector<Row> m_rows;
};

} // namespace ohmo
