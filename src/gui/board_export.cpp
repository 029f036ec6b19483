// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/board_export.h"

#include "gui/map/map_view.h"
#include "gui/text.h"
#include "report/board_table.h"
#include "report/wording.h"

#include <QBuffer>
#include <QPainter>
#include <QPixmap>
#include <QSvgGenerator>

namespace ohmo {
namespace {

constexpr QSize kPicture(1600, 1000);

// The whole board as the map shows it, with nothing selected.
std::string picture(const Collaborators& with, bool svg) {
    Selection nothing;
    MapView map(with.session, nothing, with.theme);
    map.show_whole(true);
    map.resize(kPicture);
    map.setAttribute(Qt::WA_DontShowOnScreen); // laid out as if it were shown
    map.show();
    map.fit();
    QBuffer buffer;
    buffer.open(QIODevice::WriteOnly);
    if (svg) {
        QSvgGenerator out;
        out.setOutputDevice(&buffer);
        out.setSize(kPicture);
        out.setViewBox(QRect(QPoint(0, 0), kPicture));
        out.setTitle(qs(with.session.job().unit.name));
        map.render(&out);
    } else {
        QPixmap image(kPicture * 2);
        image.setDevicePixelRatio(2);
        map.render(&image);
        image.save(&buffer, "PNG");
    }
    return buffer.data().toStdString();
}

} // namespace

void export_board(const Collaborators& with, QWidget* window, const std::function<void(const QString&, bool)>& said) {
    const auto& board = with.session.replay().board;
    if (board.parts.empty()) return said(QObject::tr("There is no board to export yet."), false);
    const FileQuestion question{QObject::tr("Export the board"), QString(),
                                QObject::tr("Parts list (*.csv);;Tables (*.md);;Netlist (*.cir);;Picture (*.svg *.png)"), true};
    with.choose_file(window, question, [with, said](const QString& file) {
        const auto& now = with.session.replay().board;
        const bool svg = file.endsWith(QStringLiteral(".svg"), Qt::CaseInsensitive),
                   png = file.endsWith(QStringLiteral(".png"), Qt::CaseInsensitive);
        const auto text = svg || png ? Result<std::string>(picture(with, svg)) : board_as(now, with.session.job().unit, ss(file));
        if (!text) return said(qs(wording::problem(text.problem())), false);
        const auto written = with.session.disk().write(ss(file), *text);
        if (!written) return said(qs(wording::problem(written.problem())), false);
        said(QObject::tr("The board is in %1.").arg(file), true);
    });
}

} // namespace ohmo
