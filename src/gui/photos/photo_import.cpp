// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/photos/photo_import.h"

#include "job/photo_file.h"

#include <QBuffer>
#include <QCryptographicHash>
#include <QImageReader>
#include <QImageWriter>
#include <QPainter>

namespace ohmo {
namespace {

constexpr int kLongestSide = 4096;   // pixels that are kept
constexpr int kMostMegabytes = 1024; // of a picture while it is read
constexpr int kQuality = 88;
constexpr int kHashLetters = 16;

Problem no_picture(const Path& file, const QString& why) {
    return {ProblemKind::UnreadableValue,
            file.filename().string(),
            file.filename().string(),
            "a whole PNG or JPEG picture (" + why.toStdString() + ")",
            0,
            false};
}

struct Read {
    QImage image;
    QByteArray format;
};

Result<Read> read_picture(const std::string& bytes, const Path& file) {
    QByteArray data = QByteArray::fromRawData(bytes.data(), static_cast<qsizetype>(bytes.size()));
    QBuffer buffer(&data);
    buffer.open(QIODevice::ReadOnly);
    QImageReader reader(&buffer);
    reader.setDecideFormatFromContent(true);
    reader.setAutoTransform(true);
    QImageReader::setAllocationLimit(kMostMegabytes);
    Read out;
    out.format = reader.format();
    if (out.format != "png" && out.format != "jpeg") return no_picture(file, QStringLiteral("it is neither"));
    if (const QSize size = reader.size(); std::max(size.width(), size.height()) > kLongestSide)
        reader.setScaledSize(size.scaled(kLongestSide, kLongestSide, Qt::KeepAspectRatio));
    if (!reader.read(&out.image) || out.image.isNull()) return no_picture(file, reader.errorString());
    return out;
}

} // namespace

Result<KeptPhoto> keep_photo(const Disk& disk, const Path& from, const Path& job) {
    const auto bytes = disk.read(from, kLargestPhoto);
    if (!bytes) return bytes.problems();
    auto read = read_picture(*bytes, from);
    if (!read) return read.problems();
    QImage bare(read->image.size(), QImage::Format_RGB32); // pixels only
    bare.fill(Qt::white);
    QPainter painter(&bare);
    painter.drawImage(0, 0, read->image);
    painter.end();
    QByteArray kept;
    QBuffer buffer(&kept);
    buffer.open(QIODevice::WriteOnly);
    QImageWriter writer(&buffer, read->format);
    writer.setQuality(read->format == "jpeg" ? kQuality : -1);
    if (!writer.write(bare)) return no_picture(from, writer.errorString());
    const QByteArray hash = QCryptographicHash::hash(kept, QCryptographicHash::Sha256).toHex().left(kHashLetters);
    KeptPhoto out;
    out.file = job.stem().stem().string() + "." + hash.toStdString() + (read->format == "jpeg" ? ".jpg" : ".png");
    if (const auto written = disk.write(photo_path(job, out.file), kept.toStdString()); !written) return written.problems();
    out.image = std::move(bare);
    return out;
}

Result<QImage> kept_photo(const Disk& disk, const Path& job, const std::string& file) {
    const auto path = photo_path(job, file);
    const auto bytes = disk.read(path, kLargestPhoto);
    if (!bytes) return bytes.problems();
    auto read = read_picture(*bytes, path);
    if (!read) return read.problems();
    return std::move(read->image);
}

} // namespace ohmo
