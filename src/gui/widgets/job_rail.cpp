// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/job_rail.h"

#include <QPainter>
#include <QVBoxLayout>

namespace ohmo {

class JobRail::Button : public QAbstractButton {
public:
    Button(int number, const StationInfo& info, const ThemeSource& theme) : m_number(number), m_theme(theme) {
        setObjectName(QStringLiteral("rail-") + info.id);
        setText(info.title);
        setCheckable(true);
        setFocusPolicy(Qt::TabFocus);
        setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Preferred);
        setMinimumHeight(52);
        setMaximumHeight(76);
    }

    void show_status(const StationStatus& status) {
        m_status = status;
        const QString word = status.state == StationState::Done     ? tr("done")
                             : status.state == StationState::Locked ? tr("locked")
                                                                    : tr("open");
        setToolTip(tr("%1, %2: %3 (Ctrl+%4)").arg(text(), word, status.why).arg(m_number));
        setAccessibleName(tr("%1, %2").arg(text(), word));
        setAccessibleDescription(status.why);
        update();
    }

    QSize sizeHint() const override { return {96, 72}; }

protected:
    void paintEvent(QPaintEvent*) override {
        const Theme& t = m_theme.theme();
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        if (isChecked()) {
            p.fillRect(rect(), t.window);
            p.fillRect(QRect(0, 0, 5, height()), t.rail_mark);
        } else if (underMouse() || hasFocus()) {
            QColor light = t.rail_text;
            light.setAlpha(28);
            p.fillRect(rect(), light);
        }
        if (hasFocus()) {
            p.setPen(QPen(t.rail_mark, 1, Qt::DotLine));
            p.drawRect(rect().adjusted(7, 2, -3, -3));
        }
        const QColor ink = isChecked() ? t.text : t.rail_text;
        const QPointF middle(width() / 2.0, height() / 2.0 - 10);
        mark(p, middle, ink, t);
        QFont f = font();
        f.setBold(isChecked());
        f.setPixelSize(std::min(f.pixelSize(), 14));
        p.setFont(f);
        p.setPen(ink);
        p.drawText(QRectF(0, middle.y() + 15, width(), 20), Qt::AlignHCenter | Qt::AlignTop, text());
    }

    void enterEvent(QEnterEvent*) override { update(); }
    void leaveEvent(QEvent*) override { update(); }

private:
    void mark(QPainter& p, QPointF c, const QColor& ink, const Theme& t) const {
        const QRectF box(c.x() - 12, c.y() - 12, 24, 24);
        if (m_status.state == StationState::Done) {
            p.setPen(QPen(ink, 1.6));
            p.setBrush(Qt::NoBrush);
            p.drawRoundedRect(box, 4, 4);
            p.setPen(QPen(isChecked() ? t.good : t.rail_mark, 3, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            p.drawPolyline(QPolygonF({c + QPointF(-6, 0), c + QPointF(-1.5, 5), c + QPointF(7, -6)}));
            return;
        }
        p.setPen(QPen(ink, 1.6, m_status.state == StationState::Locked ? Qt::DotLine : Qt::SolidLine));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(box, 4, 4);
        QFont f = font();
        f.setBold(true);
        f.setPixelSize(13);
        p.setFont(f);
        p.setPen(ink);
        p.drawText(box, Qt::AlignCenter, QString::number(m_number));
        if (m_status.state == StationState::Locked) { // a bar across the corner
            p.setPen(QPen(t.rail_mark, 3, Qt::SolidLine, Qt::RoundCap));
            p.drawLine(c + QPointF(9, -16), c + QPointF(16, -9));
        }
    }

    int m_number;
    const ThemeSource& m_theme;
    StationStatus m_status;
};

JobRail::JobRail(const Session& session, const ThemeSource& theme, QWidget* parent) : QWidget(parent), m_session(session), m_theme(theme) {
    setObjectName(QStringLiteral("job-rail"));
    setAccessibleName(tr("Stations"));
    setFixedWidth(96);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 48, 0, 8);
    layout->setSpacing(2);
    int number = 0;
    for (const auto& info : all_stations()) {
        auto* b = new Button(++number, info, theme);
        layout->addWidget(b, 1);
        m_buttons.push_back(b);
        connect(b, &QAbstractButton::clicked, this, [this, id = info.id] { Q_EMIT chosen(id); });
    }
    layout->addStretch(1);
    connect(&session, &Session::job_changed, this, &JobRail::refresh);
    connect(&session, &Session::analysis_changed, this, &JobRail::refresh);
    connect(&theme, &ThemeSource::changed, this, [this] { update(); });
    refresh();
}

void JobRail::set_current(const QString& id) {
    for (std::size_t i = 0; i < m_buttons.size(); ++i) m_buttons[i]->setChecked(all_stations()[i].id == id);
}

void JobRail::refresh() {
    for (std::size_t i = 0; i < m_buttons.size(); ++i) m_buttons[i]->show_status(status_of(all_stations()[i], m_session));
}

void JobRail::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const Theme& t = m_theme.theme();
    p.fillRect(rect(), t.rail);
    // Our mark: a trace that runs down and ends in a probe point.
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(t.rail_mark, 2.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPolyline(QPolygonF({QPointF(16, 14), QPointF(34, 14), QPointF(34, 30), QPointF(46, 30)}));
    p.setBrush(t.rail_mark);
    p.drawEllipse(QPointF(16, 14), 3.5, 3.5);
    QFont f = font();
    f.setBold(true);
    f.setPixelSize(13);
    p.setFont(f);
    p.setPen(t.rail_text);
    p.drawText(QRectF(40, 4, 52, 18), Qt::AlignLeft | Qt::AlignVCenter, QStringLiteral("ohmo"));
    p.drawText(QRectF(50, 21, 44, 18), Qt::AlignLeft | Qt::AlignVCenter, QStringLiteral("trace"));
}

} // namespace ohmo
