// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/bench_line_bar.h"

#include "base/engineering.h"
#include "base/text.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/yielding.h"
#include "report/wording.h"

#include <QDateTime>
#include <QKeyEvent>
#include <QPainter>
#include <QStyle>
#include <QToolButton>
#include <QVBoxLayout>

#include <utility>

namespace ohmo {

BenchLineBar::BenchLineBar(Session& session, Logbook& logbook, const ThemeSource& theme, QWidget* parent)
    : QWidget(parent), m_session(session), m_logbook(logbook), m_theme(theme), m_line(new QLineEdit), m_understood(new ElidedLabel),
      m_log(button(tr("Log"), "bench-log", "main")), m_chip_row(new QWidget) {
    setObjectName(QStringLiteral("bench-line"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 8, 16, 8);
    layout->setSpacing(5);
    auto* row = new QHBoxLayout;
    m_line->setObjectName(QStringLiteral("bench-input"));
    m_line->setAccessibleName(tr("Bench line"));
    m_line->setPlaceholderText(tr("C5 ohm 2.9   F1 open   C5 bulged   lift Q1"));
    m_line->setToolTip(tr("Log a reading, a look or an action (Ctrl+L). Tab completes, Up recalls, Enter logs."));
    m_line->installEventFilter(this);
    row->addWidget(m_line, 5);
    m_understood->setObjectName(QStringLiteral("bench-understood"));
    row->addWidget(m_understood, 6);
    m_log->setToolTip(tr("Log what stands in the line (Enter)"));
    row->addWidget(m_log);
    layout->addLayout(row);
    m_chips = new QHBoxLayout(m_chip_row);
    m_chips->setContentsMargins(0, 0, 0, 0);
    m_chips->setSpacing(6);
    m_chip_row->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    layout->addWidget(m_chip_row);
    connect(m_line, &QLineEdit::textChanged, this, &BenchLineBar::preview);
    connect(m_line, &QLineEdit::returnPressed, this, &BenchLineBar::submit);
    connect(m_log, &QPushButton::clicked, this, &BenchLineBar::submit);
    connect(&session, &Session::job_changed, this, [this] {
        show_chips();
        preview();
    });
    const auto dress = [this] {
        QFont large(QStringLiteral("B612"));
        large.setPixelSize(16 * m_theme.text_percent() / 100);
        m_line->setFont(large);
        m_chip_row->setFixedHeight(28 * std::max(100, m_theme.text_percent()) / 100);
        update();
    };
    connect(&theme, &ThemeSource::changed, this, dress);
    dress();
    show_chips();
    preview();
}

void BenchLineBar::write(const QString& text) {
    m_line->setText(text);
    m_line->setFocus();
    m_line->setCursorPosition(static_cast<int>(text.size()));
}

void BenchLineBar::take_asked(const QString& line) {
    if (std::exchange(m_asked, line) != line) preview();
}

QString BenchLineBar::meant() const {
    const QString text = m_line->text().trimmed();
    if (m_asked.isEmpty() || text.isEmpty()) return text;
    const bool over = text == QLatin1String("open") || text == QLatin1String("over");
    return over || parse_quantity(ss(QString(text).remove(QLatin1Char(' ')))) ? m_asked + text : text;
}

void BenchLineBar::preview() {
    const std::string text = ss(meant());
    const char* voice = "muted";
    QString say;
    m_log->setEnabled(false);
    std::optional<Entry> meant;
    if (text.empty()) {
        const MeterInHand& hand = m_session.replay().hand;
        say = qs(wording::in_hand(hand.id, hand.leads));
        if (say.isEmpty())
            say = m_session.bench().cold ? tr("bare numbers on nets are ohms; write V for volts")
                                         : tr("bare numbers on nets are volts; write ohm for ohms");
        else
            say += tr("  (F10)");
    } else if (auto entry = parse_bench_line(m_session.bench(), text)) {
        say = QStringLiteral("→ ") + qs(wording::understood(m_session.replay().board, *entry));
        voice = "good";
        m_log->setEnabled(true);
        meant = std::move(*entry);
    } else {
        QStringList options;
        for (const auto& word : complete_bench_line(m_session.bench(), ss(m_line->text()))) options << qs(word);
        const bool at_end = entry.problem().kind == ProblemKind::Usage && !options.isEmpty();
        if (!options.isEmpty() && (at_end || entry.problem().kind == ProblemKind::NoSuchPart))
            say = tr("Tab: %1").arg(options.mid(0, 7).join(QStringLiteral("  ")));
        else
            say = qs(wording::problem(entry.problem())), voice = "warn";
    }
    set_voice(*m_understood, voice);
    m_understood->setText(say);
    m_understood->setToolTip(say);
    Q_EMIT understood(meant);
}

void BenchLineBar::submit() {
    const QString text = meant();
    if (text.isEmpty()) return;
    const auto entry = parse_bench_line(m_session.bench(), ss(text));
    if (!entry) return preview();
    if (has_errors(m_logbook.log(*entry))) return preview();
    m_history << text;
    m_recalled = static_cast<int>(m_history.size());
    m_line->setText({}); // with nothing left that the line itself could undo
    Q_EMIT logged();
}

void BenchLineBar::recall(int step) {
    if (m_history.isEmpty()) return;
    m_recalled = std::clamp(m_recalled + step, 0, static_cast<int>(m_history.size()));
    m_line->setText(m_recalled < m_history.size() ? m_history[m_recalled] : QString());
}

bool BenchLineBar::complete() {
    const auto options = complete_bench_line(m_session.bench(), ss(m_line->text()));
    if (options.empty()) return false;
    QString text = m_line->text();
    if (!text.endsWith(QLatin1Char(' '))) text = text.left(text.lastIndexOf(QLatin1Char(' ')) + 1);
    write(text + qs(options.front()) + QLatin1Char(' '));
    return true;
}

bool BenchLineBar::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_line && event->type() == QEvent::ShortcutOverride) {
        // A line that has nothing to undo leaves the keys to the journal.
        auto* key = static_cast<QKeyEvent*>(event);
        const bool mine = (key->matches(QKeySequence::Undo) && m_line->isUndoAvailable()) ||
                          (key->matches(QKeySequence::Redo) && m_line->isRedoAvailable());
        if ((key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo)) && !mine) {
            event->ignore();
            return true;
        }
    }
    if (watched == m_line && event->type() == QEvent::KeyPress) {
        switch (static_cast<QKeyEvent*>(event)->key()) {
        case Qt::Key_Up:
            recall(-1);
            return true;
        case Qt::Key_Down:
            recall(1);
            return true;
        case Qt::Key_Tab:
            if (!m_line->text().isEmpty()) return complete() || true;
            break;
        default:
            break;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void BenchLineBar::show_chips() {
    clear_layout(m_chips);
    const auto& job = m_session.job();
    const auto& now = m_session.replay();
    int left = width() - 40;
    std::vector<QToolButton*> chips;
    for (int i = static_cast<int>(job.journal.size()) - 1; i >= 0; --i) {
        const auto& entry = job.journal[static_cast<std::size_t>(i)];
        if (now.retracted[static_cast<std::size_t>(i)] || entry.act == Do::Retract) continue;
        auto* chip = new QToolButton;
        chip->setObjectName(QStringLiteral("chip-%1").arg(i));
        chip->setProperty("kind", QStringLiteral("chip"));
        const QString words = qs(wording::entry(now.board, entry));
        chip->setText(QDateTime::fromSecsSinceEpoch(entry.at).toString(QStringLiteral("HH:mm")) + QStringLiteral("  ") +
                      fontMetrics().elidedText(words, Qt::ElideRight, 190) + QStringLiteral("  ×"));
        chip->setToolTip(tr("%1. Click to take it back; it stays in the journal as retracted.").arg(words));
        chip->setAccessibleName(tr("Take back: %1").arg(words));
        connect(chip, &QToolButton::clicked, this, [this, i] { m_logbook.retract(i); });
        chip->ensurePolished();
        left -= chip->sizeHint().width() + 6;
        if (left < 0) {
            delete chip;
            break;
        }
        chips.push_back(chip);
    }
    for (auto it = chips.rbegin(); it != chips.rend(); ++it) m_chips->addWidget(*it);
    if (chips.empty()) {
        auto* empty = body(m_session.has_job() ? tr("Nothing is logged yet. What you log appears here and can be taken back.")
                                               : tr("No job is open: Ctrl+N starts one from a blueprint, Ctrl+O opens one."),
                           "muted");
        empty->setObjectName(QStringLiteral("chips-empty"));
        empty->setWordWrap(false);
        m_chips->addWidget(empty);
    }
    m_chips->addStretch(1);
}

void BenchLineBar::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), m_theme.theme().inset);
    p.fillRect(QRect(0, 0, width(), 1), m_theme.theme().line);
}

} // namespace ohmo
