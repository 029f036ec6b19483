// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/ruler/reading_ruler.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "report/wording.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

struct Scale {
    double lo, hi;
    bool linear;
};

Scale scale_of(Quantity what) {
    switch (what) {
    case Quantity::Diode:
        return {0, 3, true};
    case Quantity::Esr:
        return {0.01, 200, false}; // logarithmic scales end beyond a decade, clear of the label of the over-range
    case Quantity::Farads:
        return {1e-9, 0.05, false};
    case Quantity::Continuity:
        return {0, 1, true};
    case Quantity::Leakage:
        return {1e-8, 2e-3, false};
    case Quantity::Residue:
        return {0, 1, true};
    case Quantity::VoltsDirect:
    case Quantity::VoltsAlternating:
        return {0.1, 1000, false}; // by size; what is below is nothing
    default:
        return {0.1, 2e7, false};
    }
}

constexpr double kOverBay = 64;             // pixels kept for over-range
constexpr double kHardlyLikely = 0.005;     // of a band's chance
constexpr int kDropMs = 320, kRestMs = 330; // the needle falls and rests a moment
constexpr double kDropHeight = 34, kFaded = 0.25;

} // namespace

ReadingRuler::ReadingRuler(const ThemeSource& theme, QWidget* parent) : QWidget(parent), m_theme(theme) {
    setObjectName(QStringLiteral("reading-ruler"));
    setAccessibleName(tr("Reading ruler"));
    setFocusPolicy(Qt::StrongFocus);
    m_drop.setDuration(kDropMs + kRestMs);
    m_drop.setStartValue(0.0);
    m_drop.setEndValue(1.0);
    connect(&m_drop, &QVariantAnimation::valueChanged, this, qOverload<>(&QWidget::update));
    connect(&m_drop, &QVariantAnimation::finished, this, [this] {
        if (m_next) take(*std::exchange(m_next, std::nullopt));
    });
    connect(&theme, &ThemeSource::changed, this, qOverload<>(&QWidget::update));
}

double ReadingRuler::place(Quantity what, double value) {
    const Scale s = scale_of(what);
    if (under_power(what)) value = std::fabs(value);
    if (s.linear) return std::clamp((value - s.lo) / (s.hi - s.lo), 0.0, 1.0);
    return std::clamp(std::log(std::max(value, s.lo) / s.lo) / std::log(s.hi / s.lo), 0.0, 1.0);
}

bool RulerScene::excluded(const Band& band) const {
    if (!needle) return false;
    return needle->over ? !band.over : band.over || needle->value < band.lo || needle->value > band.hi;
}

void ReadingRuler::show_scene(const RulerScene& scene) {
    if (m_drop.state() == QAbstractAnimation::Running && !scene.needle) {
        m_next = scene;
        return;
    }
    const bool falls = scene.needle && scene.needle != m_scene.needle;
    m_next.reset();
    take(scene);
    if (falls && isVisible()) m_drop.start();
}

void ReadingRuler::show_typed(const std::optional<RulerScene::Needle>& needle) {
    if (m_typed == needle) return;
    m_typed = needle;
    update();
}

void ReadingRuler::keyPressEvent(QKeyEvent* event) {
    const QString text = event->text();
    const bool plain = !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
    if (!plain || text.isEmpty() || !(text.front().isLetterOrNumber() || text.front() == QLatin1Char('.')))
        return QWidget::keyPressEvent(event);
    Q_EMIT typed(text);
}

void ReadingRuler::take(const RulerScene& scene) {
    m_scene = scene;
    QStringList said;
    for (std::size_t i = 0; i < scene.bands.size(); ++i) {
        const auto& b = scene.bands[i];
        const std::string unit = wording::unit(scene.what);
        said << (b.over                 ? tr("over range")
                 : b.lo < 0 && b.hi > 0 ? tr("about nothing")
                                        : qs(format_quantity(b.lo, unit)) + QStringLiteral(" to ") + qs(format_quantity(b.hi, unit))) +
                    QStringLiteral(": ") + scene.labels[i];
    }
    setAccessibleDescription(said.join(QStringLiteral("; ")));
    if (!said.isEmpty()) said << tr("Type the value: it goes into the bench line with its place filled in.");
    setToolTip(said.join(QLatin1Char('\n')));
    update();
}

// Where things lie; the bay is for over-range.
struct ReadingRuler::Layout {
    double left, right, axis, band_top, band_height;
    QRectF bay;
};

ReadingRuler::Layout ReadingRuler::layout_now() const {
    const double k = text_scale(), bay = kOverBay * k, right = width() - bay - 18 * k, axis = height() - 26 * k, band_top = axis - 26 * k;
    return {34 * k, right, axis, band_top, 22 * k, QRectF(right + 12 * k, band_top, bay, 26 * k)};
}

double ReadingRuler::x_of(const Layout& at, double value) const { return at.left + (at.right - at.left) * place(m_scene.what, value); }

void ReadingRuler::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    QFont small = font();
    small.setPixelSize(std::max(11, font().pixelSize() * 11 / 13));
    p.setFont(small);
    const Layout at = layout_now();
    paint_scale(p, at);
    paint_bands(p, at);
    if (m_scene.needle)
        paint_needle(p, at, *m_scene.needle, true);
    else if (m_typed)
        paint_needle(p, at, *m_typed, false);
    if (!hasFocus()) return;
    p.setPen(QPen(m_theme.theme().accent, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
}

void ReadingRuler::paint_scale(QPainter& p, const Layout& at) const {
    const Theme& t = m_theme.theme();
    const Scale s = scale_of(m_scene.what);
    p.setPen(QPen(t.text, 1.4));
    p.drawLine(QPointF(at.left, at.axis), QPointF(at.right, at.axis));
    const std::string unit = wording::unit(m_scene.what);
    const double k = text_scale();
    const bool below = under_power(m_scene.what) &&
                       std::any_of(m_scene.bands.begin(), m_scene.bands.end(), [](const Band& b) { return b.healthy && b.hi < 0; });
    const QString sign = below ? QStringLiteral("−") : QString();
    double named_to = -1e9;
    const auto tick = [&](double value, bool named) {
        const double x = x_of(at, value);
        p.setPen(QPen(t.muted, 1));
        p.drawLine(QPointF(x, at.axis), QPointF(x, at.axis + (named ? 7 : 4)));
        if (!named) return;
        const QString name = sign + qs(format_nominal(value, unit));
        const double w = QFontMetricsF(p.font()).horizontalAdvance(name);
        if (x - w / 2 < named_to + 6 || x + w / 2 > at.bay.left() - 16 * k) return; // no room beside the one before
        named_to = x + w / 2;
        p.setPen(t.muted);
        p.drawText(QRectF(x - w / 2 - 2, at.axis + 8 * k, w + 4, 16 * k), Qt::AlignHCenter | Qt::AlignTop | Qt::TextDontClip, name);
    };
    if (m_scene.what == Quantity::Continuity) {
        p.setPen(t.muted);
        p.drawText(QRectF(at.left, at.axis + 8 * k, 80 * k, 16 * k), Qt::AlignLeft, tr("silent"));
        p.drawText(QRectF(at.right - 80 * k, at.axis + 8 * k, 80 * k, 16 * k), Qt::AlignRight, tr("beeps"));
    } else if (s.linear) {
        for (int tenth = 0; tenth <= 30; ++tenth) tick(0.1 * tenth, tenth % 5 == 0);
    } else {
        for (double decade = s.lo; decade <= s.hi * 1.001; decade *= 10)
            for (int m = 1; m < 10; ++m)
                if (decade * m <= s.hi * 1.001) tick(decade * m, m == 1);
    }
    if (under_power(m_scene.what)) return; // volts have no end
    p.setPen(QPen(t.line, 1));
    p.setBrush(t.inset);
    p.drawRect(at.bay);
    p.setPen(t.muted);
    p.drawText(QRectF(at.bay.left() - 12 * k, at.axis + 8 * k, at.bay.width() + 24 * k, 16 * k), Qt::AlignHCenter, tr("over range"));
}

// Labels climb to a free line.
void ReadingRuler::paint_bands(QPainter& p, const Layout& at) const {
    const Theme& t = m_theme.theme();
    const QFontMetricsF metrics(p.font());
    const double k = text_scale();
    std::vector<double> line_end(3, -1e9);
    const double fallen = fall();
    for (std::size_t i = 0; i < m_scene.bands.size(); ++i) {
        const Band& b = m_scene.bands[i];
        if (b.p < kHardlyLikely && !b.healthy) continue;
        const bool about_nothing = under_power(m_scene.what) && b.lo < 0 && b.hi > 0;
        const auto [x_lo, x_hi] = std::minmax({about_nothing ? at.left : x_of(at, b.lo), x_of(at, b.hi)});
        const QRectF box = b.over ? at.bay.adjusted(3, 2, -3, -2) : QRectF(x_lo, at.band_top, std::max(5.0, x_hi - x_lo), at.band_height);
        const QColor ink = b.healthy ? t.good : b.p >= 0.5 ? t.bad : b.p >= 0.1 ? t.suspect : t.muted;
        const QColor fill = b.healthy ? t.good_fill : b.p >= 0.5 ? t.bad_fill : b.p >= 0.1 ? t.suspect_fill : t.inset;
        p.setOpacity(m_scene.excluded(b) ? 1 - (1 - kFaded) * fallen : 1);
        p.setPen(QPen(ink, b.healthy ? 1.6 : 1.4, b.p < kHardlyLikely ? Qt::DotLine : Qt::SolidLine));
        p.setBrush(fill);
        p.drawRoundedRect(box, 3, 3);
        if (b.healthy) {
            p.setPen(Qt::NoPen);
            QColor faint = t.good;
            faint.setAlpha(90);
            p.setBrush(QBrush(faint, Qt::Dense6Pattern));
            p.drawRoundedRect(box.adjusted(1, 1, -1, -1), 3, 3);
        }
        const QString text = b.p < kHardlyLikely ? m_scene.labels[i] : m_scene.labels[i] + QStringLiteral(" · ") + qs(format_share(b.p));
        const double w = metrics.horizontalAdvance(text) + 6;
        const double x = std::clamp(box.center().x() - w / 2, 2.0, width() - w - 2);
        for (std::size_t line = 0; line < line_end.size(); ++line) {
            if (x < line_end[line] + 8) continue;
            line_end[line] = x + w;
            const double y = at.band_top - (19 + 17 * static_cast<double>(line)) * k;
            if (y < 0) break;
            p.setPen(QPen(ink, 0.8, Qt::DotLine));
            p.drawLine(QPointF(box.center().x(), at.band_top), QPointF(box.center().x(), y + 16 * k));
            p.setPen(ink);
            p.drawText(QRectF(x, y, w, 16 * k), Qt::AlignCenter, text);
            break;
        }
    }
    p.setOpacity(1);
}

double ReadingRuler::fall() const {
    if (m_drop.state() != QAbstractAnimation::Running) return 1;
    const double at = std::min(1.0, m_drop.currentValue().toDouble() * (kDropMs + kRestMs) / kDropMs);
    return at * at; // as things fall
}

// Full where it fell, hollow while it is typed.
void ReadingRuler::paint_needle(QPainter& p, const Layout& at, const RulerScene::Needle& needle, bool fallen) const {
    const Theme& t = m_theme.theme();
    const double x = needle.over ? at.bay.center().x() : x_of(at, needle.value);
    const double up = fallen ? kDropHeight * (1 - fall()) : 0;
    p.setPen(QPen(t.text, fallen ? 2.4 : 1.4, fallen ? Qt::SolidLine : Qt::DashLine));
    p.drawLine(QPointF(x, at.band_top - 8 - up), QPointF(x, at.axis + 6 - up));
    p.setBrush(fallen ? t.text : t.panel);
    p.setPen(fallen ? QPen(Qt::NoPen) : QPen(t.text, 1.4));
    const QPointF head[] = {QPointF(x - 6, at.band_top - 8 - up), QPointF(x + 6, at.band_top - 8 - up), QPointF(x, at.band_top + 2 - up)};
    p.drawPolygon(head, 3);
}

} // namespace ohmo
