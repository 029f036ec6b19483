// SPDX-License-Identifier: GPL-3.0-or-later
// What one sees of a supply: what feeds it, the rails of its label or plug, what stands on the board.
#pragma once
#include "design/supply.h"

#include <QComboBox>
#include <QWidget>

#include <map>
#include <optional>

class QCheckBox;
class QLabel;
class QLineEdit;
class QGridLayout;

namespace ohmo {

class SupplyForm : public QWidget {
    Q_OBJECT
public:
    explicit SupplyForm(QWidget* parent = nullptr);
    void show_supply(const Supply& supply);
    /// As it stands in the fields; nothing while they cannot be read or the family cannot be so. The reason is shown under them.
    const std::optional<Supply>& supply() const { return m_supply; }

Q_SIGNALS:
    void changed();

private:
    void read();
    void make_options(const FamilyInfo& family);
    void choose(Option option, int value);

    Supply m_said; ///< family and options as chosen
    std::optional<Supply> m_supply;
    QComboBox* m_feed;
    QLineEdit* m_rails;
    QGridLayout* m_options;
    std::map<Option, QWidget*> m_fields;
    QLabel* m_problem;
    bool m_showing = false;
};

} // namespace ohmo
