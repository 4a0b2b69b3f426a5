// SPDX-License-Identifier: GPL-3.0-or-later
// Approving with and without a key, as a person does it.
#include "app/bench/judge/key_dialog.h"
#include "app/bench/report/report_page.h"
#include "support.h"

#include <QDir>
#include <QLabel>

namespace fortitor {
namespace {

class Approve : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
        ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 0, 5));
    }
    /// Does something inside the key dialog that `open` brings up.
    void inDialog(const std::function<void()>& open, const std::function<void(KeyDialog&)>& act)
    {
        bool seen = false;
        QTimer::singleShot(150, window.get(), [&] {
            auto* dialog = qobject_cast<KeyDialog*>(QApplication::activeModalWidget());
            ASSERT_TRUE(dialog);
            seen = true;
            act(*dialog);
            if (dialog->isVisible())
                dialog->reject();
        });
        open();
        EXPECT_TRUE(seen);
        settle();
    }
    static void put(KeyDialog& dialog, const char* name, const QString& text)
    {
        auto* edit = dialog.findChild<QLineEdit*>(name);
        ASSERT_TRUE(edit);
        edit->clear();
        QTest::keyClicks(edit, text);
    }
    static void enter(KeyDialog& dialog) { QTest::keyClick(dialog.findChild<QLineEdit*>("keyPhrase"), Qt::Key_Return); }
    static QString said(KeyDialog& dialog) { return dialog.findChild<QLabel*>("keyMessage")->text(); }
    void setKey(const QString& phrase)
    {
        inDialog([&] { KeyDialog(session(), KeyDialog::For::SetUp, window.get()).exec(); },
                 [&](KeyDialog& dialog) {
                     put(dialog, "keyPhrase", phrase);
                     put(dialog, "keyPhraseAgain", phrase);
                     enter(dialog);
                     EXPECT_FALSE(dialog.isVisible()) << said(dialog).toStdString();
                 });
    }
};

TEST_F(Approve, WithoutAKeyItIsOneClick)
{
    click("judgeKeep");
    EXPECT_TRUE(session().judged());
    EXPECT_FALSE(book->signatureOf(session().jobId()));
    EXPECT_TRUE(find<QPushButton>("judgeKeep")->toolTip().startsWith("Not signed."));
    EXPECT_TRUE(book->check().empty());
}

TEST_F(Approve, WithAKeyItAsksForThePhraseAndSigns)
{
    const QString phrase = "nine herons wade";
    setKey(phrase);
    EXPECT_EQ(book->publicKey("operator A").size(), 64);
    // Dropped: nothing is approved.
    inDialog([&] { QTest::mouseClick(find<QPushButton>("judgeKeep"), Qt::LeftButton); },
             [](KeyDialog& dialog) { QTest::keyClick(&dialog, Qt::Key_Escape); });
    EXPECT_FALSE(session().judged());
    inDialog([&] { QTest::mouseClick(find<QPushButton>("judgeKeep"), Qt::LeftButton); },
             [&](KeyDialog& dialog) {
                 put(dialog, "keyPhrase", "another phrase");
                 enter(dialog);
                 EXPECT_TRUE(dialog.isVisible());
                 EXPECT_TRUE(said(dialog).contains("another phrase than the one")) << said(dialog).toStdString();
                 put(dialog, "keyPhrase", phrase);
                 enter(dialog);
                 EXPECT_FALSE(dialog.isVisible()) << said(dialog).toStdString();
             });
    EXPECT_TRUE(session().judged());
    const auto signature = book->signatureOf(session().jobId());
    ASSERT_TRUE(signature);
    EXPECT_EQ(signature->who, "operator A");
    EXPECT_TRUE(find<QPushButton>("judgeKeep")->toolTip().contains(keyWords(signature->key)));
    // It stands on what leaves the house.
    session().setStage(6);
    QApplication::processEvents();
    auto* report = window->findChild<ReportPage*>();
    ASSERT_TRUE(report->save(folder.filePath("out.csv")));
    QFile csv(folder.filePath("out.csv"));
    ASSERT_TRUE(csv.open(QIODevice::ReadOnly));
    EXPECT_TRUE(csv.readAll().contains(
        ("approved and signed by operator A in line " + QString::number(signature->line)).toUtf8()));
    // Opened again it is not signed any more.
    session().setStage(5);
    click("judgeKeep");
    EXPECT_FALSE(session().judged());
    EXPECT_FALSE(book->signatureOf(session().jobId()));
    EXPECT_TRUE(book->check().empty()) << book->check().front().words.toStdString();
    // The heads that are written from then on are signed too, until somebody else works.
    ASSERT_TRUE(session().writer().now([](Logbook& b) {
        b.writeHead();
        return Done{};
    }));
    EXPECT_EQ(headFromFile(book->file() + ".head")->who, "operator A");
    session().setWho("operator B");
    ASSERT_TRUE(session().writer().now([](Logbook& b) {
        b.writeHead();
        return Done{};
    }));
    EXPECT_EQ(headFromFile(book->file() + ".head")->who, "");
}

TEST_F(Approve, ASignedApprovalIsNotPutBackWithoutThePhrase)
{
    const QString phrase = "nine herons wade";
    setKey(phrase);
    inDialog([&] { QTest::mouseClick(find<QPushButton>("judgeKeep"), Qt::LeftButton); },
             [&](KeyDialog& dialog) {
                 put(dialog, "keyPhrase", phrase);
                 enter(dialog);
             });
    ASSERT_TRUE(session().judged());
    session().undo();
    settle();
    ASSERT_FALSE(session().judged()) << "taking it back needs no phrase";
    session().redo();
    settle();
    EXPECT_FALSE(session().judged());
    EXPECT_TRUE(window->told().contains("approve the results again")) << window->told().toStdString();
    // Opened again by hand, and that taken back: the same.
    inDialog([&] { QTest::mouseClick(find<QPushButton>("judgeKeep"), Qt::LeftButton); },
             [&](KeyDialog& dialog) {
                 put(dialog, "keyPhrase", phrase);
                 enter(dialog);
             });
    click("judgeKeep");
    ASSERT_FALSE(session().judged());
    session().undo();
    settle();
    EXPECT_FALSE(session().judged());
    EXPECT_TRUE(book->check().empty()) << book->check().front().words.toStdString();
}

TEST_F(Approve, OperatorBDoesNotSignForOperatorA)
{
    setKey("nine herons wade");
    session().setWho("operator B");
    click("judgeKeep");
    EXPECT_TRUE(session().judged());
    EXPECT_EQ(session().document().json()["judged"]["who"], "operator B");
    EXPECT_FALSE(book->signatureOf(session().jobId()));
    EXPECT_TRUE(book->check().empty());
}

TEST_F(Approve, APhraseIsSetWithCare)
{
    inDialog([&] { KeyDialog(session(), KeyDialog::For::SetUp, window.get()).exec(); },
             [&](KeyDialog& dialog) {
                 put(dialog, "keyPhrase", "long enough");
                 put(dialog, "keyPhraseAgain", "long enouhg");
                 enter(dialog);
                 EXPECT_TRUE(said(dialog).contains("not the same"));
                 put(dialog, "keyPhrase", "short");
                 put(dialog, "keyPhraseAgain", "short");
                 enter(dialog);
                 EXPECT_TRUE(said(dialog).contains("5 characters")) << said(dialog).toStdString();
             });
    EXPECT_TRUE(book->publicKey("operator A").isEmpty());
    EXPECT_TRUE(QDir(KeyDialog::folder()).entryList(QDir::Files).isEmpty());
    // The key of this machine is made known to a second logbook by its phrase alone.
    setKey("nine herons wade");
    const QString first = book->publicKey("operator A");
    startWithDemo();
    EXPECT_TRUE(book->publicKey("operator A").isEmpty());
    inDialog([&] { KeyDialog(session(), KeyDialog::For::SetUp, window.get()).exec(); },
             [&](KeyDialog& dialog) {
                 EXPECT_FALSE(dialog.findChild<QLineEdit*>("keyPhraseAgain"));
                 put(dialog, "keyPhrase", "nine herons wade");
                 enter(dialog);
             });
    EXPECT_EQ(book->publicKey("operator A"), first);
}

} // namespace
} // namespace fortitor
