// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/svg_outline.h"

#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <map>
#include <numbers>
#include <optional>
#include <pugixml.hpp>
#include <set>

#include "core/ground/words.h"
#include "core/ground/stop.h"
#include "core/kernels/flatten.h"
#include "core/ground/numbers.h"
#include "core/kernels/svg_reader.h"

namespace bricol {

namespace {

constexpr double pixel = 0.0254 / 96;
constexpr int deepest = 64;

/// While reading, places are x and y of the drawing (y down), kept in the knots' x and y.
DVec2 flat(const Vec3& v) { return {v.x, v.y}; }
Vec3 knot_place(const DVec2& p) { return Vec3(p.x, p.y, 0); }

struct Matrix {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    DVec2 place(const DVec2& p) const { return {a * p.x + c * p.y + e, b * p.x + d * p.y + f}; }
    DVec2 way(const DVec2& p) const { return {a * p.x + c * p.y, b * p.x + d * p.y}; }
};
Matrix operator*(const Matrix& m, const Matrix& n) {
    return {m.a * n.a + m.c * n.b, m.b * n.a + m.d * n.b,       m.a * n.c + m.c * n.d,
            m.b * n.c + m.d * n.d, m.a * n.e + m.c * n.f + m.e, m.b * n.e + m.d * n.f + m.f};
}

struct Drawing {
    SvgOutline out;
    std::set<std::string> told;
    std::size_t knots = 0, most = 0;
    std::size_t elements = 0;  ///< read, those used again each time: a few lines can stand for billions
    bool too_many = false, too_used = false;

    void note(const std::string& text) {
        if (told.insert(text).second && out.notes.size() < 20) out.notes.push_back(text);
    }
    bool full() const {
        stop_point();
        return too_many || too_used;
    }

    void add(Curve curve, const Matrix& matrix) {
        if (curve.knots.empty()) return;
        // A closing piece of no length is the start again.
        if (curve.closed && curve.knots.size() > 1 &&
            glm::distance(curve.knots.front().at, curve.knots.back().at) <
                1e-6f * (1 + glm::length(curve.knots.front().at))) {
            curve.knots.front().in = curve.knots.back().in;
            curve.knots.pop_back();
        }
        if (curve.closed && curve.knots.size() < 2) curve.closed = false;
        if (curve.knots.size() < 2) return;
        for (Knot& knot : curve.knots) {
            knot.at = knot_place(matrix.place(flat(knot.at)));
            knot.in = knot_place(matrix.way(flat(knot.in)));
            knot.out = knot_place(matrix.way(flat(knot.out)));
            knot.kind = knot.in == Vec3(0) && knot.out == Vec3(0) ? KnotKind::corner : KnotKind::free;
        }
        knots += curve.knots.size();
        too_many |= knots > most;
        out.curves.push_back(std::move(curve));
    }
};

Knot outline_knot(const DVec2& p) {
    Knot knot;
    knot.at = knot_place(p);
    return knot;
}

/// `d` of a path, command by command (SVG 1.1, 8.3).
class PathReader {
public:
    PathReader(Drawing& drawing, std::string_view text, const Matrix& matrix)
        : drawing_(drawing), reader_(text), matrix_(matrix) {}

    /// Stops at the first fault, and what came before is drawn (SVG 1.1, F.2).
    void read() {
        bool sound = true;
        while (!reader_.done() && sound && !drawing_.full()) {
            if (curve_.knots.size() > drawing_.most) drawing_.too_many = true;
            sound = next_command() && obey();
            before_ = command_;
        }
        if (!sound) drawing_.note("A path is broken off where its text makes no sense; what came before is drawn.");
        finish();
    }

private:
    /// The letter, or the one before again when numbers follow; a move goes on as lines.
    bool next_command() {
        if (std::isalpha(static_cast<unsigned char>(*reader_.at)))
            command_ = *reader_.at++;
        else if (command_ == 'M' || command_ == 'm')
            command_ = command_ == 'M' ? 'L' : 'l';
        else if (kind_of(command_) == 'Z' || command_ == 0)
            return false;
        origin_ = std::islower(static_cast<unsigned char>(command_)) ? pen_ : DVec2(0);
        return true;
    }
    bool obey() {
        switch (kind_of(command_)) {
            case 'M':
                return move();
            case 'Z':
                return close();
            case 'L':
            case 'H':
            case 'V':
                return line();
            case 'C':
            case 'S':
                return cubic();
            case 'Q':
            case 'T':
                return quadratic();
            case 'A':
                return arc();
            default:
                return false;
        }
    }

    bool move() {
        const auto p = point();
        if (!p) return false;
        finish();
        pen_ = start_ = *p;
        return true;
    }
    bool close() {
        if (!curve_.knots.empty()) {
            curve_.closed = true;
            finish();
        }
        pen_ = start_;
        return true;
    }
    bool line() {
        const char kind = kind_of(command_);
        std::optional<DVec2> p;
        if (kind == 'L')
            p = point();
        else if (const auto x = reader_.number())
            p = kind == 'H' ? DVec2(*x + origin_.x, pen_.y) : DVec2(pen_.x, *x + origin_.y);
        if (!p) return false;
        begin();
        curve_.knots.push_back(outline_knot(*p));
        pen_ = *p;
        return true;
    }
    bool cubic() {
        const auto one = kind_of(command_) == 'S' ? std::optional(mirrored_control('C', 'S')) : point();
        const auto two = one ? point() : std::nullopt, p = two ? point() : std::nullopt;
        if (!p) return false;
        curve_to(*one, *two, *p);
        control_ = *two;
        return true;
    }
    /// Raised by a degree: the same curve.
    bool quadratic() {
        const auto one = kind_of(command_) == 'T' ? std::optional(mirrored_control('Q', 'T')) : point();
        const auto p = one ? point() : std::nullopt;
        if (!p) return false;
        curve_to(pen_ + (*one - pen_) * (2.0 / 3), *p + (*one - *p) * (2.0 / 3), *p);
        control_ = *one;
        return true;
    }
    bool arc() {
        const auto rx = reader_.number(), ry = rx ? reader_.number() : std::nullopt,
                   turn = ry ? reader_.number() : std::nullopt;
        const auto large = turn ? reader_.flag() : std::nullopt, sweep = large ? reader_.flag() : std::nullopt;
        const auto p = sweep ? point() : std::nullopt;
        if (!p) return false;
        begin();
        add_svg_arc(curve_.knots, {*rx, *ry}, *turn, *large, *sweep, *p);
        pen_ = *p;
        return true;
    }

    static char kind_of(char command) { return static_cast<char>(std::toupper(static_cast<unsigned char>(command))); }
    std::optional<DVec2> point() {
        const auto x = reader_.number(), y = x ? reader_.number() : std::nullopt;
        if (!y) return std::nullopt;
        return DVec2(*x, *y) + origin_;
    }
    /// The control point of the command before mirrored in the pen; the pen itself when that was of another kind.
    DVec2 mirrored_control(char plain, char smooth) const {
        return kind_of(before_) == plain || kind_of(before_) == smooth ? pen_ * 2.0 - control_ : pen_;
    }
    void begin() {
        if (curve_.knots.empty()) curve_.knots.push_back(outline_knot(pen_));
    }
    void curve_to(const DVec2& one, const DVec2& two, const DVec2& p) {
        begin();
        curve_.knots.back().out = knot_place(one - pen_);
        Knot knot = outline_knot(p);
        knot.in = knot_place(two - p);
        curve_.knots.push_back(knot);
        pen_ = p;
    }
    void finish() {
        drawing_.add(std::move(curve_), matrix_);
        curve_ = {};
    }

    Drawing& drawing_;
    SvgReader reader_;
    const Matrix& matrix_;
    Curve curve_;
    DVec2 pen_{0}, start_{0}, control_{0}, origin_{0};
    char command_ = 0, before_ = 0;
};

Matrix read_transform(std::string_view text) {
    Matrix whole;
    std::size_t at = 0;
    while (at < text.size()) {
        const std::size_t open = text.find('(', at);
        if (open == std::string_view::npos) break;
        const std::size_t close = text.find(')', open);
        if (close == std::string_view::npos) break;
        std::string name;
        for (const char c : text.substr(at, open - at))
            if (std::isalpha(static_cast<unsigned char>(c))) name += c;
        SvgReader reader(text.substr(open + 1, close - open - 1));
        std::vector<double> v;
        while (const auto n = reader.number()) v.push_back(*n);
        Matrix m;
        const double first = v.empty() ? 0 : v[0];
        if (name == "matrix" && v.size() == 6) m = {v[0], v[1], v[2], v[3], v[4], v[5]};
        if (name == "translate") m.e = first, m.f = v.size() > 1 ? v[1] : 0;
        if (name == "scale" && !v.empty()) m.a = first, m.d = v.size() > 1 ? v[1] : first;
        if (name == "skewX") m.c = std::tan(first * pi / 180);
        if (name == "skewY") m.b = std::tan(first * pi / 180);
        if (name == "rotate") {
            const double c = std::cos(first * pi / 180), s = std::sin(first * pi / 180);
            m = {c, s, -s, c, 0, 0};
            if (v.size() > 2) m = Matrix{1, 0, 0, 1, v[1], v[2]} * m * Matrix{1, 0, 0, 1, -v[1], -v[2]};
        }
        whole = whole * m;
        at = close + 1;
    }
    return whole;
}

/// A length with its unit as user units (px).
double length_of(Drawing& drawing, std::string_view text, double whole, double otherwise) {
    SvgReader reader(text);
    const auto value = reader.number();
    if (!value) return otherwise;
    std::string unit(reader.at, reader.end);
    while (!unit.empty() && std::isspace(static_cast<unsigned char>(unit.back()))) unit.pop_back();
    static const std::map<std::string, double> units = {
        {"", 1},    {"px", 1},         {"mm", 96 / 25.4}, {"cm", 960 / 25.4},
        {"in", 96}, {"pt", 96.0 / 72}, {"pc", 16},        {"Q", 96 / 101.6}};
    if (unit == "%") return whole * *value / 100;
    const auto known = units.find(unit);
    if (known == units.end()) {
        drawing.note(fmt::format("The unit “{}” is not known; pixels are taken.", shortened(unit)));
        return *value;
    }
    return *value * known->second;
}

void ring(Drawing& drawing, const DVec2& middle, const DVec2& radii, const Matrix& matrix) {
    if (radii.x <= 0 || radii.y <= 0) return;
    Curve curve;
    curve.closed = true;
    const double handle = arc_handle(pi / 2);
    for (const auto& [x, y] : {std::pair{1, 0}, {0, 1}, {-1, 0}, {0, -1}}) {
        Knot knot = outline_knot(middle + DVec2(x, y) * radii);
        knot.out = knot_place(DVec2(-y, x) * radii * handle);
        knot.in = -knot.out;
        curve.knots.push_back(knot);
    }
    drawing.add(std::move(curve), matrix);
}

void rectangle(Drawing& drawing, const DVec2& at, const DVec2& size, DVec2 round, const Matrix& matrix) {
    if (size.x <= 0 || size.y <= 0) return;
    round = glm::min(glm::max(round, DVec2(0)), size / 2.0);
    Curve curve;
    curve.closed = true;
    if (round.x <= 0 || round.y <= 0) {
        for (const DVec2& p : {at, at + DVec2(size.x, 0), at + size, at + DVec2(0, size.y)})
            curve.knots.push_back(outline_knot(p));
        drawing.add(std::move(curve), matrix);
        return;
    }
    const double handle = arc_handle(pi / 2);
    // Each corner: where the round begins and ends, going round to the right and down.
    const DVec2 corners[4] = {at + DVec2(size.x, 0), at + size, at + DVec2(0, size.y), at};
    const DVec2 in[4] = {{1, 0}, {0, 1}, {-1, 0}, {0, -1}}, to[4] = {{0, 1}, {-1, 0}, {0, -1}, {1, 0}};
    for (int i = 0; i < 4; ++i) {
        Knot first = outline_knot(corners[i] - in[i] * round), last = outline_knot(corners[i] + to[i] * round);
        first.out = knot_place(in[i] * round * handle);
        last.in = knot_place(-to[i] * round * handle);
        curve.knots.push_back(first);
        curve.knots.push_back(last);
    }
    drawing.add(std::move(curve), matrix);
}

void read_element(Drawing& drawing, const pugi::xml_node& node, const Matrix& around,
                  const std::map<std::string, pugi::xml_node>& named, const DVec2& page, int depth) {
    drawing.too_used |= ++drawing.elements > 5 * drawing.most;
    if (drawing.full()) return;
    if (depth > deepest) {
        drawing.note("Groups stand inside one another too deeply; the innermost were left out.");
        return;
    }
    std::string name = node.name();
    if (const std::size_t colon = name.find(':'); colon != std::string::npos) name = name.substr(colon + 1);
    if (name.empty() || name == "defs" || name == "symbol" || name == "clipPath" || name == "mask" ||
        name == "marker" || name == "pattern" || name == "metadata" || name == "title" || name == "desc" ||
        name == "style" || name == "namedview")
        return;
    if (std::string_view(node.attribute("display").value()) == "none" ||
        std::strstr(node.attribute("style").value(), "display:none"))
        return;
    const Matrix matrix = around * read_transform(node.attribute("transform").value());
    const auto number = [&](const char* key, double whole) {
        return length_of(drawing, node.attribute(key).value(), whole, 0);
    };
    const double diagonal = glm::length(page) / std::sqrt(2.0);
    if (name == "path") {
        PathReader(drawing, node.attribute("d").value(), matrix).read();
    } else if (name == "rect") {
        const bool has_x = node.attribute("rx"), has_y = node.attribute("ry");
        DVec2 round(number("rx", page.x), number("ry", page.y));
        if (!has_x) round.x = round.y;
        if (!has_y) round.y = round.x;
        rectangle(drawing, {number("x", page.x), number("y", page.y)},
                  {number("width", page.x), number("height", page.y)}, round, matrix);
    } else if (name == "circle") {
        ring(drawing, {number("cx", page.x), number("cy", page.y)}, DVec2(number("r", diagonal)), matrix);
    } else if (name == "ellipse") {
        ring(drawing, {number("cx", page.x), number("cy", page.y)}, {number("rx", page.x), number("ry", page.y)},
             matrix);
    } else if (name == "line" || name == "polyline" || name == "polygon") {
        Curve curve;
        curve.closed = name == "polygon";
        if (name == "line") {
            curve.knots = {outline_knot({number("x1", page.x), number("y1", page.y)}),
                           outline_knot({number("x2", page.x), number("y2", page.y)})};
        } else {
            SvgReader reader(node.attribute("points").value());
            while (const auto x = reader.number()) {
                const auto y = reader.number();
                if (!y) break;
                curve.knots.push_back(outline_knot({*x, *y}));
                if (curve.knots.size() > drawing.most) {
                    drawing.too_many = true;
                    return;
                }
            }
        }
        drawing.add(std::move(curve), matrix);
    } else if (name == "use") {
        std::string target =
            node.attribute("href") ? node.attribute("href").value() : node.attribute("xlink:href").value();
        if (!target.starts_with('#')) {
            drawing.note("A link to another file was left out: only this drawing is read.");
            return;
        }
        const auto found = named.find(target.substr(1));
        if (found == named.end()) {
            drawing.note(fmt::format("“{}” is used but not there.", shortened(target)));
            return;
        }
        Matrix moved = matrix * Matrix{1, 0, 0, 1, number("x", page.x), number("y", page.y)};
        if (std::string_view(found->second.name()).ends_with("symbol"))
            for (const auto& child : found->second.children())
                read_element(drawing, child, moved, named, page, depth + 8);
        else
            read_element(drawing, found->second, moved, named, page, depth + 8);  // a circle of uses ends soon
    } else if (name == "text" || name == "tspan") {
        drawing.note("Text was left out. Turn it into paths in the drawing program.");
    } else if (name == "image") {
        drawing.note("A picture was left out: only outlines are read.");
    } else if (name == "g" || name == "svg" || name == "a" || name == "switch") {
        for (const auto& child : node.children()) read_element(drawing, child, matrix, named, page, depth + 1);
    }
}

void collect(const pugi::xml_node& node, std::map<std::string, pugi::xml_node>& named, int depth) {
    if (depth > 4 * deepest) return;
    for (const auto& child : node.children()) {
        if (const auto id = child.attribute("id")) named.try_emplace(id.value(), child);
        collect(child, named, depth + 1);
    }
}

}  // namespace

void add_svg_arc(std::vector<Knot>& knots, DVec2 radii, double rotation, bool large, bool sweep, DVec2 to) {
    const DVec2 from = flat(knots.back().at);
    if (from == to) return;
    radii = glm::abs(radii);
    if (radii.x == 0 || radii.y == 0) {
        knots.push_back(outline_knot(to));
        return;
    }
    const double phi = rotation * pi / 180, c = std::cos(phi), s = std::sin(phi);
    // F.6.5, step 1 to 4.
    const DVec2 half = (from - to) / 2.0, own(c * half.x + s * half.y, -s * half.x + c * half.y);
    const double lambda = own.x * own.x / (radii.x * radii.x) + own.y * own.y / (radii.y * radii.y);
    if (lambda > 1) radii *= std::sqrt(lambda);  // F.6.6, step 3
    const double rx2 = radii.x * radii.x, ry2 = radii.y * radii.y, x2 = own.x * own.x, y2 = own.y * own.y;
    const double root =
        std::sqrt(std::max(0.0, (rx2 * ry2 - rx2 * y2 - ry2 * x2) / (rx2 * y2 + ry2 * x2))) * (large == sweep ? -1 : 1);
    const DVec2 centre_own(root * radii.x * own.y / radii.y, -root * radii.y * own.x / radii.x);
    const DVec2 centre =
        DVec2(c * centre_own.x - s * centre_own.y, s * centre_own.x + c * centre_own.y) + (from + to) / 2.0;
    const auto angle_of = [&](const DVec2& p) { return std::atan2(p.y / radii.y, p.x / radii.x); };
    const double first = angle_of(own - centre_own);
    double turn = angle_of(-own - centre_own) - first;
    if (sweep && turn < 0) turn += 2 * pi;
    if (!sweep && turn > 0) turn -= 2 * pi;
    const int pieces = std::max(1, static_cast<int>(std::ceil(std::abs(turn) / (pi / 2) - 1e-9)));
    const double handle = arc_handle(std::abs(turn) / pieces) * (turn < 0 ? -1 : 1);
    const auto turned = [&](const DVec2& p) { return DVec2(c * p.x - s * p.y, s * p.x + c * p.y); };
    for (int i = 0; i < pieces; ++i) {
        const double a = first + turn * i / pieces, b = first + turn * (i + 1) / pieces;
        knots.back().out = knot_place(turned(DVec2(-std::sin(a), std::cos(a)) * radii * handle));
        Knot knot = outline_knot(i + 1 == pieces ? to : centre + turned(DVec2(std::cos(b), std::sin(b)) * radii));
        knot.in = knot_place(turned(DVec2(std::sin(b), -std::cos(b)) * radii * handle));
        knots.push_back(knot);
    }
}

Result<SvgOutline> read_svg_outline(std::string_view text, std::size_t most_knots) {
    if (text.find("<!ENTITY") != std::string_view::npos)
        return Problem{"The drawing brings entities of its own, which are not read.", "", "Save it as plain SVG."};
    pugi::xml_document document;
    const auto parsed = document.load_buffer(text.data(), text.size(), pugi::parse_default);
    if (!parsed)
        return Problem{fmt::format("The drawing is not sound XML: {} at byte {}.", parsed.description(), parsed.offset),
                       "", "Save it again as SVG."};
    pugi::xml_node root;
    for (const auto& child : document.children())
        if (std::string_view(child.name()) == "svg" || std::string_view(child.name()).ends_with(":svg")) root = child;
    if (!root)
        return Problem{"This is no SVG drawing: its outermost element is not “svg”.", "", "Choose another file."};
    Drawing drawing;
    drawing.most = most_knots;
    std::vector<double> box;
    SvgReader reader(root.attribute("viewBox").value());
    while (const auto n = reader.number()) box.push_back(*n);
    const bool has_box = box.size() == 4 && box[2] > 0 && box[3] > 0;
    const DVec2 user = has_box ? DVec2(box[2], box[3]) : DVec2(0);
    DVec2 page(length_of(drawing, root.attribute("width").value(), user.x, user.x),
               length_of(drawing, root.attribute("height").value(), user.y, user.y));
    if (!root.attribute("width") && !root.attribute("height") && !has_box)
        drawing.note("The drawing gives no size; its units are taken as pixels, 96 to an inch.");
    if (page.x <= 0) page.x = user.x > 0 ? user.x : 0;
    if (page.y <= 0) page.y = user.y > 0 ? user.y : 0;
    // As a whole and in the middle of the page (preserveAspectRatio's default).
    const double scale = has_box ? std::min(page.x / user.x, page.y / user.y) : 1;
    Matrix matrix;
    const DVec2 middle = (page - user * scale) / 2.0;
    if (has_box) matrix = {scale, 0, 0, scale, middle.x - box[0] * scale, middle.y - box[1] * scale};
    std::map<std::string, pugi::xml_node> named;
    collect(root, named, 0);
    for (const auto& child : root.children()) read_element(drawing, child, matrix, named, has_box ? user : page, 0);
    if (drawing.too_used)
        return Problem{fmt::format("The drawing uses its elements more than {} times.", 5 * most_knots), "",
                       "Take elements that use other elements again and again out of it."};
    if (drawing.too_many)
        return Problem{fmt::format("The drawing has more than {} knots.", most_knots), "",
                       "Simplify its paths, or take a smaller part of it."};
    // Pixels down the page to metres up it.
    for (Curve& curve : drawing.out.curves)
        for (Knot& knot : curve.knots) {
            const auto placed = [](const Vec3& v, double height) {
                return Vec3(DVec3(v.x * pixel, 0, (height - v.y) * pixel));
            };
            knot.at = placed(knot.at, page.y);
            knot.in = placed(knot.in, 0);
            knot.out = placed(knot.out, 0);
        }
    drawing.out.page = page * pixel;
    return std::move(drawing.out);
}

}  // namespace bricol
