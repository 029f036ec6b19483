// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/chain_view.h"

#include "gui/text.h"
#include "report/wording.h"

#include <QPainter>

#include <cmath>

namespace ohmo {
namespace {

constexpr double kRatioSpan = 3; // decades shown either side of the limit together

int row_height(const QFontMetrics& m) { return m.height() * 3 + 16; }

} // namespace

ChainView::ChainView(const ThemeSource& theme, QWidget* parent) : QWidget(parent), m_theme(theme) {
    setObjectName(QStringLiteral("chain"));
    setAccessibleName(tr("Damage chain"));
    connect(&theme, &ThemeSource::changed, this, qOverload<>(&QWidget::update));
}

QSize ChainView::sizeHint() const { return {400, std::max<int>(1, static_cast<int>(m_rows.size())) * row_height(fontMetrics()) + 6}; }

void ChainView::show_chain(const Board& board, const std::vector<Step>& steps, const std::vector<QString>& evidence) {
    m_rows.clear();
    QStringList said;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const auto& s = steps[i];
        m_rows.push_back({qs(wording::fault(board, s.fault)), qs(wording::step(board, s)), i < evidence.size() ? evidence[i] : QString(),
                          s.limit > 0 ? s.value / s.limit : 0});
        said << m_rows.back().title + QStringLiteral(": ") + m_rows.back().detail;
    }
    setAccessibleDescription(said.join(QStringLiteral("; ")));
    updateGeometry();
    update();
}

void ChainView::paintEvent(QPaintEvent*) {
    const Theme& t = m_theme.theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const int h = row_height(fontMetrics()), line = fontMetrics().height();
    if (m_rows.empty()) {
        p.setPen(t.muted);
        p.drawText(rect(), Qt::AlignCenter, tr("No damage in this story."));
        return;
    }
    QFont bold = font();
    bold.setBold(true);
    const double radius = 0.65 * line, left = 2 * radius + 12; // the number in its circle; the text beside it
    const double bar_width = std::clamp(width() * 0.26, 90.0, 260.0), text_width = width() - left - bar_width - 20;
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const auto& row = m_rows[i];
        const double top = 4 + static_cast<double>(i) * h;
        if (i + 1 < m_rows.size()) {
            p.setPen(QPen(t.bad, 2));
            p.drawLine(QPointF(radius + 2, top + 2 * radius + 2), QPointF(radius + 2, top + h));
        }
        p.setPen(Qt::NoPen);
        p.setBrush(t.bad);
        const QRectF circle(2, top + 1, 2 * radius, 2 * radius);
        p.drawEllipse(circle);
        p.setPen(t.dark ? t.window : QColor(Qt::white));
        p.setFont(bold);
        p.drawText(circle, Qt::AlignCenter, QString::number(i + 1));
        p.setPen(t.text);
        p.drawText(QRectF(left, top + 2, text_width, line), Qt::AlignLeft | Qt::AlignVCenter,
                   QFontMetrics(bold).elidedText(row.title, Qt::ElideRight, static_cast<int>(text_width)));
        p.setFont(font());
        p.drawText(QRectF(left, top + 3 + line, text_width, line), Qt::AlignLeft | Qt::AlignVCenter,
                   fontMetrics().elidedText(row.detail, Qt::ElideRight, static_cast<int>(text_width)));
        p.setPen(t.muted);
        p.drawText(QRectF(left, top + 4 + 2 * line, text_width, line), Qt::AlignLeft | Qt::AlignVCenter,
                   fontMetrics().elidedText(row.evidence, Qt::ElideRight, static_cast<int>(text_width)));
        if (row.ratio <= 0) continue;
        // Stress against limit on a log bar, the limit marked.
        const QRectF bar(width() - bar_width - 8, top + 8, bar_width, 12);
        const auto place = [&](double ratio) {
            return bar.left() + bar.width() * std::clamp(0.5 + std::log10(ratio) / kRatioSpan, 0.02, 1.0);
        };
        p.setPen(Qt::NoPen);
        p.setBrush(t.inset);
        p.drawRect(bar);
        p.setBrush(row.ratio >= 1 ? t.bad : t.suspect);
        p.drawRect(QRectF(bar.topLeft(), QPointF(place(row.ratio), bar.bottom())));
        p.setPen(QPen(t.text, 2));
        p.drawLine(QPointF(place(1), bar.top() - 4), QPointF(place(1), bar.bottom() + 4));
        p.setPen(t.muted);
        p.drawText(QRectF(bar.left(), bar.bottom() + 4, bar.width(), line), Qt::AlignHCenter,
                   tr("%1 × its limit").arg(row.ratio, 0, 'f', row.ratio < 10 ? 2 : 0));
    }
}

} // namespace ohmo
