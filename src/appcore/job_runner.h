// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "job/pipeline.h"

#include <QObject>
#include <QThread>

#include <memory>

namespace ohmo {

using AnalysisPtr = std::shared_ptr<const Analysis>;

/// Analyses jobs on a thread of its own; a new request cancels the one under way. Answers arrive as immutable values on the caller's
/// thread.
class JobRunner : public QObject {
    Q_OBJECT
public:
    explicit JobRunner(Analyst analyst, QObject* parent = nullptr);
    ~JobRunner() override;

    /// `number` comes back with the answer, so that answers to older questions can be told apart. A board that is new may get two answers:
    /// a first look, then the whole.
    void request(const Job& job, const School& school, int number);
    void cancel();

Q_SIGNALS:
    void finished(int number, ohmo::AnalysisPtr analysis);
    void failed(int number, const ohmo::Problems& problems);

private:
    class Worker;
    QThread m_thread;
    Worker* m_worker;
    CancelToken m_cancel;
};

} // namespace ohmo

Q_DECLARE_METATYPE(ohmo::AnalysisPtr)
Q_DECLARE_METATYPE(ohmo::Problems)
