// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/blueprint_picker.h"

#include "design/design.h"
#include "gui/text.h"
#include "gui/widgets/board_sketch.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/supply_form.h"
#include "report/design_wording.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QListWidget>
#include <QPushButton>
#include <QTabWidget>

#include <algorithm>

namespace ohmo {

BlueprintPicker::BlueprintPicker(std::vector<Blueprint> blueprints, const ThemeSource& theme, QWidget* parent)
    : QDialog(parent), m_blueprints(std::move(blueprints)), m_list(new QListWidget), m_sums(new QListWidget),
      m_sketch(new BoardSketch(theme)), m_form(new SupplyForm), m_pictures(new QTabWidget), m_title(heading({})), m_recognise(body({})),
      m_parts(body({}, "muted")), m_hazard(body({}, "warn")), m_start(button(tr("Start with this board"), "blueprint-start", "main")) {
    auto* outer = dialog_layout(*this, "blueprint-picker", tr("What kind of supply is it?"), {1120, 640});
    outer->addWidget(
        body(tr("Say what you see. Typical parts and wiring are put on the map as guesses; what you then see and read corrects them."),
             "muted"));
    auto* row = new QHBoxLayout;
    row->setSpacing(16);
    m_list->setObjectName(QStringLiteral("blueprint-list"));
    m_list->setAccessibleName(tr("Families of supply"));
    for (const auto& b : m_blueprints) m_list->addItem(qs(b.title));
    m_list->setWordWrap(true);
    m_list->setSpacing(3);
    row->addWidget(m_list, 5);
    auto* middle = new QVBoxLayout;
    middle->setSpacing(8);
    m_title->setWordWrap(true);
    middle->addWidget(m_title);
    middle->addWidget(m_recognise);
    m_sums->setObjectName(QStringLiteral("blueprint-sums"));
    m_sums->setAccessibleName(tr("Where the values come from"));
    m_sums->setWordWrap(true);
    m_pictures->addTab(m_sketch, tr("&Board"));
    m_pictures->addTab(m_sums, tr("&Sums"));
    m_pictures->setObjectName(QStringLiteral("blueprint-pictures"));
    m_pictures->setAccessibleName(tr("The board, and the sums behind it"));
    middle->addWidget(m_pictures, 1);
    middle->addWidget(m_parts);
    middle->addWidget(m_hazard);
    row->addLayout(middle, 7);
    QVBoxLayout* fields = nullptr;
    auto* column = scrolled_column(fields);
    fields->addWidget(m_form);
    row->addWidget(column, 6);
    outer->addLayout(row, 1);
    auto* ends = new QHBoxLayout;
    ends->addStretch(1);
    auto* cancel = button(tr("Not now"), "blueprint-cancel");
    m_start->setDefault(true);
    ends->addWidget(cancel);
    ends->addWidget(m_start);
    outer->addLayout(ends);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(m_start, &QPushButton::clicked, this, &QDialog::accept);
    connect(m_list, &QListWidget::currentRowChanged, this, [this] { show_family(); });
    connect(m_list, &QListWidget::itemActivated, this, [this] {
        if (m_start->isEnabled()) accept();
    });
    connect(m_form, &SupplyForm::changed, this, [this] { show_board(); });
    m_list->setCurrentRow(0);
}

const Blueprint& BlueprintPicker::current() const { return m_blueprints[static_cast<std::size_t>(std::max(m_list->currentRow(), 0))]; }

QString BlueprintPicker::picked() const { return m_list->currentRow() < 0 ? QString() : qs(current().name); }

void BlueprintPicker::show_family() {
    if (m_list->currentRow() < 0) return m_start->setEnabled(false);
    const auto& b = current();
    m_title->setText(qs(b.title));
    m_recognise->setText(qs(b.recognise));
    m_form->setVisible(b.supply.has_value());
    m_pictures->setVisible(b.supply.has_value());
    if (b.supply) return m_form->show_supply(*b.supply); // and the board with it
    m_supply.reset();
    show_board();
}

void BlueprintPicker::show_board() {
    const auto& b = current();
    if (b.supply) m_supply = m_form->supply();
    m_start->setEnabled(!b.supply || m_supply);
    if (b.supply && !m_supply) {
        m_parts->setText(tr("The board is shown again when what is said can be."));
        return;
    }
    Board board = b.job.board;
    m_sums->clear();
    if (m_supply) {
        const auto design = design_supply(*m_supply, board.practice());
        if (!design) { // nothing that is said should lead here
            m_start->setEnabled(false);
            m_parts->setText(qs(wording::problem(design.problems().front())));
            return;
        }
        board = design->draft;
        for (const auto& sum : design->sums) m_sums->addItem(qs(wording::design_sum(sum)));
    }
    m_sketch->show_board(board);
    m_parts->setText(board.parts.empty() ? tr("Nothing is assumed. Rails, mains and parts are entered on Trace.")
                                         : tr("%1 parts assumed. Everything can be changed on Trace.").arg(board.parts.size()));
    const bool bulk = std::any_of(board.parts.begin(), board.parts.end(), [](const Part& p) { return p.stage == "bulk"; });
    const bool charge = bulk || (board.mains && board.parts.empty());
    m_hazard->setText(charge
                          ? tr("Mains, and a bulk capacitor that keeps its charge: the cold readings wait until it has been measured low.")
                      : board.mains ? tr("Mains up to the transformer: unplug before any cold reading.")
                                    : QString());
    m_hazard->setVisible(board.mains.has_value());
}

} // namespace ohmo
