// SPDX-License-Identifier: GPL-3.0-or-later
// The bench's own meter is taught: one row a range, what it shows of a known resistor and of a diode. The currents follow while one types.
#pragma once
#include "circuit/meter_lesson.h"

#include <QDialog>

#include <optional>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace ohmo {

class MeterTeacher : public QDialog {
    Q_OBJECT
public:
    explicit MeterTeacher(QWidget* parent = nullptr);

    /// The meter as it was taught; empty while the lesson does not add up.
    const std::optional<MeterProfile>& meter() const { return m_meter; }
    bool for_new_jobs() const;

private:
    void fill_ranges();
    void learn();
    Result<MeterLesson> lesson() const;

    QLineEdit *m_name, *m_leads, *m_diode;
    QComboBox* m_counts;
    QTableWidget* m_table;
    QLabel* m_says;
    QCheckBox* m_for_new;
    QPushButton* m_use;
    std::optional<MeterProfile> m_meter;
    bool m_filling = false;
};

} // namespace ohmo
