// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/supply_form.h"

#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/yielding.h"
#include "report/design_wording.h"
#include "report/wording.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>

namespace ohmo {
namespace {

constexpr int kLeastLetters = 9;

// What is written on most labels.
QStringList usual_feeds(const FamilyInfo& family) {
    QStringList out;
    for (const auto feed : family.feeds) {
        if (feed == Feed::Mains)
            out << QStringLiteral("230V 50Hz") << QStringLiteral("120V 60Hz") << QStringLiteral("100V 50Hz") << QStringLiteral("240V 50Hz");
        if (feed == Feed::DirectVolts) out << QStringLiteral("12V DC") << QStringLiteral("24V DC") << QStringLiteral("48V DC");
        if (feed == Feed::AlternatingVolts)
            out << QStringLiteral("9V AC 50Hz") << QStringLiteral("12V AC 50Hz") << QStringLiteral("17V AC 50Hz")
                << QStringLiteral("24V AC 50Hz");
    }
    return out;
}

QLabel* caption(const QString& text, QWidget* of) {
    auto* label = body(text);
    label->setBuddy(of);
    label->setWordWrap(false);
    return label;
}

} // namespace

SupplyForm::SupplyForm(QWidget* parent)
    : QWidget(parent), m_feed(new QComboBox), m_rails(new QLineEdit), m_options(new QGridLayout), m_problem(body({}, "bad")) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* top = new QGridLayout;
    top->setHorizontalSpacing(10);
    m_feed->setEditable(true);
    m_feed->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_feed->setMinimumContentsLength(kLeastLetters);
    m_feed->setInsertPolicy(QComboBox::NoInsert);
    m_feed->setObjectName(QStringLiteral("supply-feed"));
    m_feed->setAccessibleName(tr("What feeds it"));
    m_feed->setToolTip(tr("230V 50Hz, 120V 60Hz; 24V DC from a battery or another supply; 15V AC from an adapter"));
    m_rails->setObjectName(QStringLiteral("supply-rails"));
    m_rails->setAccessibleName(tr("Rails"));
    m_rails->setToolTip(
        tr("Volts and amperes of each rail, from the label or the plug: 12V 3A, 5V 1A. Regulated down from another: 5V 1A from 12V"));
    top->addWidget(caption(tr("&Fed by"), m_feed), 0, 0);
    top->addWidget(m_feed, 0, 1);
    top->addWidget(caption(tr("&Rails"), m_rails), 1, 0);
    top->addWidget(m_rails, 1, 1);
    auto* hint = body(tr("From the label or plug: 12V 3A, 5V 1A from 12V"), "muted");
    top->addWidget(hint, 2, 0, 1, 2);
    top->setColumnStretch(1, 1);
    outer->addLayout(top);
    m_problem->setObjectName(QStringLiteral("supply-problem"));
    outer->addWidget(m_problem);
    m_problem->hide();
    outer->addWidget(body(tr("What stands on the board"), "muted"));
    m_options->setHorizontalSpacing(10);
    m_options->setVerticalSpacing(4);
    m_options->setColumnStretch(1, 1);
    outer->addLayout(m_options);
    outer->addStretch(1);
    connect(m_feed, &QComboBox::currentTextChanged, this, [this] { read(); });
    connect(m_rails, &QLineEdit::textChanged, this, [this] { read(); });
}

void SupplyForm::show_supply(const Supply& supply) {
    m_showing = true;
    m_said = supply;
    const auto* family = find_family(supply.family);
    m_feed->clear();
    if (family != nullptr) m_feed->addItems(usual_feeds(*family));
    m_feed->setEditText(qs(feed_text(supply)));
    QStringList rails;
    for (const auto& r : supply.rails) rails << qs(supply_rail_text(r, supply.rails));
    m_rails->setText(rails.join(QStringLiteral(", ")));
    clear_layout(m_options);
    if (family != nullptr) make_options(*family);
    m_showing = false;
    read();
}

void SupplyForm::make_options(const FamilyInfo& family) {
    m_fields.clear();
    int row = 0;
    for (const auto option : family.options) {
        const auto& info = option_info(option);
        const QString name = QStringLiteral("supply-") + QString::fromLatin1(info.name.data(), static_cast<qsizetype>(info.name.size())),
                      what = qs(wording::option(option));
        if (info.values.size() == 2) {
            auto* box = new QCheckBox(what);
            box->setObjectName(name);
            box->setChecked(m_said.has(option));
            connect(box, &QCheckBox::toggled, this, [this, option](bool on) { choose(option, on ? 1 : 0); });
            m_options->addWidget(box, row++, 0, 1, 2);
            m_fields[option] = box;
            continue;
        }
        auto* list = new ElidedChoice;
        list->setObjectName(name);
        list->setAccessibleName(what);
        for (int v = 0; v < static_cast<int>(info.values.size()); ++v) list->addItem(qs(wording::option_value(option, v)));
        list->setCurrentIndex(m_said.choice(option));
        connect(list, &QComboBox::currentIndexChanged, this, [this, option](int value) { choose(option, value); });
        m_options->addWidget(caption(what, list), row, 0);
        m_options->addWidget(list, row++, 1);
        m_fields[option] = list;
    }
}

void SupplyForm::choose(Option option, int value) {
    m_said.chosen[option] = value;
    read();
}

void SupplyForm::read() {
    if (m_showing) return;
    Problems problems;
    if (const auto feed = parse_feed(ss(m_feed->currentText())); feed)
        set_feed(m_said, *feed);
    else
        problems = feed.problems();
    m_said.rails.clear();
    for (const auto& text : m_rails->text().split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        const auto rail = parse_supply_rail(ss(text.trimmed()), m_said.rails);
        if (rail)
            m_said.rails.push_back(*rail);
        else
            problems.insert(problems.end(), rail.problems().begin(), rail.problems().end());
    }
    for (const auto& [option, field] : m_fields) field->setEnabled(applies(option, m_said));
    if (problems.empty()) problems = supply_problems(m_said);
    m_supply = problems.empty() ? std::optional(m_said) : std::nullopt;
    m_problem->setText(problems.empty() ? QString() : qs(wording::problem(problems.front())));
    m_problem->setVisible(!problems.empty());
    Q_EMIT changed();
}

} // namespace ohmo
