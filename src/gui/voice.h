// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "appcore/session.h"

#include <QObject>
#include <QString>

#include <memory>

namespace ohmo {

/// Whatever speaks.
class Speaker {
public:
    virtual ~Speaker() = default;
    virtual bool ready() = 0;                   ///< there is an engine and it has a voice
    virtual void say(const QString& words) = 0; ///< after what is being said
    virtual void hush() = 0;
};

/// The speech service of the desktop; nothing is started before the first call.
std::unique_ptr<Speaker> system_speaker();

/// For hands and eyes that are at the board: says what was logged and what it showed, then what comes next. Off until it is turned on.
class Voice : public QObject {
    Q_OBJECT
public:
    Voice(const Session& session, std::unique_ptr<Speaker> speaker, QObject* parent = nullptr);

    /// False where nothing on this machine can speak.
    bool turn(bool on);
    bool on() const { return m_on; }

private:
    void say_logged();
    void say_next();

    const Session& m_session;
    std::unique_ptr<Speaker> m_speaker;
    QString m_next; ///< said last
    std::size_t m_entries = 0;
    bool m_on = false;
};

} // namespace ohmo
