// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/photos/take_picture.h"

#include "appcore/background.h"
#include "gui/photos/photo_import.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "report/wording.h"

#include <QDialog>

namespace ohmo {

void take_picture(QWidget* window, const Collaborators& with, const QString& title, std::function<void(const QString&, bool)> say,
                  std::function<void(const std::string&)> then) {
    if (with.session.path().empty()) return say(QObject::tr("Pictures are kept beside the job: save it first (Ctrl+S)."), false);
    const auto keep = [window, &session = with.session, say = std::move(say), then = std::move(then)](const QString& file) {
        say(QObject::tr("Taking the picture in…"), true);
        in_background(
            window, [&disk = session.disk(), from = Path(ss(file)), job = session.path()] { return keep_photo(disk, from, job); },
            [say, then](const Result<KeptPhoto>& kept) {
                if (!kept) return say(qs(wording::problem(kept.problem())), false);
                say({}, true);
                then(kept->file);
            });
    };
    with.choose_file(window, {title, {}, QObject::tr("Pictures (*.png *.jpg *.jpeg)"), false}, keep);
}

QDialog* show_picture(QWidget* window, const Session& session, const std::string& file, const QString& title) {
    auto* dialog = new QDialog(window);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = dialog_layout(*dialog, "picture", title, {820, 640});
    auto* shown = new QLabel(QObject::tr("Reading the picture…"));
    shown->setObjectName(QStringLiteral("picture-shown"));
    shown->setAccessibleName(title);
    shown->setAlignment(Qt::AlignCenter);
    shown->setMinimumSize(1, 1);
    layout->addWidget(shown, 1);
    const auto read = [&disk = session.disk(), job = session.path(), file,
                       room = dialog->size() * dialog->devicePixelRatioF()]() -> Result<QImage> {
        const auto image = kept_photo(disk, job, file);
        if (!image) return image.problems();
        return image->scaled(room - QSize(40, 60), Qt::KeepAspectRatio, Qt::SmoothTransformation);
    };
    in_background(shown, read, [shown](const Result<QImage>& image) {
        if (image)
            shown->setPixmap(QPixmap::fromImage(*image));
        else
            shown->setText(qs(wording::problem(image.problem())));
    });
    dialog->open();
    return dialog;
}

Thumbnails::Thumbnails(const Session& session, QSize largest, QObject* parent) : QObject(parent), m_session(session), m_largest(largest) {}

std::optional<QImage> Thumbnails::of(const std::string& file) {
    if (const auto at = m_read.find(file); at != m_read.end()) return at->second;
    m_read[file] = std::nullopt;
    in_background(
        this,
        [&disk = m_session.disk(), job = m_session.path(), file, largest = m_largest] {
            const auto image = kept_photo(disk, job, file);
            return image ? image->scaled(largest, Qt::KeepAspectRatio, Qt::SmoothTransformation) : QImage();
        },
        [this, file](const QImage& image) {
            m_read[file] = image;
            Q_EMIT ready(file);
        });
    return std::nullopt;
}

} // namespace ohmo
