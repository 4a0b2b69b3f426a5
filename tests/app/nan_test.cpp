// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever the readings hold, the page is painted and STOP goes out.
#include "support.h"

#include "draw/chart.h"
#include "jobs/edits.h"
#include "methods/common/live_curve.h"

#include <QImage>
#include <QPainter>
#include <QRegularExpression>

#include <cmath>
#include <limits>

namespace fortitor {
namespace {

const double noNumber = std::nan("");
const double endless = std::numeric_limits<double>::infinity();

TEST(Unreadable, AGapIsDrawnAsAGap)
{
    QImage image(400, 300, QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    const Chart chart({0, 0, 400, 300}, 0, 10, 0, 10);
    const std::vector<double> x{0, 1, 2, noNumber, 4, 5, 6, endless, 8, 9, 10};
    const std::vector<double> y{5, 5, 5, 5, 5, noNumber, 5, 5, -endless, 5, 5};
    chart.drawCurve(painter, x, y, QPen(Qt::black, 3));
    painter.end();
    const auto inked = [&](double at) {
        return image.pixelColor(static_cast<int>(chart.px(at)), static_cast<int>(chart.py(5))).lightness() < 128;
    };
    EXPECT_TRUE(inked(1));
    EXPECT_FALSE(inked(3));
    EXPECT_FALSE(inked(5));
    EXPECT_FALSE(inked(7));
    EXPECT_TRUE(inked(9.5));
}

TEST(Unreadable, AChartOfNothingCanBePainted)
{
    QImage image(400, 300, QImage::Format_RGB32);
    QPainter painter(&image);
    for (const auto& [low, high] : {std::pair{noNumber, noNumber},
                                    {0.0, endless},
                                    {-endless, endless},
                                    {1.0, 1.0},
                                    {5.0, 2.0},
                                    {1e300, 1e301},
                                    {1e20, 1e20 + 1e5},
                                    {-1e308, 1e308}}) {
        const Chart chart({0, 0, 400, 300}, low, high, low, high);
        chart.drawAxes(painter, lightPalette(), "x", "y");
        const std::vector<double> all{low, high, 0, 1};
        chart.drawCurve(painter, all, all, QPen(Qt::black, 1, Qt::DashLine));
        EXPECT_TRUE(std::isfinite(chart.px(0.5)) && std::isfinite(chart.py(0.5)));
        EXPECT_LT(niceTicks(low, high, 6).at.size(), 40u);
        const auto [a, b] = roomyRange(low, high);
        EXPECT_LT(a, b);
    }
}

TEST(Unreadable, TheLiveCurveHoldsOnlyReadings)
{
    LiveCurve curve(80, 50, 60);
    for (int i = 0; i < 100; ++i)
        curve.add(i * 0.02, i % 7 == 3 ? noNumber : 100.0 * i, i > 50 ? noNumber : 0.001 * i, 0.002 * i, true);
    curve.add(noNumber, 1, 1, 1, true);
    curve.add(3, endless, 1, 1, true);
    ASSERT_GT(curve.strain().size(), 80u);
    for (const auto* values : {&curve.strain(), &curve.stress()})
        for (const double v : *values)
            EXPECT_TRUE(std::isfinite(v));
    // Off its scale the strain goes on from the crosshead, without a jump.
    for (size_t i = 1; i < curve.strain().size(); ++i)
        EXPECT_LT(std::abs(curve.strain()[i] - curve.strain()[i - 1]), 2e-4);
}

class UnreadableRun : public test::AppTest { };

TEST_F(UnreadableRun, ARunBeyondTheExtensometersTravelGoesOnAndStops)
{
    startWithDemo();
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 3, 2));
    settle();
    // An extensometer of 1 mm: off its scale long before the bar breaks.
    const Json tools = session().document().json()["instruments"];
    Json short_ = tools.at("extensometer");
    short_["travel"] = "1 mm";
    ASSERT_TRUE(session().apply(edits::instrument(session().document(), "extensometer", short_)));
    settle();
    LiveFrame& frame = window->frame();
    ASSERT_TRUE(frame.prepare().isEmpty());
    settle();
    frame.zeroForce();
    frame.closeTopGrip();
    frame.closeBottomGrip();
    settle();
    frame.easeToZero();
    ASSERT_TRUE(until([&] { return frame.shows("grip-second"); }));
    frame.putExtensometerOn();
    frame.setGuard(true);
    settle();
    session().setStage(3);
    frame.setPace(50);
    settle();
    frame.start();
    ASSERT_TRUE(until([&] { return frame.running() && !frame.waits(); })) << frame.holdBacks().join("; ").toStdString();
    QElapsedTimer most;
    qint64 longest = 0;
    most.start();
    QElapsedTimer whole;
    whole.start();
    while (frame.running() && whole.elapsed() < 15000) {
        most.restart();
        QApplication::processEvents(QEventLoop::AllEvents, 10);
        window->grab(); // paints whatever is there
        longest = std::max(longest, most.elapsed());
        if (frame.state() == LiveFrame::State::Prompt)
            frame.answerPrompt();
    }
    if (frame.running()) {
        press(Qt::Key_Escape);
        EXPECT_TRUE(until([&] { return !frame.running(); }, 3000)) << "STOP has to come through";
    }
    EXPECT_LT(longest, 2000) << "the page stood still";
    ASSERT_TRUE(session().record(3));
    // What the margin says afterwards can be read whole.
    QTest::qWait(300);
    for (const QWidget* card :
         window->findChild<QWidget*>("margin")->findChildren<QWidget*>(QRegularExpression("^remark-")))
        EXPECT_GE(card->height(), card->layout()->heightForWidth(card->width())) << card->objectName().toStdString();
}

} // namespace
} // namespace fortitor
