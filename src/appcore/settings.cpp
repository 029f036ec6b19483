// SPDX-License-Identifier: GPL-3.0-or-later
#include "appcore/settings.h"

#include <QStandardPaths>

namespace ohmo {

QString Settings::default_file() {
    return QStandardPaths::writableLocation(QStandardPaths::GenericConfigLocation) + QStringLiteral("/ohmotrace/settings.ini");
}

void Settings::add_recent_job(const QString& path) {
    QStringList list = recent_jobs();
    list.removeAll(path);
    list.prepend(path);
    while (list.size() > 8) list.removeLast();
    m_store.setValue(QStringLiteral("jobs/recent"), list);
}

} // namespace ohmo
