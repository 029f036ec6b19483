// SPDX-License-Identifier: GPL-3.0-or-later
// A paint device that keeps the words painted on it and where they stand, the circles and the needles.
#pragma once
#include <QFontMetricsF>
#include <QPaintDevice>
#include <QPaintEngine>
#include <QString>

#include <vector>

namespace ohmo::test {

struct PaintedText {
    QString text;
    QRectF box;        ///< pixels of the device: its ink, as far as it is not clipped away
    double pixels = 0; ///< size of its font there
    bool bold = false;
};

class TextRecorder : public QPaintDevice {
public:
    explicit TextRecorder(QSize size) : m_size(size), m_engine(m_texts, m_circles, m_triangles) {}
    const std::vector<PaintedText>& texts() const { return m_texts; }
    const std::vector<QRectF>& circles() const { return m_circles; }     ///< pixels of the device
    const std::vector<QRectF>& triangles() const { return m_triangles; } ///< what they stand in
    QPaintEngine* paintEngine() const override { return &m_engine; }

protected:
    int metric(PaintDeviceMetric metric) const override {
        switch (metric) {
        case PdmWidth:
            return m_size.width();
        case PdmHeight:
            return m_size.height();
        case PdmDepth:
            return 32;
        case PdmDpiX:
        case PdmDpiY:
        case PdmPhysicalDpiX:
        case PdmPhysicalDpiY:
            return 96;
        case PdmDevicePixelRatio:
            return 1;
        case PdmDevicePixelRatioScaled:
            return static_cast<int>(devicePixelRatioFScale());
        default:
            return 0;
        }
    }

private:
    class Engine : public QPaintEngine {
    public:
        Engine(std::vector<PaintedText>& texts, std::vector<QRectF>& circles, std::vector<QRectF>& triangles)
            : QPaintEngine(AllFeatures), m_texts(texts), m_circles(circles), m_triangles(triangles) {}
        bool begin(QPaintDevice* /*device*/) override { return true; }
        bool end() override { return true; }
        void updateState(const QPaintEngineState& /*state*/) override {}
        void drawPath(const QPainterPath& /*path*/) override {}
        void drawPolygon(const QPointF* points, int count, PolygonDrawMode /*mode*/) override {
            if (count == 3) m_triangles.push_back(state->transform().map(QPolygonF(QVector<QPointF>(points, points + 3))).boundingRect());
        }
        void drawRects(const QRectF* /*rects*/, int /*count*/) override {}
        void drawEllipse(const QRectF& box) override { m_circles.push_back(state->transform().mapRect(box)); }
        void drawPixmap(const QRectF& /*to*/, const QPixmap& /*picture*/, const QRectF& /*from*/) override {}
        void drawImage(const QRectF& /*to*/, const QImage& /*picture*/, const QRectF& /*from*/, Qt::ImageConversionFlags /*f*/) override {}
        Type type() const override { return User; }
        void drawTextItem(const QPointF& at, const QTextItem& item) override {
            const QTransform to_device = state->transform();
            QRectF box = to_device.mapRect(QFontMetricsF(item.font()).tightBoundingRect(item.text()).translated(at));
            if (painter()->hasClipping()) box &= to_device.mapRect(painter()->clipBoundingRect());
            if (item.text().trimmed().isEmpty() || box.isEmpty()) return;
            const QPointF start = to_device.map(at), end = to_device.map(at + QPointF(item.width(), 0));
            const bool goes_on = !m_texts.empty() && QLineF(m_end, start).length() < 1; // a letter of another script: one line in pieces
            m_end = end;
            if (goes_on) {
                m_texts.back().text += item.text();
                m_texts.back().box |= box;
                return;
            }
            m_texts.push_back({item.text(), box, item.font().pixelSize() * to_device.m22(), item.font().bold()});
        }

    private:
        std::vector<PaintedText>& m_texts;
        std::vector<QRectF>&m_circles, &m_triangles;
        QPointF m_end; ///< of the last piece, on its baseline
    };

    QSize m_size;
    std::vector<PaintedText> m_texts;
    std::vector<QRectF> m_circles, m_triangles;
    mutable Engine m_engine;
};

} // namespace ohmo::test
