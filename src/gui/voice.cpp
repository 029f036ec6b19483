// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/voice.h"

#include "gui/act_line.h"
#include "gui/text.h"
#include "job/act_entries.h"
#include "report/spoken.h"
#include "report/wording.h"

#include <QStringList>
#include <QTextToSpeech>

#include <utility>

namespace ohmo {
namespace {

class SystemSpeaker : public Speaker {
public:
    bool ready() override {
        if (!m_speech) start();
        return m_speech->state() != QTextToSpeech::Error && !m_speech->availableVoices().isEmpty();
    }

    void say(const QString& words) override {
        if (!ready()) return;
        m_waiting << words;
        go_on();
    }

    void hush() override {
        m_waiting.clear();
        if (m_speech) m_speech->stop();
    }

private:
    void start() {
        m_speech = std::make_unique<QTextToSpeech>();
        QObject::connect(m_speech.get(), &QTextToSpeech::stateChanged, m_speech.get(), [this] { go_on(); });
    }

    void go_on() {
        if (!m_waiting.isEmpty() && m_speech->state() == QTextToSpeech::Ready) m_speech->say(m_waiting.takeFirst());
    }

    std::unique_ptr<QTextToSpeech> m_speech;
    QStringList m_waiting;
};

} // namespace

std::unique_ptr<Speaker> system_speaker() { return std::make_unique<SystemSpeaker>(); }

Voice::Voice(const Session& session, std::unique_ptr<Speaker> speaker, QObject* parent)
    : QObject(parent), m_session(session), m_speaker(std::move(speaker)) {
    connect(&session, &Session::job_changed, this, &Voice::say_logged);
    connect(&session, &Session::analysis_changed, this, &Voice::say_next);
    connect(&session, &Session::opened, this, [this] { m_next.clear(); });
}

bool Voice::turn(bool on) {
    if (on && !m_speaker->ready()) return false;
    m_on = on;
    m_next.clear();
    m_entries = m_session.job().journal.size();
    m_on ? say_next() : m_speaker->hush();
    return true;
}

// An entry that was just made; not a job that was opened, and nothing that was taken back.
void Voice::say_logged() {
    const auto& journal = m_session.job().journal;
    const bool one_more = journal.size() == std::exchange(m_entries, journal.size()) + 1;
    if (!m_on || !one_more) return;
    const auto& entry = journal.back();
    const Board& board = m_session.replay().board;
    m_speaker->hush(); // what was being said is of before
    QString words = qs(spoken(wording::understood(board, entry)));
    if (const auto& a = m_session.analysis()) {
        for (const auto& act : acts_now(m_session)) {
            if (act.act != Act::Read || entry.act != Do::Read || !reads_at(board, entry, act.query)) continue;
            words +=
                QStringLiteral(". ") + qs(spoken(ss(verdict_of(a->replay.board, act, told(a->replay, entry), entry.over || !entry.value))));
            break;
        }
    }
    m_speaker->say(words);
}

void Voice::say_next() {
    const auto& a = m_session.analysis();
    if (!m_on || !a || !m_session.up_to_date()) return;
    const auto acts = acts_now(m_session);
    const bool cold = m_session.replay().cold_unlocked;
    const QString next = cold && (a->next.stop || acts.empty()) ? qs(spoken(wording::stop(a->next.reason)))
                         : acts.empty()                         ? tr("Not yet: measure the bulk capacitor and discharge it first.")
                         : cold ? tr("Next: %1").arg(qs(spoken(wording::act_title(a->replay.board, acts.front()))))
                                : tr("Under power, next: %1").arg(qs(spoken(wording::act_title(a->replay.board, acts.front()))));
    if (next == std::exchange(m_next, next)) return;
    m_speaker->say(next);
}

} // namespace ohmo
