// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/unit_strip.h"
#include "board/roles.h"

#include "base/engineering.h"
#include "base/text.h"
#include "gui/text.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

namespace ohmo {
namespace {

QLabel* pill(const char* name) {
    auto* label = new QLabel;
    label->setObjectName(QString::fromLatin1(name));
    label->setAlignment(Qt::AlignCenter);
    label->setProperty("card", QStringLiteral("pill"));
    label->setContentsMargins(13, 4, 13, 4);
    QFont bold;
    bold.setBold(true);
    label->setFont(bold);
    return label;
}

void colour(QLabel* label, const QColor& ink, const QColor& fill) {
    QPalette own;
    own.setColor(QPalette::WindowText, ink);
    own.setColor(QPalette::Window, fill);
    label->setPalette(own);
}

} // namespace

QString age_text(Seconds s) {
    if (s < 60) return UnitStrip::tr("now");
    if (s < 3600) return UnitStrip::tr("%1 min ago").arg(s / 60);
    if (s < 2 * 86400) return UnitStrip::tr("%1 h ago").arg(s / 3600);
    if (s < 60 * 86400) return UnitStrip::tr("%1 days ago").arg(s / 86400);
    return UnitStrip::tr("%1 months ago").arg(s / (30 * 86400));
}

UnitStrip::UnitStrip(const Session& session, const ThemeSource& theme, QWidget* parent)
    : QWidget(parent), m_session(session), m_theme(theme), m_title(new QLabel), m_detail(new QLabel), m_charge(pill("charge-pill")),
      m_mains(pill("mains-pill")), m_busy(new QLabel) {
    setObjectName(QStringLiteral("unit-strip"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(16, 6, 16, 6);
    auto* words = new QVBoxLayout;
    words->setSpacing(1);
    m_title->setObjectName(QStringLiteral("unit-title"));
    m_detail->setObjectName(QStringLiteral("unit-detail"));
    m_detail->setProperty("voice", QStringLiteral("muted"));
    for (auto* label : {m_title, m_detail}) {
        label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
        words->addWidget(label);
    }
    layout->addLayout(words, 1);
    m_busy->setObjectName(QStringLiteral("busy"));
    m_busy->setProperty("voice", QStringLiteral("muted"));
    layout->addWidget(m_busy);
    layout->addWidget(m_charge);
    layout->addWidget(m_mains);
    connect(&session, &Session::job_changed, this, &UnitStrip::refresh);
    connect(&session, &Session::path_changed, this, &UnitStrip::refresh);
    connect(&session, &Session::analysis_changed, this, &UnitStrip::refresh);
    connect(&theme, &ThemeSource::changed, this, &UnitStrip::refresh);
    connect(&m_age, &QTimer::timeout, this, &UnitStrip::show_charge);
    m_age.start(20'000);
    refresh();
}

void UnitStrip::refresh() {
    const auto& job = m_session.job();
    const auto& board = m_session.replay().board;
    QStringList title;
    for (const auto& word : {job.unit.maker, job.unit.model, job.unit.name})
        if (!word.empty()) title << qs(word);
    QString text = title.isEmpty() ? (m_session.has_job() ? tr("Unit without a name") : tr("No job open")) : title.join(QLatin1Char(' '));
    if (!board.name.empty()) text = tr("%1 · supply board %2").arg(text, qs(board.name));
    QFont bold = font();
    bold.setBold(true);
    bold.setPixelSize(bold.pixelSize() * 6 / 5);
    m_title->setFont(bold);
    m_title_text = text;

    QStringList detail;
    if (!job.unit.serial.empty()) detail << tr("Serial %1").arg(qs(job.unit.serial));
    if (!m_session.replay().symptoms.empty()) detail << word_text(joined(m_session.replay().symptoms, ", "));
    if (board.mains) detail << tr("%1 in").arg(qs(format_nominal(board.mains->volts, "V")));
    QStringList rails;
    for (const auto& rail : board.rails) rails << qs(format_nominal(rail.volts, "V"));
    if (!rails.isEmpty()) detail << tr("%1 out").arg(rails.join(QStringLiteral(" / ")));
    const QString file = qs(m_session.path().filename().string());
    detail << (m_session.path().empty() ? tr("not saved yet") : m_session.modified() ? tr("%1, changed").arg(file) : file);
    m_detail_text = m_session.has_job() ? detail.join(QStringLiteral(" · ")) : tr("Job menu: open a job, or start one from a blueprint");
    m_busy->setText(!m_session.has_job() || m_session.up_to_date() ? QString() : tr("computing…"));
    show_charge();
    layout()->activate();
    elide();
}

// Long names lose their middle; the whole of it is in the tool tip.
void UnitStrip::elide() {
    for (const auto& [label, text] : {std::pair(m_title, &m_title_text), std::pair(m_detail, &m_detail_text)}) {
        label->setText(QFontMetrics(label->font()).elidedText(*text, Qt::ElideMiddle, std::max(60, label->width())));
        label->setToolTip(*text);
    }
}

void UnitStrip::show_charge() {
    const Theme& t = m_theme.theme();
    const auto& now = m_session.replay();
    // A board that is known and has no bulk capacitor has nothing to say here.
    m_charge->setVisible(m_session.has_job() && (now.board.parts.empty() || now.charge || now.may_hold_charge));
    m_mains->setVisible(m_session.has_job());
    if (!now.charge) {
        m_charge->setText(tr("Bulk charge unknown"));
        m_charge->setToolTip(tr("Nobody has measured the bulk capacitor. Treat it as charged: it can hold mains peak for many minutes."));
        colour(m_charge, t.suspect, t.suspect_fill);
    } else {
        const Seconds age = m_session.now() - now.charge->at;
        m_charge->setText(tr("Bulk %1 V · %2").arg(QString::number(now.charge->volts, 'f', now.charge->volts < 10 ? 1 : 0), age_text(age)));
        const bool high = now.charge->volts > hazard_volts(), old = age > static_cast<Seconds>(stale_charge_seconds());
        m_charge->setToolTip(high  ? tr("Above 60 V DC: hazardous live. Discharge through a resistor and measure again.")
                             : old ? tr("This reading is old. Measure again before you touch anything.")
                                   : tr("Measured low a short while ago."));
        if (high)
            colour(m_charge, t.bad, t.bad_fill);
        else if (old || now.charge->volts > working_volts())
            colour(m_charge, t.suspect, t.suspect_fill);
        else
            colour(m_charge, t.good, t.good_fill);
    }
    m_charge->setAccessibleName(m_charge->text());
    m_mains->setText(now.mains_on ? tr("MAINS ON") : tr("Mains out"));
    m_mains->setAccessibleName(m_mains->text());
    m_mains->setToolTip(now.mains_on ? tr("According to the journal mains is connected.")
                                     : tr("According to the journal mains is disconnected. Look at the plug."));
    if (now.mains_on)
        colour(m_mains, t.bad, t.bad_fill);
    else
        colour(m_mains, t.muted, t.panel);
}

void UnitStrip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), m_theme.theme().panel);
    p.fillRect(QRect(0, height() - 1, width(), 1), m_theme.theme().line);
}

} // namespace ohmo
