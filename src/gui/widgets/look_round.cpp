// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/look_round.h"

#include "gui/photos/take_picture.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "report/wording.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>

#include <algorithm>

namespace ohmo {
namespace {

constexpr int kColumns = 3;

QString stage_text(const std::string& stage) { return stage.empty() ? LookRound::tr("Other parts") : word_text(stage, true); }

} // namespace

LookRound::LookRound(const Collaborators& with, QWidget* parent)
    : QDialog(parent), m_with(with), m_where(body({}, "muted")), m_part(heading({})), m_find(body({})), m_so_far(body({}, "muted")),
      m_says(body({}, "muted")), m_words(new QGridLayout) {
    auto* outer = dialog_layout(*this, "look-round", tr("Look round"), {660, 440});
    m_where->setObjectName(QStringLiteral("look-round-where"));
    m_part->setObjectName(QStringLiteral("look-round-part"));
    outer->addWidget(m_where);
    outer->addWidget(m_part);
    outer->addWidget(m_find);
    m_words->setSpacing(6);
    outer->addLayout(m_words);
    auto* areas = new QHBoxLayout;
    areas->setSpacing(6);
    const auto whole = [&](const QString& text, const char* name, const char* word) {
        auto* b = button(text, name);
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, [this, word] { area(word); });
        areas->addWidget(b, 1);
        return b;
    };
    m_over = whole(tr("L  Stage looked over"), "look-round-over", "fine");
    m_smell = whole(tr("S  It smells here"), "look-round-smell", "smell");
    m_soot = whole(tr("O  Soot here"), "look-round-soot", "soot");
    m_picture = button(tr("P  Picture of it…"), "look-round-picture");
    m_picture->setAutoDefault(false);
    connect(m_picture, &QPushButton::clicked, this, &LookRound::take_its_picture);
    areas->addWidget(m_picture, 1);
    outer->addLayout(areas);
    m_says->setObjectName(QStringLiteral("look-round-says"));
    m_says->hide();
    outer->addWidget(m_says);
    outer->addWidget(m_so_far, 1);
    m_so_far->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    outer->addWidget(body(tr("A digit logs and goes on; Enter is fine. Left and Right: part before and after. PgUp, PgDown: stage before "
                             "and after. Look from several sides, with a loupe, unplugged and discharged."),
                          "muted"));
    auto* ends = new QHBoxLayout;
    ends->addStretch(1);
    auto* close = button(tr("Close"), "look-round-close");
    close->setAutoDefault(false);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    ends->addWidget(close);
    outer->addLayout(ends);
    connect(&with.session, &Session::job_changed, this, &LookRound::refresh);
    refresh();
    // Where nobody has looked yet.
    const auto open = std::find_if(m_stops.begin(), m_stops.end(), [](const LookStop& s) { return s.seen.empty(); });
    if (open != m_stops.end()) m_at = static_cast<std::size_t>(open - m_stops.begin());
    show_stop();
    setFocus();
}

void LookRound::refresh() {
    m_stops = look_round(m_with.session.replay());
    m_at = m_stops.empty() ? 0 : std::min(m_at, m_stops.size() - 1);
    show_stop();
}

std::size_t LookRound::stage_from(std::size_t at) const {
    while (at > 0 && m_stops[at - 1].stage == m_stops[at].stage) --at;
    return at;
}

void LookRound::show_stop() {
    clear_layout(m_words);
    m_shown.clear();
    const bool there = !m_stops.empty() && !m_done;
    for (auto* b : {m_over, m_smell, m_soot, m_picture}) b->setEnabled(there);
    const auto& now = m_with.session.replay();
    std::ptrdiff_t looked = std::count_if(m_stops.begin(), m_stops.end(), [](const LookStop& s) { return !s.seen.empty(); });
    QStringList found;
    for (const auto& s : m_stops)
        if (!s.seen.empty() && s.seen != "fine") found << tr("%1 %2").arg(qs(now.board.part(s.part).ref), word_text(s.seen));
    const auto pictures = now.part_pictures.size();
    m_so_far->setText(tr("%1 of %2 parts looked at.").arg(looked).arg(m_stops.size()) +
                      (found.isEmpty() ? QString() : QLatin1Char(' ') + tr("Found: %1.").arg(found.join(QStringLiteral(", ")))) +
                      (pictures == 0 ? QString() : QLatin1Char(' ') + tr("Pictures of findings: %1.").arg(pictures)));
    if (!there) {
        m_where->clear();
        m_find->clear();
        m_part->setText(m_stops.empty() ? tr("No part is known yet: Trace (Ctrl+3)") : tr("Once round. Left goes back, Esc leaves."));
        return;
    }
    const LookStop& stop = m_stops[m_at];
    const Part& part = now.board.part(stop.part);
    const std::size_t first = stage_from(m_at);
    const auto in_stage = std::count_if(m_stops.begin(), m_stops.end(), [&](const LookStop& s) { return s.stage == stop.stage; });
    m_where->setText(tr("%1 · part %2 of %3").arg(stage_text(stop.stage)).arg(m_at - first + 1).arg(in_stage));
    const QString title = qs(part.assumed ? wording::part_role(part) : wording::part_title(part)), role = qs(wording::part_role(part));
    m_part->setText(part.assumed ? title : tr("%1, %2").arg(title, role));
    m_find->setText(qs(wording::how_to_find(now.board, stop.part)));
    m_find->setVisible(!m_find->text().isEmpty());
    const auto& a = m_with.session.analysis();
    m_shown = a ? a->looks->at(part.kind) : std::vector<std::string>{"fine"};
    int k = 0;
    for (const auto& word : m_shown) {
        auto* b =
            button(QStringLiteral("%1  %2").arg(k + 1).arg(word_text(word, true)), qPrintable(QStringLiteral("look-round-") + qs(word)));
        b->setAutoDefault(false);
        b->setCheckable(true);
        b->setChecked(stop.seen == word);
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QPushButton::clicked, this, [this, word] { look(word); });
        m_words->addWidget(b, k / kColumns, k % kColumns);
        ++k;
    }
    m_with.selection.select(stop.part);
}

void LookRound::look(const std::string& word) {
    if (m_stops.empty() || m_done) return;
    Entry e;
    e.act = Do::Look;
    e.part = m_with.session.replay().board.part(m_stops[m_at].part).ref;
    e.saw = word;
    if (m_stops[m_at].seen != word) (void)m_with.logbook.log(e); // a second look at the same is no news
    go(1);
}

void LookRound::take_its_picture() {
    if (m_stops.empty() || m_done) return;
    const std::string ref = m_with.session.replay().board.part(m_stops[m_at].part).ref;
    const auto hear = [this](const QString& text, bool good) {
        set_voice(*m_says, good ? "muted" : "bad");
        m_says->setText(text);
        m_says->setVisible(!text.isEmpty());
    };
    take_picture(this, m_with, tr("Picture of %1").arg(qs(ref)), hear,
                 [this, ref](const std::string& file) { (void)m_with.logbook.log(part_picture(file, ref)); });
}

void LookRound::area(const std::string& word) {
    if (m_stops.empty() || m_done) return;
    const std::string stage = m_stops[m_at].stage;
    if (stage.empty() && word != "fine") return;
    if (stage.empty()) { // no stage to speak of: part by part
        for (std::size_t k = stage_from(m_at); k < m_stops.size() && m_stops[k].stage.empty(); ++k)
            if (m_stops[k].seen.empty()) {
                m_at = k;
                return look("fine");
            }
        return go_stage(1);
    }
    Entry e;
    e.act = Do::Look;
    e.stage = stage;
    e.saw = word;
    (void)m_with.logbook.log(e);
    if (word == "fine") go_stage(1);
}

void LookRound::go(int by) {
    if (m_stops.empty()) return;
    if (m_done && by < 0)
        m_done = false;
    else if (by > 0 && m_at + 1 >= m_stops.size())
        m_done = true;
    else
        m_at = static_cast<std::size_t>(
            std::clamp<std::ptrdiff_t>(static_cast<std::ptrdiff_t>(m_at) + by, 0, static_cast<std::ptrdiff_t>(m_stops.size()) - 1));
    show_stop();
}

void LookRound::go_stage(int by) {
    if (m_stops.empty()) return;
    if (by < 0) {
        const std::size_t first = stage_from(m_at);
        m_done = false;
        m_at = first == m_at && first > 0 ? stage_from(first - 1) : first;
    } else {
        const std::string stage = m_stops[m_at].stage;
        std::size_t next = m_at;
        while (next < m_stops.size() && m_stops[next].stage == stage) ++next;
        m_done = next == m_stops.size();
        if (!m_done) m_at = next;
    }
    show_stop();
}

void LookRound::keyPressEvent(QKeyEvent* event) {
    const int key = event->key();
    if (key >= Qt::Key_1 && key <= Qt::Key_9) {
        const auto k = static_cast<std::size_t>(key - Qt::Key_1);
        if (k < m_shown.size()) look(std::string(m_shown[k]));
        return;
    }
    switch (key) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return look("fine");
    case Qt::Key_L:
        return area("fine");
    case Qt::Key_S:
        return area("smell");
    case Qt::Key_O:
        return area("soot");
    case Qt::Key_P:
        return take_its_picture();
    case Qt::Key_Left:
    case Qt::Key_Backspace:
        return go(-1);
    case Qt::Key_Right:
        return go(1);
    case Qt::Key_PageUp:
        return go_stage(-1);
    case Qt::Key_PageDown:
        return go_stage(1);
    default:
        QDialog::keyPressEvent(event);
    }
}

} // namespace ohmo
