// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/photos/marked_picture.h"

#include "gui/text.h"

#include <QBuffer>
#include <QImage>
#include <QPainter>

namespace ohmo {
namespace {

constexpr double kLetters = 1.0 / 42; // of the width
constexpr int kQuality = 85;

void paint(QPainter& p, const RecordMark& mark, QSize size) {
    const QPointF at(mark.spot.x * size.width(), mark.spot.y * size.width());
    const double dot = p.fontMetrics().height() / 4.0;
    p.setPen(QPen(Qt::white, dot));
    p.drawEllipse(at, dot, dot);
    p.setPen(QPen(Qt::black, dot / 2));
    p.drawEllipse(at, dot, dot);
    const QString text = qs(mark.text);
    QRectF label = QRectF(p.fontMetrics().boundingRect(text)).adjusted(-dot, -dot / 2, dot, dot / 2);
    label.moveCenter({0, at.y()});
    label.moveLeft(at.x() + 2 * dot);
    if (label.right() > size.width()) label.moveRight(at.x() - 2 * dot);
    p.fillRect(label, Qt::white);
    p.drawRect(label);
    p.drawText(label, Qt::AlignCenter, text);
}

} // namespace

RecordPicture painted(RecordPicture picture, int width) {
    QImage image = QImage::fromData(QByteArray::fromRawData(picture.bytes.data(), static_cast<qsizetype>(picture.bytes.size())));
    if (image.isNull()) return picture;
    image = (image.width() > width ? image.scaledToWidth(width, Qt::SmoothTransformation) : image).convertToFormat(QImage::Format_RGB32);
    QPainter p(&image);
    p.setRenderHint(QPainter::Antialiasing);
    QFont font = p.font();
    font.setPixelSize(std::max(9, static_cast<int>(image.width() * kLetters)));
    p.setFont(font);
    for (const auto& mark : picture.marks) paint(p, mark, image.size());
    p.end();
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    if (image.save(&buffer, picture.file.ends_with(".png") ? "PNG" : "JPEG", kQuality)) {
        picture.bytes = bytes.toStdString();
        picture.marks.clear();
    }
    return picture;
}

} // namespace ohmo
