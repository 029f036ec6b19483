// SPDX-License-Identifier: GPL-3.0-or-later
// Hands on probes, eyes elsewhere: every control is reached by Tab and has a name in the tree that screen readers read.
#include "gui/window_driver.h"

#include "gui/map/map_view.h"
#include "gui/ruler/reading_ruler.h"
#include "gui/stations/station.h"

#include <QAbstractItemView>
#include <QAccessible>
#include <QComboBox>

#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

bool is_control(const QWidget* w) {
    if (!w->isVisible() || !w->isEnabled() || w->objectName().startsWith(QStringLiteral("qt_"))) return false;
    for (const QWidget* up = w->parentWidget(); up != nullptr; up = up->parentWidget())
        if (qobject_cast<const QAbstractItemView*>(up) != nullptr || qobject_cast<const QComboBox*>(up) != nullptr)
            return false; // its insides
    return qobject_cast<const QAbstractButton*>(w) != nullptr || qobject_cast<const QLineEdit*>(w) != nullptr ||
           qobject_cast<const QComboBox*>(w) != nullptr || qobject_cast<const QAbstractItemView*>(w) != nullptr ||
           qobject_cast<const MapView*>(w) != nullptr || qobject_cast<const ReadingRuler*>(w) != nullptr;
}

std::string called(const QObject* w) { return std::string(w->metaObject()->className()) + " " + w->objectName().toStdString(); }

class Reach : public WindowTest {
protected:
    // What has the focus, one Tab after the other, until it comes round or stays.
    std::set<const QWidget*> by_tab() {
        std::set<const QWidget*> out;
        QWidget* start = window->findChild<QAbstractButton*>(QStringLiteral("rail-take-in"));
        start->setFocus();
        for (int i = 0; i < 200; ++i) {
            QWidget* at = QApplication::focusWidget();
            if (at == nullptr || !out.insert(at).second) break;
            if (at->focusProxy() != nullptr) out.insert(at->focusProxy());
            if (const auto* one = qobject_cast<QAbstractButton*>(at); one != nullptr && one->autoExclusive())
                for (const auto* other : one->parentWidget()->findChildren<QAbstractButton*>(Qt::FindDirectChildrenOnly))
                    if (other->autoExclusive()) out.insert(other); // one choice: by the arrows from it
            QTest::keyClick(at, Qt::Key_Tab);
        }
        return out;
    }

    void expect_reached(const std::string& where) {
        QApplication::processEvents();
        const auto reached = by_tab();
        int controls = 0;
        for (const auto* w : window->findChildren<QWidget*>()) {
            if (!is_control(w)) continue;
            ++controls;
            EXPECT_TRUE(reached.contains(w)) << where << ": " << called(w);
        }
        EXPECT_GT(controls, 8) << where;
    }

    // Everything in the tree that somebody may press, type into or choose from.
    int expect_named(QAccessibleInterface* at, const std::string& where) {
        int found = 0;
        const auto state = at->state();
        if (state.invisible) return 0;
        const std::set<QAccessible::Role> asks = {
            QAccessible::PushButton, QAccessible::CheckBox, QAccessible::RadioButton, QAccessible::ComboBox, QAccessible::EditableText,
            QAccessible::List,       QAccessible::Table,    QAccessible::Tree,        QAccessible::Slider,   QAccessible::ButtonMenu};
        if (asks.contains(at->role())) {
            ++found;
            const QObject* object = at->object();
            EXPECT_FALSE(at->text(QAccessible::Name).trimmed().isEmpty())
                << where << ": role " << at->role() << " " << (object != nullptr ? called(object) : "");
        }
        if (at->role() == QAccessible::List || at->role() == QAccessible::Table || at->role() == QAccessible::Tree) return found;
        for (int i = 0; i < at->childCount(); ++i)
            if (auto* child = at->child(i); child != nullptr) found += expect_named(child, where);
        return found;
    }
};

} // namespace

TEST_F(Reach, EveryControlByTab) {
    open("/jobs/half.ohmo.json");
    window->activateWindow();
    ASSERT_TRUE(wait([this] { return window->isActiveWindow(); }));
    for (const auto& info : all_stations()) {
        window->go_to(info.id);
        expect_reached(info.id.toStdString());
    }
}

TEST_F(Reach, EveryControlIsNamedInTheAccessibilityTree) {
    const auto walk = [this](const std::string& where) {
        QApplication::processEvents();
        auto* root = QAccessible::queryAccessibleInterface(window.get());
        ASSERT_NE(root, nullptr);
        EXPECT_GT(expect_named(root, where), 8) << where;
    };
    walk("start");
    open("/jobs/half.ohmo.json");
    for (const auto& info : all_stations()) {
        window->go_to(info.id);
        walk(info.id.toStdString());
    }
}
