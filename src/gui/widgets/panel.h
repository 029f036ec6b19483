// SPDX-License-Identifier: GPL-3.0-or-later
// The few building blocks every station uses.
#pragma once
#include <QFrame>
#include <QLabel>
#include <QString>
#include <QVBoxLayout>

class QDialog;
class QPushButton;

namespace ohmo {

QLabel* heading(const QString& text, QWidget* parent = nullptr);
QLabel* heading_line();                                                                    ///< on one line, ending in an ellipsis
QLabel* body(const QString& text, const char* voice = nullptr, QWidget* parent = nullptr); ///< wraps; voice: muted, good, warn, bad
QPushButton* button(const QString& text, const char* name, const char* kind = nullptr);    ///< kind: main, danger

void set_voice(QLabel& label, const char* voice); ///< of a label that body() made, as there
/// What every dialog begins with.
QVBoxLayout* dialog_layout(QDialog& dialog, const char* name, const QString& title, QSize size);

/// A framed box with a title and lines of text under it.
class Card : public QFrame {
    Q_OBJECT
public:
    Card(const QString& title, const char* look, QWidget* parent = nullptr); ///< look: plain, warn, stop, good
    void set_title(const QString& title) { m_title->setText(title); }
    void set_text(const QString& text);
    void set_look(const char* look);
    QVBoxLayout* content() { return m_layout; }

private:
    QVBoxLayout* m_layout;
    QLabel *m_title, *m_text;
};

/// Takes every widget and layout item out of a layout.
void clear_layout(QLayout* layout);

/// A column that is scrolled downwards where it has more to show than there is room.
QWidget* scrolled_column(QVBoxLayout*& layout, const char* surface = nullptr);

/// Side panel column with a surface of its own. Stations give it kSideShare against kCentreShare.
QWidget* side_column(QVBoxLayout*& layout);
inline constexpr const char* kWantedSize = "wanted-size"; ///< property of a dialog: as large as it would be on a large screen
inline constexpr int kCentreShare = 5, kSideShare = 2;

} // namespace ohmo
