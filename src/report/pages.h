// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "report/report.h"

#include <QPainter>
#include <QRectF>
#include <QString>

#include <functional>
#include <vector>

namespace fortitor {

/// The report laid out on A4 pages, in points. The same painting serves the preview and the PDF.
class ReportPages {
public:
    static constexpr double width = 595;
    static constexpr double height = 842;

    explicit ReportPages(const Report& report);
    [[nodiscard]] size_t count() const { return pages_.size(); }
    /// Paints page `index` (from 0) into a painter whose unit is a point.
    void paint(QPainter& painter, size_t index) const;

private:
    struct Block {
        double height = 0;
        std::function<void(QPainter&, const QRectF&)> paint;
    };
    void add(double tall, std::function<void(QPainter&, const QRectF&)> paint, double spaceBefore = 0);
    void addText(const std::string& text, double pixels, QFont::Weight weight, bool quiet, double spaceBefore = 0,
                 double indent = 0);
    void addHead(const Report& report);
    void addTable(const Report& report);
    void addCurves(const Report& report);
    void addFigure(const View& view);
    void addRemarks(const Report& report);
    void addReadings(const Report& report);
    void addDimensions(const Report& report);
    void addSignature(const Report& report);
    void addDerivations(const Report& report);

    std::vector<std::vector<std::pair<double, Block>>> pages_;
    double y_ = 0;
    std::string foot_;
};

/// Pages of one size for a PDF, painted in points.
struct PdfPages {
    QSizeF millimetres{210, 297};
    QString title{};
    size_t count = 0;
    std::function<void(QPainter&, size_t)> paint{};
};
/// Beside, then renamed.
Expected<Done> writePages(const std::string& path, const PdfPages& pages, const Progress& progress = {});

/// Writes the pages of a report as PDF.
Expected<Done> writePdf(const std::string& path, const Report& report, const Progress& progress = {});

} // namespace fortitor
