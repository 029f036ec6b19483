// SPDX-License-Identifier: GPL-3.0-or-later
#include "appcore/job_runner.h"

namespace ohmo {

class JobRunner::Worker : public QObject {
public:
    explicit Worker(Analyst made) : analyst(std::move(made)) {}

    Analyst analyst;
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
    const auto work = [this, job, school, number, token = m_cancel] {
        if (token.cancelled()) return;
        Analyst& analyst = m_worker->analyst;
        analyst.set_school(school);
        const auto whole = analyst.analyse(job, token);
        if (whole)
            Q_EMIT finished(number, *whole);
        else if (whole.problem().kind != ProblemKind::Cancelled)
            Q_EMIT failed(number, whole.problems());
    };
    QMetaObject::invokeMethod(m_worker, work, Qt::QueuedConnection);
}

void JobRunner::cancel() { m_cancel.cancel(); }

} // namespace ohmo
