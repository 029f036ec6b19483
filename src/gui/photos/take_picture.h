// SPDX-License-Identifier: GPL-3.0-or-later
// A picture file, asked for and kept beside the job; pictures that are kept, made small; one of them looked at.
#pragma once
#include "gui/stations/station.h"

#include <QImage>

#include <functional>
#include <map>
#include <optional>
#include <string>

class QDialog;

namespace ohmo {

/// Asks for a picture and keeps it, off the interface thread. `say` hears how it goes, `then` the name it is kept by.
void take_picture(QWidget* window, const Collaborators& with, const QString& title, std::function<void(const QString& text, bool good)> say,
                  std::function<void(const std::string& file)> then);

/// The kept picture in a window of its own.
QDialog* show_picture(QWidget* window, const Session& session, const std::string& file, const QString& title);

/// Small pictures of those that are kept, each read once, off the interface thread.
class Thumbnails : public QObject {
    Q_OBJECT
public:
    Thumbnails(const Session& session, QSize largest, QObject* parent = nullptr);
    /// Nothing until it was read (`ready` follows), empty where it cannot be.
    std::optional<QImage> of(const std::string& file);

Q_SIGNALS:
    void ready(const std::string& file);

private:
    const Session& m_session;
    QSize m_largest;
    std::map<std::string, std::optional<QImage>> m_read;
};

} // namespace ohmo
