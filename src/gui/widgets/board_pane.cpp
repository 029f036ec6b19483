// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/board_pane.h"

#include "appcore/background.h"
#include "gui/photos/photo_import.h"
#include "gui/photos/photo_view.h"
#include "gui/photos/take_picture.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace ohmo {
namespace {

constexpr int kCorner = 8; // pixels

} // namespace

BoardPane::BoardPane(const Collaborators& with, QWidget* parent)
    : QWidget(parent), m_with(with), m_map(new MapView(with.session, with.selection, with.theme)),
      m_photo(new PhotoView(with.session, with.selection, with.theme)), m_stack(new QStackedWidget),
      m_as_map(button(tr("Map"), "pane-map")), m_front(button(tr("Front photo"), "pane-front")),
      m_back(button(tr("Back photo"), "pane-back")), m_marking(button(tr("Mark pins"), "pane-mark")),
      m_add(button(tr("Add this photo…"), "pane-add")), m_note(body({}, "muted")) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    m_bar = new QWidget;
    auto* row = new QHBoxLayout(m_bar);
    row->setContentsMargins(8, 4, 8, 4);
    row->setSpacing(4);
    for (auto* b : {m_as_map, m_front, m_back}) {
        b->setCheckable(true);
        b->setAutoExclusive(true);
        row->addWidget(b);
    }
    m_marking->setCheckable(true);
    m_note->setObjectName(QStringLiteral("pane-note"));
    row->addWidget(m_note, 1);
    row->addWidget(m_marking);
    row->addWidget(m_add);
    layout->addWidget(m_bar);
    m_stack->addWidget(m_map);
    m_stack->addWidget(m_photo);
    layout->addWidget(m_stack, 1);
    m_to_photo = button(tr("Photo"), "pane-photo");
    m_to_photo->setParent(m_map);
    m_to_photo->setToolTip(tr("The board as it looks, with its pins marked (F3)"));
    m_to_photo->setFocusPolicy(Qt::TabFocus);
    m_map->installEventFilter(this);
    connect(m_to_photo, &QPushButton::clicked, this, [this] { toggle(); });
    connect(m_as_map, &QPushButton::clicked, this, [this] { toggle(); });
    connect(m_front, &QPushButton::clicked, this, [this] { show_side(false); });
    connect(m_back, &QPushButton::clicked, this, [this] { show_side(true); });
    connect(m_add, &QPushButton::clicked, this, [this] { add(m_showing_back); });
    connect(m_marking, &QPushButton::toggled, this, [this] { refresh(); });
    connect(m_photo, &PhotoView::marked, this, &BoardPane::mark);
    connect(&with.selection, &Selection::changed, this, [this] { refresh(); });
    connect(&with.session, &Session::job_changed, this, [this] {
        load();
        refresh();
    });
    refresh();
}

void BoardPane::toggle() {
    if (m_stack->currentWidget() == m_map) {
        (m_showing_back ? m_back : m_front)->setChecked(true);
        return show_side(m_showing_back);
    }
    m_stack->setCurrentWidget(m_map);
    refresh();
}

// The way to the photo stands in the map's lower right corner and takes no room from it.
bool BoardPane::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_map && event->type() == QEvent::Resize) {
        m_to_photo->adjustSize();
        m_to_photo->move(m_map->width() - m_to_photo->width() - kCorner, m_map->height() - m_to_photo->height() - kCorner);
    }
    return QWidget::eventFilter(watched, event);
}

void BoardPane::show_leads(const MapLeads& leads) {
    m_map->show_leads(leads);
    m_photo->show_leads(leads);
}

void BoardPane::show_side(bool back) {
    m_showing_back = back;
    m_stack->setCurrentWidget(m_photo);
    load();
    refresh();
}

int BoardPane::photo_shown() const {
    const auto& photos = m_with.session.replay().photos;
    for (int i = static_cast<int>(photos.size()) - 1; i >= 0; --i)
        if (photos[static_cast<std::size_t>(i)].back == m_showing_back) return i;
    return -1;
}

void BoardPane::say(const QString& text, bool good) {
    set_voice(*m_note, good ? "muted" : "bad");
    m_note->setText(text);
}

// The selected part's pins one after the other; those marked already come last.
std::optional<std::string> BoardPane::next_pin() const {
    const int photo = photo_shown(), chosen = m_with.selection.part();
    const auto& now = m_with.session.replay();
    if (photo < 0 || chosen < 0 || chosen >= static_cast<int>(now.board.parts.size())) return std::nullopt;
    const auto& part = now.board.part(chosen);
    for (const auto& pin : part.pins)
        if (!now.photos[static_cast<std::size_t>(photo)].marks.contains({part.ref, pin.role})) return pin.role;
    return std::nullopt;
}

void BoardPane::refresh() {
    const bool pictured = m_stack->currentWidget() == m_photo, there = photo_shown() >= 0;
    m_bar->setVisible(pictured);
    m_marking->setVisible(pictured && there);
    m_add->setVisible(pictured);
    m_add->setText(there ? tr("Another photo…") : tr("Add this photo…"));
    m_add->setEnabled(m_with.session.has_job());
    const auto pin = pictured && m_marking->isChecked() ? next_pin() : std::nullopt;
    m_photo->mark_next(pin);
    if (!pictured) return say({}, true);
    if (!there)
        return say(m_with.session.path().empty() ? tr("Photos are kept beside the job: save it first (Ctrl+S).")
                                                 : tr("No photo of this side yet. Take it straight from above, then add it."),
                   true);
    if (!m_marking->isChecked()) return say(tr("Wheel: closer. Drag: move. Click a mark: its part."), true);
    const int chosen = m_with.selection.part();
    if (chosen < 0) return say(tr("Choose a part on the map, in a list or with Ctrl+F, then click its pins."), true);
    const auto& part = m_with.session.replay().board.part(chosen);
    say(pin ? tr("Click where %1 of %2 is.").arg(qs(*pin), qs(part.ref))
            : tr("All pins of %1 are marked. Choose the next part.").arg(qs(part.ref)),
        true);
}

void BoardPane::mark(const PhotoSpot& spot) {
    const auto pin = next_pin();
    const int photo = photo_shown();
    if (!pin || photo < 0) return;
    const auto& now = m_with.session.replay();
    Entry e;
    e.act = Do::Photo;
    e.what = "mark";
    e.ref = now.photos[static_cast<std::size_t>(photo)].file;
    e.part = now.board.part(m_with.selection.part()).ref;
    e.pin = *pin;
    e.x = spot.x;
    e.y = spot.y;
    (void)m_with.logbook.log(e);
}

void BoardPane::add(bool back) {
    const auto hear = [this](const QString& text, bool good) {
        m_add->setEnabled(text.isEmpty() || !good);
        say(text, good);
    };
    take_picture(this, m_with, back ? tr("Photo of the back") : tr("Photo of the front"), hear, [this, back](const std::string& file) {
        (void)m_with.logbook.log(board_picture(file, back));
        show_side(back);
    });
}

// Pictures are read and made smaller off the interface thread.
void BoardPane::load() {
    const int photo = photo_shown();
    if (m_stack->currentWidget() != m_photo) return;
    if (photo < 0) {
        m_loaded.clear();
        return m_photo->show_photo({}, 0);
    }
    const std::string file = m_with.session.replay().photos[static_cast<std::size_t>(photo)].file;
    if (file == m_loaded) return;
    m_loaded = file;
    m_photo->show_photo({}, 0);
    const auto& disk = m_with.session.disk();
    in_background(
        this,
        [&disk, job = m_with.session.path(), file]() -> Result<PhotoSizes> {
            const auto image = kept_photo(disk, job, file);
            if (!image) return image.problems();
            return photo_sizes(*image);
        },
        [this, photo, number = ++m_load](const Result<PhotoSizes>& sizes) {
            if (number != m_load) return;
            if (!sizes) return say(qs(wording::problem(sizes.problem())), false);
            m_photo->show_photo(*sizes, static_cast<std::size_t>(photo));
        });
}

} // namespace ohmo
