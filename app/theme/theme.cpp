// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.h"
#include "core/ground/colour.h"

#include <QPalette>
#include <QApplication>
#include <QFontDatabase>
#include <QHash>
#include <QPainter>
#include <QStyleFactory>
#include <QSvgRenderer>
#include <array>
#include <cmath>

namespace bricol::theme {

namespace {

constexpr std::size_t role_count = static_cast<std::size_t>(Role::facing_away) + 1;
using Palette = std::array<QRgb, role_count>;

// In the order of Role.
constexpr Palette day = {0xffE4DFD3, 0xffF3EFE6, 0xffFBF9F4, 0xffCFC8B8, 0xff22303C, 0xff5A666F, 0xff1F7A6D, 0xffE0EAE4,
                         0xffB0315E, 0xffF4E3E8, 0xff8F5E12, 0xffA63A2B, 0xffC9C2B4, 0xffDDE3E2, 0xffF4F1EA, 0xffCBD0CC,
                         0xff9FA9A8, 0xffB0524A, 0xff5C8A4A, 0xff3F6E9E, 0xff6FA39B, 0xffC0695C};
constexpr Palette dusk = {0xff151C22, 0xff1D262D, 0xff26313A, 0xff3B4852, 0xffE9E4D8, 0xffA9B3B8,
                          0xff5FC2B2, 0xff24403F, 0xffF07FA5, 0xff47303C, 0xffE0AE54, 0xffF0907F,
                          0xffB9B3A6, 0xff2B363E, 0xff1B232A, 0xff38444C, 0xff55636C, 0xffD9756B,
                          0xff86B36F, 0xff6FA3D6, 0xff5E928A, 0xffB86156};

bool is_night = false;
QString text_family = "IBM Plex Sans", number_family = "IBM Plex Mono";

QString style_sheet() {
    const auto c = [](Role role) { return color(role).name(); };
    QString sheet = R"(
* { outline: none; }
QWidget { color: @ink; background: transparent; }
QMainWindow, #desk { background: @desk; }
#panel, #band, #topbar { background: @panel; border: 1px solid @line; }
#topbar { border-width: 0 0 1px 0; }
QToolTip { background: @card; color: @ink; border: 1px solid @line; padding: 4px 6px; }
QMenuBar { background: transparent; spacing: 0; }
QMenuBar::item { padding: 5px 9px; border-radius: 3px; }
QMenuBar::item:selected { background: @actsoft; }
QMenu { background: @card; border: 1px solid @line; padding: 4px; }
QMenu::item { padding: 5px 22px 5px 12px; border-radius: 3px; }
QMenu::item:selected { background: @actsoft; color: @ink; }
QMenu::item:disabled { color: @soft; }
QMenu::separator { height: 1px; background: @line; margin: 4px 8px; }
QMenu::indicator { width: 12px; height: 12px; margin-left: 4px; }
QLineEdit, QComboBox, QPlainTextEdit, QSpinBox { background: @card; border: 1px solid @line; border-radius: 3px; padding: 2px 6px; selection-background-color: @act; selection-color: @card; }
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus { border: 1px solid @act; }
QLineEdit[wrong="true"] { border: 1px solid @error; }
QComboBox::drop-down { border: none; width: 20px; } QComboBox::down-arrow { image: url(:/marks/down.svg); width: 12px; height: 12px; }
QToolButton::menu-indicator { image: url(:/marks/down.svg); width: 11px; height: 11px; subcontrol-position: right center; right: 5px; }
#shadingChip, #viewChip { padding: 3px 20px 3px 9px; }
QComboBox QAbstractItemView { background: @card; border: 1px solid @line; selection-background-color: @actsoft; selection-color: @ink; }
QPushButton, QToolButton { background: @card; border: 1px solid @line; border-radius: 3px; padding: 3px 9px; }
QToolButton { padding: 3px 6px; }
QPushButton:hover, QToolButton:hover { border-color: @act; }
QPushButton:focus, QToolButton:focus { border: 1px solid @act; }
QPushButton:disabled, QToolButton:disabled { color: @soft; }
QToolButton:checked, QPushButton:checked { background: @chosensoft; border-color: @chosen; color: @chosen; }
QPushButton#link { background: transparent; border: none; color: @act; padding: 0; text-align: left; font-weight: 600; }
QPushButton#link:hover { text-decoration: underline; }
QToolButton#quiet { background: transparent; border: 1px solid transparent; color: @soft; padding: 0; }
QToolButton#quiet:hover, QToolButton#quiet:focus { color: @act; border: 1px solid @line; }
QToolButton#quiet:checked { color: @chosen; }
QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid @soft; border-radius: 3px; background: @card; }
QCheckBox::indicator:checked { background: @act; border-color: @act; image: url(:/marks/tick.svg); }
QCheckBox:focus { color: @act; }
QScrollArea { border: none; background: transparent; }
QScrollBar:vertical { width: 7px; background: transparent; } QScrollBar:horizontal { height: 9px; background: transparent; }
QScrollBar::handle { background: @line; border-radius: 3px; min-height: 24px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; } QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QListView, QTreeView, QListWidget { background: transparent; border: none; }
QTabBar { background: transparent; }
QTabBar::tab { padding: 5px 14px; color: @soft; border: none; border-bottom: 2px solid transparent; }
QTabBar::tab:selected { color: @ink; font-weight: 600; border-bottom: 2px solid @act; }
QTabBar::tab:focus { color: @act; }
QSplitter::handle { background: @desk; }
QLabel#head { font-weight: 600; } QLabel#soft { color: @soft; }
QDialog, QMessageBox, QFileDialog { background: @panel; }
QFileDialog QListView, QFileDialog QTreeView { background: @card; border: 1px solid @line; }
QHeaderView::section { background: @panel; border: none; border-bottom: 1px solid @line; padding: 3px 6px; }
QProgressBar { background: @card; border: 1px solid @line; border-radius: 3px; text-align: center; }
QProgressBar::chunk { background: @act; }
)";
    const std::pair<const char*, Role> roles[] = {{"@chosensoft", Role::chosen_soft},
                                                  {"@chosen", Role::chosen},
                                                  {"@actsoft", Role::act_soft},
                                                  {"@act", Role::act},
                                                  {"@desk", Role::desk},
                                                  {"@panel", Role::panel},
                                                  {"@card", Role::card},
                                                  {"@line", Role::line},
                                                  {"@ink", Role::ink},
                                                  {"@soft", Role::soft_ink},
                                                  {"@error", Role::error}};
    for (const auto& [name, role] : roles) sheet.replace(name, c(role));
    return sheet;
}

void apply() {
    QPalette palette;
    palette.setColor(QPalette::Window, color(Role::panel));
    palette.setColor(QPalette::WindowText, color(Role::ink));
    palette.setColor(QPalette::Base, color(Role::card));
    palette.setColor(QPalette::AlternateBase, color(Role::panel));
    palette.setColor(QPalette::Text, color(Role::ink));
    palette.setColor(QPalette::Button, color(Role::card));
    palette.setColor(QPalette::ButtonText, color(Role::ink));
    palette.setColor(QPalette::Highlight, color(Role::act));
    palette.setColor(QPalette::HighlightedText, color(Role::card));
    palette.setColor(QPalette::PlaceholderText, color(Role::soft_ink));
    palette.setColor(QPalette::ToolTipBase, color(Role::card));
    palette.setColor(QPalette::ToolTipText, color(Role::ink));
    QApplication::setPalette(palette);
    qApp->setStyleSheet(style_sheet());
}

}  // namespace

QColor color(Role role) { return QColor::fromRgb((is_night ? dusk : day)[static_cast<std::size_t>(role)]); }

bool night() { return is_night; }

void set_night(bool on) {
    is_night = on;
    apply();
}

void start() {
    for (const char* file : {"IBMPlexSans_400Regular", "IBMPlexSans_500Medium", "IBMPlexSans_600SemiBold",
                             "IBMPlexMono_400Regular", "IBMPlexMono_500Medium"})
        QFontDatabase::addApplicationFont(QString(":/fonts/%1.ttf").arg(file));
    QApplication::setStyle(QStyleFactory::create("Fusion"));
    QApplication::setFont(text_font());
    apply();
}

QFont text_font(double points, int weight) {
    QFont font(text_family);
    font.setPointSizeF(points);
    font.setWeight(static_cast<QFont::Weight>(weight));
    font.setHintingPreference(QFont::PreferNoHinting);
    return font;
}

QFont number_font(double points, int weight) {
    QFont font(number_family);
    font.setPointSizeF(points);
    font.setWeight(static_cast<QFont::Weight>(weight));
    font.setHintingPreference(QFont::PreferNoHinting);
    return font;
}

QPixmap glyph(std::string_view path, int size, const QColor& ink, double device_ratio) {
    // Panels ask for the same few glyphs at every refresh; parsing them each time costs more than everything else
    // there.
    static QHash<QByteArray, QPixmap> drawn;
    const int pixels = static_cast<int>(std::lround(size * device_ratio));
    const QByteArray key = QByteArray(path.data(), static_cast<int>(path.size())) + ink.name().toLatin1() +
                           QByteArray::number(size) + '@' + QByteArray::number(pixels);
    if (const auto known = drawn.constFind(key); known != drawn.constEnd()) return *known;
    QPixmap picture(pixels, pixels);
    picture.fill(Qt::transparent);
    const QByteArray svg = "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 24 24'><path d='" +
                           QByteArray(path.data(), static_cast<int>(path.size())) + "' fill='none' stroke='" +
                           ink.name().toLatin1() +
                           "' stroke-width='1.5' stroke-linejoin='round' stroke-linecap='round'/></svg>";
    QSvgRenderer renderer(svg);
    QPainter painter(&picture);
    renderer.render(&painter);
    painter.end();
    picture.setDevicePixelRatio(device_ratio);
    drawn.insert(key, picture);
    return picture;
}

QIcon glyph_icon(std::string_view path, int size) { return QIcon(glyph(path, size, color(Role::ink), 2)); }

QColor part_clay(int index) {
    // Clay first; then tones a harbour would wear, kept close to it in lightness.
    constexpr QRgb tints[] = {0, 0xffB98378, 0xff9DB0AE, 0xffC2AC7E, 0xff98A5B5, 0xffA9AE8C};
    const auto count = static_cast<int>(std::size(tints));
    return index % count == 0 ? color(Role::clay) : QColor::fromRgb(tints[index % count]);
}

double contrast(const QColor& a, const QColor& b) {
    const auto luminance = [](const QColor& c) {
        return 0.2126 * to_linear(c.redF()) + 0.7152 * to_linear(c.greenF()) + 0.0722 * to_linear(c.blueF());
    };
    const double high = std::max(luminance(a), luminance(b)), low = std::min(luminance(a), luminance(b));
    return (high + 0.05) / (low + 0.05);
}

}  // namespace bricol::theme
