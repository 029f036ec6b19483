// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/blueprint_picker.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "gui/widgets/board_sketch.h"
#include "gui/widgets/panel.h"

#include <QHBoxLayout>
#include <QListWidget>
#include <QPushButton>

#include <algorithm>

namespace ohmo {

BlueprintPicker::BlueprintPicker(std::vector<Blueprint> blueprints, const ThemeSource& theme, QWidget* parent)
    : QDialog(parent), m_blueprints(std::move(blueprints)), m_sketch(new BoardSketch(theme)) {
    auto* outer = dialog_layout(*this, "blueprint-picker", tr("What kind of supply is it?"), {960, 600});
    outer->addWidget(
        body(tr("Typical parts and wiring are put on the map as guesses. What you then see and read corrects them."), "muted"));
    auto* row = new QHBoxLayout;
    row->setSpacing(16);
    m_list = new QListWidget;
    m_list->setObjectName(QStringLiteral("blueprint-list"));
    m_list->setAccessibleName(tr("Families of supply"));
    for (const auto& b : m_blueprints) m_list->addItem(qs(b.title));
    m_list->setWordWrap(true);
    m_list->setSpacing(4);
    row->addWidget(m_list, 3);
    auto* side = new QVBoxLayout;
    side->setSpacing(10);
    m_title = heading({});
    m_title->setWordWrap(true);
    m_recognise = body({});
    m_rails = body({}, "muted");
    m_parts = body({}, "muted");
    m_hazard = body({}, "warn");
    for (auto* label : {m_title, m_recognise, m_rails, m_parts, m_hazard}) side->addWidget(label);
    side->insertWidget(1, m_sketch, 1);
    side->addStretch(0); // takes the room where there is no sketch
    row->addLayout(side, 4);
    outer->addLayout(row, 1);
    auto* ends = new QHBoxLayout;
    ends->addStretch(1);
    auto* cancel = button(tr("Keep the present job"), "blueprint-cancel");
    m_start = button(tr("Start with this board"), "blueprint-start", "main");
    m_start->setDefault(true);
    ends->addWidget(cancel);
    ends->addWidget(m_start);
    outer->addLayout(ends);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(m_start, &QPushButton::clicked, this, &QDialog::accept);
    connect(m_list, &QListWidget::currentRowChanged, this, [this] { show_current(); });
    connect(m_list, &QListWidget::itemActivated, this, &QDialog::accept);
    m_list->setCurrentRow(0);
    show_current();
}

QString BlueprintPicker::picked() const {
    const int row = m_list->currentRow();
    return row < 0 ? QString() : qs(m_blueprints[static_cast<std::size_t>(row)].name);
}

void BlueprintPicker::show_current() {
    const int row = m_list->currentRow();
    m_start->setEnabled(row >= 0);
    if (row < 0) return;
    const auto& b = m_blueprints[static_cast<std::size_t>(row)];
    const auto& board = b.job.board;
    m_title->setText(qs(b.title));
    m_recognise->setText(qs(b.recognise));
    m_sketch->show_board(board);
    m_sketch->setVisible(!board.parts.empty());
    QStringList rails;
    for (const auto& r : board.rails) rails << qs(format_nominal(r.volts, "V"));
    m_rails->setText(rails.isEmpty() ? tr("Rails, mains and parts are entered on Trace.")
                                     : tr("Rails to start with: %1. Change them on Trace.").arg(rails.join(QStringLiteral(", "))));
    m_parts->setText(board.parts.empty() ? tr("Nothing is assumed") : tr("%1 parts assumed").arg(board.parts.size()));
    const bool bulk = std::any_of(board.parts.begin(), board.parts.end(), [](const Part& p) { return p.stage == "bulk"; });
    const bool charge = bulk || (board.mains && board.parts.empty());
    m_hazard->setText(charge
                          ? tr("Mains, and a bulk capacitor that keeps its charge: the cold readings wait until it has been measured low.")
                      : board.mains ? tr("Mains up to the transformer: unplug before any cold reading.")
                                    : QString());
    m_hazard->setVisible(board.mains.has_value());
}

} // namespace ohmo
