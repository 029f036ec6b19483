// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "gui/map/map_view.h"
#include "gui/stations/station.h"
#include "gui/text.h"
#include "gui/widgets/chain_view.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/yielding.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>

#include <cmath>

namespace ohmo {
namespace {

constexpr int kRivals = 6, kLearned = 3;
constexpr double kChainLeast = 0.3, kChainMost = 0.47; // of the height

class StoryStation : public QWidget {
    Q_OBJECT
public:
    explicit StoryStation(const Collaborators& with)
        : m_with(with), m_map(new MapView(with.session, with.selection, with.theme)), m_chain(new ChainView(with.theme)),
          m_rivals(new QListWidget) {
        setObjectName(QStringLiteral("station-story"));
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        m_split = new SplitByContent(kChainLeast, kChainMost);
        m_split->addWidget(m_map);
        auto* scroll = new QScrollArea;
        scroll->setWidgetResizable(true);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        auto* inside = new QWidget;
        inside->setProperty("surface", QStringLiteral("panel"));
        auto* chain = new QVBoxLayout(inside);
        chain->setContentsMargins(18, 10, 18, 10);
        m_title = heading({});
        m_title->setObjectName(QStringLiteral("story-title"));
        chain->addWidget(m_title);
        chain->addWidget(m_chain);
        chain->addStretch(1);
        scroll->setWidget(inside);
        m_inside = inside;
        m_split->addWidget(scroll);
        layout->addWidget(m_split, kCentreShare);
        layout->addWidget(side(), kSideShare);
        QObject::connect(&with.session, &Session::analysis_changed, this, [this] { refresh(); });
        QObject::connect(m_rivals, &QListWidget::currentRowChanged, this, [this](int row) { show_story(row); });
        refresh();
    }

private:
    QWidget* side() {
        QVBoxLayout* layout = nullptr;
        auto* column = side_column(layout);
        layout->addWidget(heading(tr("Stories")));
        m_rivals->setObjectName(QStringLiteral("rivals"));
        m_rivals->setAccessibleName(tr("Rival stories"));
        m_rivals->setWordWrap(true);
        m_rivals->setMinimumHeight(170);
        layout->addWidget(m_rivals, 1);
        m_apart = new Card(tr("What would tell them apart"), "plain");
        m_apart->setObjectName(QStringLiteral("tell-apart"));
        layout->addWidget(m_apart);
        auto* probe = button(tr("&Probe it"), "to-probe");
        QObject::connect(probe, &QPushButton::clicked, this, [this] { m_with.go_to(QStringLiteral("probe")); });
        m_apart->content()->addWidget(probe);
        m_under_power = new Card(tr("If switched on as it is"), "plain");
        m_under_power->setObjectName(QStringLiteral("under-power"));
        layout->addWidget(m_under_power);
        m_odd = new Card(tr("Not explained yet"), "warn");
        m_odd->setObjectName(QStringLiteral("not-explained"));
        layout->addWidget(m_odd);
        m_learned = new Card(tr("Learned of this board and meter"), "plain");
        m_learned->setObjectName(QStringLiteral("learned"));
        layout->addWidget(m_learned);
        layout->addStretch(1);
        return column;
    }

    // What a story says beyond the leading one.
    static QString difference(const Board& board, const Story& story, const Story& leader, bool first) {
        if (story.scenario.steps.empty()) return tr("nothing on the board is wrong");
        QStringList words;
        const auto more = story.scenario.faults().size() - 1;
        if (first && more == 0) return qs(wording::fault(board, story.scenario.steps.front().fault));
        if (first) return tr("%1 first, then %2 more").arg(qs(wording::fault(board, story.scenario.steps.front().fault))).arg(more);
        const auto mine = story.scenario.faults(), theirs = leader.scenario.faults();
        for (const auto& f : mine)
            if (std::find(theirs.begin(), theirs.end(), f) == theirs.end()) words << QStringLiteral("+ ") + qs(wording::fault(board, f));
        for (const auto& f : theirs)
            if (std::none_of(mine.begin(), mine.end(), [&](const Fault& m) { return m.part == f.part; }))
                words << QStringLiteral("− ") + qs(wording::fault(board, f));
        return words.isEmpty() ? tr("the same parts in another order") : words.join(QStringLiteral(", "));
    }

    void refresh() {
        const auto& a = m_with.session.analysis();
        if (!a) return;
        const auto& board = a->replay.board;
        const auto& stories = a->assessment.stories;
        m_rivals->blockSignals(true);
        m_rivals->clear();
        for (int i = 0; i < std::min(kRivals, static_cast<int>(stories.size())); ++i) {
            const auto& s = stories[static_cast<std::size_t>(i)];
            const QString what = difference(board, s, stories.front(), i == 0);
            m_rivals->addItem(qs(format_share(s.p)) + QStringLiteral("  ") + what);
        }
        m_rivals->setCurrentRow(stories.empty() ? -1 : 0);
        m_rivals->blockSignals(false);
        show_story(stories.empty() ? -1 : 0);
        if (a->next.acts.empty() || a->next.stop)
            m_apart->set_text(qs(wording::stop(a->next.reason)));
        else
            m_apart->set_text(tr("%1: %2 bit in about %3 min.")
                                  .arg(qs(wording::act_title(board, a->next.acts.front())))
                                  .arg(a->next.acts.front().bits, 0, 'f', 2)
                                  .arg(a->next.acts.front().minutes, 0, 'g', 2));
        QStringList odd;
        for (int e : a->assessment.contradicted_by) odd << qs(wording::entry(board, a->job.journal[static_cast<std::size_t>(e)]));
        if (a->assessment.unexplained > 0.02)
            odd << tr("%1 that the cause is not on the map").arg(qs(format_share(a->assessment.unexplained)));
        m_odd->setVisible(!odd.isEmpty());
        m_odd->set_text(odd.join(QLatin1Char('\n')));
        QStringList learned;
        for (const auto& l : a->assessment.learned)
            if (learned.size() < kLearned) learned << qs(wording::learned(board, l));
        if (const auto over = wording::looked_over(a->assessment); !over.empty()) learned << qs(over);
        learned << qs(wording::acquitted(a->assessment));
        m_learned->set_text(learned.join(QLatin1Char('\n')));
    }

    QString evidence_for(const Analysis& a, const Fault& fault) const {
        QStringList words;
        for (const auto& r : a.assessment.of(fault.part).reasons) {
            if (words.size() >= 3 || r.entry < 0 || r.entry >= static_cast<int>(a.job.journal.size())) break;
            words << (r.decibans > 0 ? tr("for: ") : tr("against: ")) +
                         qs(wording::entry(a.replay.board, a.job.journal[static_cast<std::size_t>(r.entry)]));
        }
        return words.isEmpty() ? qs(wording::proof_in_full(a.assessment.of(fault.part).proof)) : words.join(QStringLiteral("  ·  "));
    }

    void show_story(int row) {
        const auto& a = m_with.session.analysis();
        if (!a || row < 0 || row >= static_cast<int>(a->assessment.stories.size())) {
            m_title->setText(tr("No story yet"));
            m_under_power->hide();
            m_map->show_chain({});
            return;
        }
        const auto& s = a->assessment.stories[static_cast<std::size_t>(row)];
        m_title->setText(row == 0 ? tr("Likeliest story, exactly so %1").arg(qs(format_share(s.p)))
                                  : tr("Rival story, %1").arg(qs(format_share(s.p))));
        std::vector<QString> evidence;
        for (const auto& st : s.scenario.steps) evidence.push_back(evidence_for(*a, st.fault));
        m_chain->show_chain(a->replay.board, s.scenario.steps, evidence);
        m_map->show_chain(s.scenario.steps);
        m_split->set_lower(m_inside->sizeHint().height());
        const auto at = static_cast<std::size_t>(row);
        m_under_power->setVisible(at < a->under_power.size());
        if (at < a->under_power.size()) m_under_power->set_text(qs(wording::under_power(a->replay.board, a->under_power[at])));
    }

    Collaborators m_with;
    SplitByContent* m_split = nullptr;
    QWidget* m_inside = nullptr;
    MapView* m_map;
    ChainView* m_chain;
    QListWidget* m_rivals;
    QLabel* m_title = nullptr;
    Card *m_apart = nullptr, *m_under_power = nullptr, *m_odd = nullptr, *m_learned = nullptr;
};

} // namespace

QWidget* make_story(const Collaborators& with) { return new StoryStation(with); }

} // namespace ohmo

#include "story.moc"
