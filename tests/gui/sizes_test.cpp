// SPDX-License-Identifier: GPL-3.0-or-later
// Every station at every size of window and text: nothing cut, nothing over another, nothing to be scrolled sideways.
#include "gui/window_driver.h"

#include "gui/stations/station.h"

#include <QAbstractButton>
#include <QAbstractScrollArea>
#include <QComboBox>
#include <QLayout>
#include <QScrollBar>
#include <QTextDocument>

#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

class Sizes : public WindowTest {
protected:
    // What a label needs at the width it has.
    static QSize wanted(const QLabel& label) {
        if (!label.wordWrap())
            return label.sizePolicy().horizontalPolicy() == QSizePolicy::Ignored ? QSize(0, label.fontMetrics().height())
                                                                                 : label.minimumSizeHint();
        return {0, label.heightForWidth(label.width())};
    }

    static bool in_scroll_area(const QWidget* w) {
        for (const QWidget* p = w->parentWidget(); p != nullptr; p = p->parentWidget())
            if (qobject_cast<const QAbstractScrollArea*>(p) != nullptr) return true;
        return false;
    }

    void expect_whole(const std::string& where) {
        for (auto* w : window->findChildren<QWidget*>()) {
            if (!w->isVisible() || w->visibleRegion().isEmpty()) continue;
            const std::string who = where + " " + w->metaObject()->className() + " " + w->objectName().toStdString();
            if (const auto* label = qobject_cast<QLabel*>(w)) {
                if (label->text().isEmpty()) continue;
                const QSize need = wanted(*label);
                EXPECT_GE(label->width() + 1, need.width()) << who << ": " << label->text().toStdString();
                EXPECT_GE(label->height() + 1, need.height()) << who << ": " << label->text().toStdString();
            } else if (qobject_cast<QAbstractButton*>(w) != nullptr || qobject_cast<QLineEdit*>(w) != nullptr ||
                       qobject_cast<QComboBox*>(w) != nullptr) {
                EXPECT_GE(w->width() + 1, w->minimumSizeHint().width()) << who;
                EXPECT_GE(w->height() + 1, w->hasHeightForWidth() ? w->heightForWidth(w->width()) : w->minimumSizeHint().height()) << who;
            } else if (auto* area = qobject_cast<QAbstractScrollArea*>(w)) {
                EXPECT_EQ(area->horizontalScrollBar()->maximum(), 0) << who << " is scrolled sideways";
            }
            const QRect inside = w->parentWidget() != nullptr ? w->parentWidget()->rect() : w->rect();
            if (!in_scroll_area(w) && !w->isWindow()) EXPECT_TRUE(inside.contains(w->geometry())) << who << " leaves its parent";
        }
        expect_apart(*window, where);
    }

    // Siblings in layouts do not lie over one another.
    void expect_apart(const QWidget& parent, const std::string& where) {
        std::vector<const QWidget*> shown;
        for (auto* child : parent.findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly))
            if (child->isVisible() && !child->isWindow()) shown.push_back(child);
        const bool stacked = qobject_cast<const QAbstractScrollArea*>(&parent) != nullptr || parent.inherits("QStackedWidget");
        for (std::size_t i = 0; i < shown.size(); ++i) {
            for (std::size_t j = i + 1; j < shown.size() && !stacked && parent.layout() != nullptr; ++j)
                EXPECT_FALSE(shown[i]->geometry().intersects(shown[j]->geometry()))
                    << where << " " << shown[i]->objectName().toStdString() << " and " << shown[j]->objectName().toStdString();
            expect_apart(*shown[i], where);
        }
    }

    void walk(const char* job, const std::vector<int>& percents, const std::vector<QSize>& sizes) {
        if (*job != 0) open(job);
        for (int percent : percents) {
            themes.apply(false, percent);
            for (const QSize size : sizes) {
                window->resize(size);
                for (const auto& station : all_stations()) {
                    window->go_to(station.id);
                    QApplication::processEvents();
                    EXPECT_LE(window->width(), size.width()) << station.id.toStdString() << " " << percent;
                    EXPECT_LE(window->height(), size.height()) << station.id.toStdString() << " " << percent;
                    expect_whole(station.id.toStdString() + " " + std::to_string(percent) + " % " + std::to_string(size.width()) + "x" +
                                 std::to_string(size.height()));
                }
            }
        }
        themes.apply(false, 100);
    }
};

const std::vector<QSize> kSizes = {{1024, 700}, {1280, 800}, {1920, 1080}};

} // namespace

TEST_F(Sizes, HalfWay) { walk("/jobs/half.ohmo.json", {100, 120, 150, 200}, kSizes); }

TEST_F(Sizes, Fresh) { walk("/jobs/fresh.ohmo.json", {80, 100, 200}, kSizes); }

TEST_F(Sizes, OtherFamilies) {
    for (const char* name : {"gl1-adapter", "tl12-half-bridge", "tm4-ac-fed-split"}) {
        disk.memory.files["/jobs/other.ohmo.json"] = demo_text(name);
        walk("/jobs/other.ohmo.json", {100, 200}, {{1024, 700}, {1280, 800}});
    }
}

TEST_F(Sizes, WithoutAJob) { walk("", {100, 200}, {{1024, 700}, {1280, 800}}); }

TEST_F(Sizes, StartPage) {
    find<QAction>("action-start")->trigger();
    for (int percent : {80, 100, 150, 200}) {
        themes.apply(false, percent);
        for (const QSize size : kSizes) {
            window->resize(size);
            QApplication::processEvents();
            expect_whole("start page " + std::to_string(percent) + " % " + std::to_string(size.width()));
        }
    }
    themes.apply(false, 100);
}
