// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/pages.h"

#include "draw/chart.h"
#include "draw/overlay.h"

#include <fmt/format.h>

#include <QFile>
#include <QFontMetricsF>
#include <QPageSize>
#include <QPdfWriter>
#include <QTextLayout>
#include <QTextOption>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <unistd.h>

namespace fortitor {
namespace {

constexpr double pageLeft = 48;
constexpr double pageRight = 547;
constexpr double pageTop = 44;
constexpr double pageBottom = 806;

QString q(const std::string& text)
{
    return QString::fromStdString(text);
}

/// Paper is always light, whatever the theme of the screen.
const Palette& paper()
{
    return lightPalette();
}

/// Text laid out in lines of a width, in one face.
struct Paragraph {
    Paragraph(const QString& text, const QFont& font, double width) : layout(std::make_shared<QTextLayout>(text, font))
    {
        QTextOption option;
        option.setWrapMode(QTextOption::WrapAtWordBoundaryOrAnywhere);
        layout->setTextOption(option);
        layout->beginLayout();
        for (QTextLine line = layout->createLine(); line.isValid(); line = layout->createLine()) {
            line.setLineWidth(width);
            line.setPosition({0, height});
            height += font.pixelSize() * 1.42;
        }
        layout->endLayout();
    }
    std::shared_ptr<QTextLayout> layout;
    double height = 0;
};

void drawRight(QPainter& painter, double x, double y, const QString& text)
{
    painter.drawText(QPointF(x - QFontMetricsF(painter.font()).horizontalAdvance(text), y), text);
}

} // namespace

ReportPages::ReportPages(const Report& report)
{
    foot_ = fmt::format("{} · {} · {}", report.choices.laboratory, report.number, report.choices.date);
    pages_.emplace_back();
    y_ = pageTop;
    addHead(report);
    addTable(report);
    for (const std::string& line : report.scatter)
        addText(line, 8.5, QFont::Normal, true, 3);
    for (const auto& [heading, lines] : {std::pair("Acceptance rules", &report.rules), {"In words", &report.told}}) {
        if (lines->empty())
            continue;
        addText(heading, 10, QFont::DemiBold, false, 10);
        for (const std::string& line : *lines)
            addText(line, 8.5, QFont::Normal, false, 3);
    }
    if (report.figure)
        addFigure(*report.figure);
    if (!report.curves.empty())
        addCurves(report);
    addReadings(report);
    if (report.choices.dimensions)
        addDimensions(report);
    if (report.choices.remarks)
        addRemarks(report);
    addSignature(report);
    if (report.choices.derivations)
        addDerivations(report);
}

void ReportPages::add(double tall, std::function<void(QPainter&, const QRectF&)> paint, double spaceBefore)
{
    if (y_ + spaceBefore + tall > pageBottom && !pages_.back().empty()) {
        pages_.emplace_back();
        y_ = pageTop;
    } else {
        y_ += spaceBefore;
    }
    pages_.back().push_back({y_, Block{tall, std::move(paint)}});
    y_ += tall;
}

void ReportPages::addText(const std::string& text, double pixels, QFont::Weight weight, bool quiet, double spaceBefore,
                          double indent)
{
    const Paragraph paragraph(q(text), wordFont(pixels, weight), pageRight - pageLeft - indent);
    add(
        paragraph.height,
        [paragraph, quiet, indent](QPainter& painter, const QRectF& room) {
            painter.setPen(quiet ? paper().quiet : paper().ink);
            paragraph.layout->draw(&painter, room.topLeft() + QPointF(indent, 0));
        },
        spaceBefore);
}

void ReportPages::addHead(const Report& report)
{
    add(78, [report](QPainter& painter, const QRectF& room) {
        painter.setPen(paper().quiet);
        painter.setFont(wordFont(9));
        painter.drawText(QPointF(room.left(), room.top() + 10), q(report.choices.laboratory));
        drawRight(painter, room.right(), room.top() + 10, q(report.choices.date));
        painter.setPen(paper().ink);
        painter.setFont(wordFont(18, QFont::DemiBold));
        painter.drawText(QPointF(room.left(), room.top() + 36),
                         q(report.title.empty() ? "Untitled job" : report.title));
        painter.setFont(figureFont(13));
        drawRight(painter, room.right(), room.top() + 36, q(report.number));
        painter.setFont(wordFont(10));
        painter.setPen(paper().quiet);
        painter.drawText(QPointF(room.left(), room.top() + 54),
                         q(report.material + (report.material.empty() ? "" : " · ") + report.method + " · "
                           + report.standards));
        if (!report.wanted.empty())
            drawRight(painter, room.right(), room.top() + 54, q("wanted: " + report.wanted));
        painter.setPen(QPen(paper().ink, 1.2));
        painter.drawLine(QPointF(room.left(), room.top() + 66), QPointF(room.right(), room.top() + 66));
    });
    addText(report.verdict, 11.5, QFont::DemiBold, false);
}

void ReportPages::addTable(const Report& report)
{
    const size_t n = report.columns.size();
    const double first = 62;
    const double last = 46;
    const double step = n > 0 ? std::min(74.0, (pageRight - pageLeft - first - last) / static_cast<double>(n)) : 60;
    const auto columnRight = [first, step](size_t c) {
        return pageLeft + first + step * static_cast<double>(c + 1) - 6;
    };
    add(
        42,
        [report, columnRight](QPainter& painter, const QRectF& room) {
            for (size_t c = 0; c < report.columns.size(); ++c) {
                painter.setPen(paper().ink);
                const QFont font = wordFont(10.5, QFont::Medium);
                const QString symbol = q(report.columns[c].symbol);
                drawSymbol(&painter, QPointF(columnRight(c) - drawSymbol(nullptr, {}, symbol, font), room.top() + 12),
                           symbol, font);
                painter.setFont(wordFont(8.5));
                painter.setPen(paper().quiet);
                drawRight(painter, columnRight(c), room.top() + 23,
                          q(report.columns[c].unit.empty() ? "1" : report.columns[c].unit));
                drawRight(painter, columnRight(c), room.top() + 34, q(report.columns[c].wanted));
            }
            painter.setPen(QPen(paper().hair, 0.8));
            painter.drawLine(QPointF(room.left(), room.bottom() - 1), QPointF(room.right(), room.bottom() - 1));
        },
        12);
    for (const ReportRow& row : report.rows) {
        add(17, [row, columnRight](QPainter& painter, const QRectF& room) {
            const double y = room.top() + 12;
            const bool out = !row.excludedBecause.empty();
            painter.setPen(out ? paper().quiet : paper().ink);
            painter.setFont(wordFont(10, QFont::Medium));
            painter.drawText(QPointF(room.left(), y), q(row.label));
            painter.setFont(figureFont(10));
            for (size_t c = 0; c < row.cells.size(); ++c) {
                painter.setPen(row.cells[c].failed ? paper().stop : out ? paper().quiet : paper().ink);
                drawRight(painter, columnRight(c), y, q(row.cells[c].text + (row.cells[c].failed ? " ×" : "")));
            }
            painter.setFont(wordFont(9.5));
            painter.setPen(row.verdict == "fail" ? paper().stop : paper().quiet);
            drawRight(painter, room.right(), y, q(out ? "left out" : row.verdict));
            painter.setPen(QPen(paper().hairSoft, 0.6));
            painter.drawLine(QPointF(room.left(), room.bottom()), QPointF(room.right(), room.bottom()));
        });
        if (!row.excludedBecause.empty())
            addText("left out: " + row.excludedBecause, 8.5, QFont::Normal, true, 1, 20);
        if (!row.problem.empty())
            addText(row.problem, 8.5, QFont::Normal, true, 1, 20);
    }
    for (size_t k = 0; k < report.statistics.size(); ++k) {
        const auto& statistic = report.statistics[k];
        add(
            14,
            [statistic, columnRight](QPainter& painter, const QRectF& room) {
                painter.setPen(paper().quiet);
                painter.setFont(wordFont(9));
                painter.drawText(QPointF(room.left(), room.top() + 11), q(statistic.first));
                painter.setFont(figureFont(9));
                for (size_t c = 0; c < statistic.second.size(); ++c)
                    drawRight(painter, columnRight(c), room.top() + 11, q(statistic.second[c]));
            },
            k == 0 ? 4 : 0);
    }
    for (const ReportSetFigure& figure : report.set) {
        const std::string value = figure.text + (figure.unit.empty() ? "" : " " + figure.unit)
            + (figure.uncertainty.empty() ? "" : ", ± " + figure.uncertainty);
        const std::string wanted = figure.wanted.empty() ? "" : ", wanted " + figure.wanted + ": " + figure.verdict;
        addText("of the set, " + figure.name + " " + symbolText(figure.symbol) + ": "
                    + (figure.why.empty() ? value : "– (" + figure.why + ")") + wanted,
                9.5, QFont::Normal, false, &figure == &report.set.front() ? 6 : 1, 0);
    }
}

void ReportPages::addFigure(const View& view)
{
    add(
        178,
        [&view](QPainter& painter, const QRectF& room) {
            Plot plot = plotOf(view, UnitSystem::SI);
            plot.names = Plot::Names::Row;
            constexpr double small = 0.78;
            plot.paint(painter, paper(), room, plot.chartIn(room, small), small);
        },
        14);
}

void ReportPages::addCurves(const Report& report)
{
    add(
        178,
        [report](QPainter& painter, const QRectF& room) {
            std::vector<OverlaidCurve> curves;
            for (size_t i = 0; i < report.curves.size(); ++i)
                curves.push_back({.view = report.curves[i].curve, .label = q(report.curves[i].label), .kind = i});
            Plot plot = overlayOf(curves, UnitSystem::SI).plot;
            plot.names = Plot::Names::Row;
            constexpr double small = 0.78;
            plot.paint(painter, paper(), room, plot.chartIn(room, small), small);
        },
        14);
}

void ReportPages::addReadings(const Report& report)
{
    bool head = false;
    for (const ReportRow& row : report.rows)
        for (const std::string& line : row.readings) {
            if (!std::exchange(head, true))
                addText("Single readings", 10, QFont::DemiBold, false, 10);
            addText(row.label + ": " + line, 8.5, QFont::Normal, true, 2);
        }
}

void ReportPages::addDimensions(const Report& report)
{
    if (std::ranges::all_of(report.rows, [](const ReportRow& row) { return row.dimensions.empty(); }))
        return;
    addText("Dimensions as measured", 10, QFont::DemiBold, false, 10);
    // What the whole lot shares is said once.
    std::vector<std::string> shared;
    if (report.rows.size() > 1)
        for (const std::string& text : report.rows.front().dimensions)
            if (std::ranges::all_of(report.rows, [&](const ReportRow& row) {
                    return std::ranges::find(row.dimensions, text) != row.dimensions.end();
                }))
                shared.push_back(text);
    if (!shared.empty())
        addText("all: " + fmt::format("{}", fmt::join(shared, " · ")), 8.5, QFont::Normal, true, 2);
    for (const ReportRow& row : report.rows) {
        std::vector<std::string> own;
        for (const std::string& text : row.dimensions)
            if (std::ranges::find(shared, text) == shared.end())
                own.push_back(text);
        if (!own.empty())
            addText(row.label + ": " + fmt::format("{}", fmt::join(own, " · ")), 8.5, QFont::Normal, true, 2);
    }
}

void ReportPages::addRemarks(const Report& report)
{
    if (report.remarks.empty())
        return;
    addText("Remarks", 10, QFont::DemiBold, false, 10);
    // The same words on several specimens are said once; of notes what follows from them.
    const auto words = [](const Remark& r) {
        return r.severity == Severity::Note && !r.advice.empty() ? r.advice : r.text;
    };
    std::vector<std::pair<std::string, ReportRemark>> grouped;
    for (const ReportRemark& r : report.remarks) {
        const auto it = std::ranges::find_if(grouped, [&](const auto& g) {
            return words(g.second.remark) == words(r.remark) && g.second.settledBy == r.settledBy;
        });
        if (it == grouped.end())
            grouped.emplace_back(r.label, r);
        else
            it->first += ", " + r.label;
    }
    for (const auto& [labels, r] : grouped)
        addText(fmt::format("{} · {} · {}{}", labels, severityName(r.remark.severity), words(r.remark),
                            r.settledBy.empty() ? (r.remark.severity == Severity::Note ? "" : " (open)")
                                                : " – " + r.settledBy),
                8.5, QFont::Normal, true, 2);
}

void ReportPages::addSignature(const Report& report)
{
    std::string tools;
    for (const std::string& t : report.instruments)
        tools += (tools.empty() ? "Instruments: " : " · ") + t;
    if (!tools.empty())
        addText(tools, 8.5, QFont::Normal, true, 10);
    addText("Uncertainty where given is expanded, k = 2. Figures are rounded for print only. The rules named are "
            "applied as described in the program's methods basis; the laboratory's own copy of each standard decides.",
            8, QFont::Normal, true, 4);
    if (!report.choices.journal.empty())
        addText("From the logbook at " + report.choices.journal + ".", 8, QFont::Normal, true, 4);
    add(
        46,
        [report](QPainter& painter, const QRectF& room) {
            painter.setFont(wordFont(9));
            const double y = room.top() + 34;
            for (const auto& [x, words] : {std::pair{room.left(), q("tested by " + report.choices.testedBy)},
                                           std::pair{room.center().x() + 10, QString("checked and released by")}}) {
                painter.setPen(QPen(paper().hair, 0.8));
                painter.drawLine(QPointF(x, y), QPointF(x + 220, y));
                painter.setPen(paper().quiet);
                painter.drawText(QPointF(x, y + 11), words);
            }
        },
        8);
}

void ReportPages::addDerivations(const Report& report)
{
    pages_.emplace_back();
    y_ = pageTop;
    addText("How each figure came about", 14, QFont::DemiBold, false);
    std::string label;
    for (const ReportDerivation& d : report.derivations) {
        if (d.label != label)
            addText(d.label, 11, QFont::DemiBold, false, 12);
        label = d.label;
        for (const WorkingLine& line : d.lines) {
            const bool own = line.symbol == d.symbol;
            if (!own && line.formula.empty())
                continue;
            std::string text = line.symbol + (line.formula.empty() ? "" : " = " + line.formula) + "   " + line.numbers;
            if (own && d.budget.expanded > 0)
                text += fmt::format("  ± {} {}", formatSignificant(d.budget.expanded * d.perBase, 2), d.unit);
            addText(text, 8.5, own ? QFont::Medium : QFont::Normal, !own, own ? 1 : 3, own ? 8 : 20);
            if (own && !(line.rule.empty() && line.points.empty()))
                addText(line.rule + (line.rule.empty() || line.points.empty() ? "" : " · ") + line.points, 7.5,
                        QFont::Normal, true, 0, 8);
        }
    }
}

void ReportPages::paint(QPainter& painter, size_t index) const
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(QRectF(0, 0, width, height), Qt::white);
    for (const auto& [y, block] : pages_[index]) {
        painter.save();
        block.paint(painter, QRectF(pageLeft, y, pageRight - pageLeft, block.height));
        painter.restore();
    }
    painter.setFont(wordFont(8));
    painter.setPen(paper().quiet);
    painter.drawText(QPointF(pageLeft, height - 26), q(foot_));
    drawRight(painter, pageRight, height - 26, QString("page %1 of %2").arg(index + 1).arg(count()));
    painter.restore();
}

Expected<Done> writePages(const std::string& path, const PdfPages& pages, const Progress& progress)
{
    const std::string beside = path + ".part" + std::to_string(::getpid());
    const Problem failed{path, "the PDF could not be written", "room and rights in the folder",
                         "What was there before is unchanged."};
    {
        QFile file(q(beside));
        if (!file.open(QIODevice::WriteOnly))
            return failed;
        QPdfWriter writer(&file);
        writer.setPageSize(QPageSize(pages.millimetres, QPageSize::Millimeter));
        writer.setPageMargins({0, 0, 0, 0});
        writer.setResolution(288);
        writer.setTitle(pages.title);
        writer.setCreator("Fortitor " FORTITOR_VERSION);
        QPainter painter(&writer);
        painter.scale(288.0 / 72, 288.0 / 72);
        for (size_t i = 0; i < pages.count; ++i) {
            if (progress && !progress(static_cast<double>(i) / static_cast<double>(pages.count))) {
                painter.end();
                file.remove();
                return Problem{path, "stopped by hand", "", "Nothing was written."};
            }
            if (i > 0)
                writer.newPage();
            pages.paint(painter, i);
        }
        painter.end();
        file.flush();
        ::fsync(file.handle());
        if (file.error() != QFileDevice::NoError) {
            file.remove();
            return failed;
        }
    }
    if (std::rename(beside.c_str(), path.c_str()) != 0) {
        std::remove(beside.c_str());
        return failed;
    }
    return Done{};
}

Expected<Done> writePdf(const std::string& path, const Report& report, const Progress& progress)
{
    const ReportPages pages(report);
    return writePages(path,
                      {.millimetres = {210, 297},
                       .title = q(report.number + " " + report.title),
                       .count = pages.count(),
                       .paint = [&](QPainter& painter, size_t i) { pages.paint(painter, i); }},
                      progress);
}

} // namespace fortitor
