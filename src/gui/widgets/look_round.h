// SPDX-License-Identifier: GPL-3.0-or-later
// Look round: part after part from the fuse to the rails, one key a finding.
#pragma once
#include "gui/stations/station.h"
#include "job/look_round.h"

#include <QDialog>
#include <QPushButton>

class QGridLayout;
class QLabel;

namespace ohmo {

class LookRound : public QDialog {
    Q_OBJECT
public:
    explicit LookRound(const Collaborators& with, QWidget* parent = nullptr);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refresh();
    void show_stop();
    void look(const std::string& word); ///< of the part, and on
    void take_its_picture();
    void area(const std::string& word); ///< of the stage: fine (the rest of it, and on), smell, soot
    void go(int by);                    ///< parts
    void go_stage(int by);
    std::size_t stage_from(std::size_t at) const; ///< first stop of that stop's stage

    Collaborators m_with;
    std::vector<LookStop> m_stops;
    std::size_t m_at = 0;
    bool m_done = false; ///< once round
    QLabel *m_where, *m_part, *m_find, *m_so_far, *m_says;
    QGridLayout* m_words;
    std::vector<std::string> m_shown; ///< the words of the buttons
    QPushButton *m_over, *m_smell, *m_soot, *m_picture = nullptr;
};

} // namespace ohmo
