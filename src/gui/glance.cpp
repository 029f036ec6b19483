// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/glance.h"

#include "gui/act_line.h"
#include "gui/text.h"
#include "job/bench_line.h"
#include "report/wording.h"

#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>

namespace ohmo {
namespace {

constexpr double kNextShare = 0.085, kLineShare = 0.055, kValueShare = 0.14; // of the height, in pixels of text

} // namespace

Glance::Glance(const Collaborators& with, QWidget* parent) : QWidget(parent), m_with(with) {
    setObjectName(QStringLiteral("glance"));
    setAccessibleName(tr("Glance: the next act in large letters"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(40, 24, 40, 24);
    const auto line = [&](const char* name) {
        auto* label = new QLabel;
        label->setObjectName(QString::fromLatin1(name));
        label->setWordWrap(true);
        label->setAlignment(Qt::AlignLeft | Qt::AlignVCenter);
        layout->addWidget(label);
        return label;
    };
    m_next = line("glance-next");
    m_leads = line("glance-leads");
    m_value = new QLineEdit;
    m_value->setObjectName(QStringLiteral("glance-value"));
    m_value->setAccessibleName(tr("Value"));
    m_value->setPlaceholderText(tr("value"));
    m_value->installEventFilter(this);
    layout->addWidget(m_value, 1);
    m_last = line("glance-last");
    m_state = line("glance-state");
    connect(&with.session, &Session::analysis_changed, this, [this] {
        m_index = 0;
        show_now();
    });
    connect(&with.session, &Session::job_changed, this, &Glance::show_now);
    connect(m_value, &QLineEdit::returnPressed, this, &Glance::go_on);
    setFocusProxy(m_value);
    show_now();
}

const NextAct* Glance::current() const {
    const auto acts = acts_now(m_with.session);
    if (acts.empty() || check() != nullptr) return nullptr;
    return &acts[static_cast<std::size_t>(std::clamp(m_index, 0, static_cast<int>(acts.size()) - 1))];
}

// New work is proved before anything else is asked.
const WorkCheck* Glance::check() const {
    const auto& a = m_with.session.analysis();
    if (!a || !m_with.session.replay().cold_unlocked) return nullptr;
    const auto found = std::find_if(a->work.begin(), a->work.end(),
                                    [](const WorkCheck& w) { return w.state == WorkState::Open || w.state == WorkState::Failed; });
    return found == a->work.end() ? nullptr : &*found;
}

void Glance::show_now() {
    const auto& a = m_with.session.analysis();
    const auto* act = current();
    const auto* work = check();
    m_value->setEnabled(act != nullptr || work != nullptr);
    if (!m_with.session.has_job()) {
        m_next->setText(tr("No job is open"));
    } else if (!m_with.session.replay().cold_unlocked && act == nullptr) {
        m_next->setText(tr("Not yet: measure the bulk capacitor and discharge it first"));
    } else if (!a) {
        m_next->setText(tr("Working it out…"));
    } else if (work != nullptr) {
        m_next->setText(qs(wording::work_check(a->replay.board, work->check)));
    } else if (act == nullptr) {
        m_next->setText(a->next.stop ? tr("Enough measured") : tr("Nothing left to read"));
    } else {
        m_next->setText(qs(wording::act_title(a->replay.board, *act)));
    }
    m_leads->setText(act == nullptr || act->act != Act::Read ? QString()
                                                             : tr("<b style='color:#d0281a'>red</b> on %1 &nbsp; <b>black</b> on %2")
                                                                   .arg(qs(a->replay.board.net_name(act->query.red)).toHtmlEscaped(),
                                                                        qs(a->replay.board.net_name(act->query.black)).toHtmlEscaped()));
    m_last->setText(m_verdict);
    QString state;
    if (!m_with.session.up_to_date() && m_with.session.has_job())
        state = tr("working…");
    else if (a && (a->next.stop || a->next.reason == StopReason::Contradicted))
        state = qs(wording::stop(a->next.reason));
    else if (a)
        state = a->next.open.size() == 1 ? tr("one part still open") : tr("%1 parts still open").arg(a->next.open.size());
    m_state->setText(state);
}

void Glance::go_on() {
    const auto* act = current();
    const QString typed = m_value->text().trimmed();
    const auto* work = check();
    if (act == nullptr && work == nullptr) return;
    if (typed.isEmpty()) return step(1);
    const auto& now = m_with.session.replay();
    QString line = work != nullptr ? line_for(now.board, work->check) : line_for(now.board, now.evidence.meters, *act);
    if (line.endsWith(QLatin1Char(' '))) line += typed; // else it takes no value: whatever was typed says that it is done
    const auto entry = parse_bench_line(m_with.session.bench(), ss(line));
    if (!entry) {
        m_last->setText(qs(wording::problem(entry.problem())));
        return;
    }
    const QString verdict = act != nullptr && act->act == Act::Read && entry->act == Do::Read
                                ? verdict_of(now.board, *act, told(now, *entry), entry->over || !entry->value)
                                : QString();
    const auto problems = m_with.logbook.log(*entry);
    if (has_errors(problems)) {
        m_last->setText(qs(wording::problem(problems.front())));
        return;
    }
    m_verdict =
        qs(wording::entry(m_with.session.replay().board, *entry)) + (verdict.isEmpty() ? QString() : QStringLiteral(": ") + verdict);
    m_value->clear();
    show_now();
}

void Glance::step(int by) {
    const int count = static_cast<int>(acts_now(m_with.session).size());
    if (count == 0) return;
    m_index = (m_index + by + count) % count;
    show_now();
}

bool Glance::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    switch (static_cast<QKeyEvent*>(event)->key()) {
    case Qt::Key_Escape:
        Q_EMIT left();
        return true;
    case Qt::Key_PageDown:
        go_on();
        return true;
    case Qt::Key_Space:
        if (!m_value->text().trimmed().isEmpty()) break; // "1.9 k"
        go_on();
        return true;
    case Qt::Key_PageUp:
        step(-1);
        return true;
    default:
        break;
    }
    return QWidget::eventFilter(watched, event);
}

void Glance::paintEvent(QPaintEvent*) { QPainter(this).fillRect(rect(), m_with.theme.theme().window); }

void Glance::resizeEvent(QResizeEvent*) {
    const auto size = [&](QWidget* w, double share, bool bold) {
        QFont f = font();
        f.setPixelSize(std::max(16, static_cast<int>(height() * share)));
        f.setBold(bold);
        w->setFont(f);
    };
    size(m_next, kNextShare, true);
    size(m_leads, kLineShare, false);
    size(m_value, kValueShare, true);
    size(m_last, kLineShare, false);
    size(m_state, kLineShare, false);
}

} // namespace ohmo
