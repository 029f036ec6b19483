// SPDX-License-Identifier: GPL-3.0-or-later
#include "appcore/job_runner.h"

namespace ohmo {

class JobRunner::Worker : public QObject {
public:
    explicit Worker(Analyst analyst) : m_analyst(std::move(analyst)) {}

    Result<AnalysisPtr> analyse(const Job& job, const School& school, const CancelToken& cancel) {
        if (cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        m_analyst.set_school(school);
        return m_analyst.analyse(job, cancel);
    }

private:
    Analyst m_analyst;
};

JobRunner::JobRunner(Analyst analyst, QObject* parent) : QObject(parent), m_worker(new Worker(std::move(analyst))) {
    qRegisterMetaType<AnalysisPtr>();
    qRegisterMetaType<Problems>();
    m_worker->moveToThread(&m_thread);
    connect(&m_thread, &QThread::finished, m_worker, &QObject::deleteLater);
    m_thread.start();
}

JobRunner::~JobRunner() {
    cancel();
    m_thread.quit();
    m_thread.wait();
}

void JobRunner::request(const Job& job, const School& school, int number) {
    cancel();
    m_cancel = CancelToken::make();
    QMetaObject::invokeMethod(
        m_worker,
        [this, job, school, number, token = m_cancel] {
            auto result = m_worker->analyse(job, school, token);
            if (result)
                Q_EMIT finished(number, std::move(*result));
            else if (result.problem().kind != ProblemKind::Cancelled)
                Q_EMIT failed(number, result.problems());
        },
        Qt::QueuedConnection);
}

void JobRunner::cancel() { m_cancel.cancel(); }

} // namespace ohmo
