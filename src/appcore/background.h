// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QFuture>
#include <QObject>
#include <QPromise>
#include <QThreadPool>

#include <memory>
#include <type_traits>
#include <utility>

namespace ohmo {

/// Runs `work` on a thread of the pool, then `done` with its result on the thread of `context`; never when that is gone by then. What
/// `work` refers to must outlive it: whoever owns such things waits for the pool before they go.
template <class Work, class Done>
void in_background(QObject* context, Work work, Done done) {
    using Value = std::invoke_result_t<Work>;
    auto promise = std::make_shared<QPromise<Value>>();
    promise->future().then(context, [done = std::move(done)](Value value) mutable { done(std::move(value)); });
    promise->start();
    QThreadPool::globalInstance()->start([promise, work = std::move(work)]() mutable {
        promise->addResult(work());
        promise->finish();
    });
}

} // namespace ohmo
