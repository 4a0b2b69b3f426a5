// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/judge/key_dialog.h"

#include "app/widgets/basics.h"

#include <QApplication>
#include <QFile>
#include <QHBoxLayout>
#include <QStandardPaths>
#include <QVBoxLayout>

namespace fortitor {

QString KeyDialog::folder()
{
    return QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/fortitor/keys";
}

KeyDialog::KeyDialog(Session& session, For purpose, QWidget* parent)
    : QDialog(parent), session_(session), purpose_(purpose)
{
    setObjectName("keyDialog");
    const QString who = session.who();
    const QString known = session.logbook().publicKey(who);
    const bool here = QFile::exists(PersonKey::file(folder(), who));
    make_ = purpose == For::SetUp && (!here || !known.isEmpty());
    setWindowTitle(purpose == For::Sign ? "Approve results" : "Key phrase of " + who);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(22, 18, 22, 16);
    column->setSpacing(10);
    const QString words = purpose == For::Sign
        ? "The results are signed with the key of " + who + " (" + keyWords(known) + ")."
        : make_ && known.isEmpty()
        ? "With a key, what " + who + " approves is signed: nobody else can approve in that name without the phrase."
        : make_ ? "There is a key of " + who + " (" + keyWords(known)
            + "). A new one takes its place from now on; what was signed stays signed."
                : "A key of " + who + " is on this machine. Its phrase makes it known to this logbook.";
    auto* text = label(words);
    text->setWordWrap(true);
    text->setMinimumWidth(420);
    column->addWidget(text);
    const auto field = [&](const QString& name, const char* object) {
        auto* row = new QHBoxLayout;
        auto* caption = label(name, "quiet");
        caption->setFixedWidth(120);
        auto* edit = new QLineEdit;
        edit->setObjectName(object);
        edit->setEchoMode(QLineEdit::Password);
        edit->setMaxLength(200);
        row->addWidget(caption);
        row->addWidget(edit, 1);
        column->addLayout(row);
        return edit;
    };
    phrase_ = field(make_ ? "new key phrase" : "key phrase", "keyPhrase");
    if (make_) {
        again_ = field("once more", "keyPhraseAgain");
        auto* advice = label(
            QString(
                "%1 characters or more; a short sentence is easy to keep in mind. Nobody can find a lost phrase out "
                "again: it takes a new key.")
                .arg(PersonKey::shortestPhrase),
            "quiet");
        advice->setWordWrap(true);
        column->addWidget(advice);
    }
    message_ = label({}, "warn");
    message_->setObjectName("keyMessage");
    message_->setWordWrap(true);
    message_->hide();
    column->addWidget(message_);
    auto* row = new QHBoxLayout;
    row->addStretch();
    auto* cancel = button("Cancel", "", "keyCancel");
    auto* ok = button(purpose == For::Sign ? "Sign and approve"
                          : make_          ? "Make the key"
                                           : "Use this key",
                      "primary", "keyOk");
    ok->setDefault(true);
    cancel->setAutoDefault(false);
    row->addWidget(cancel);
    row->addWidget(ok);
    column->addLayout(row);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(ok, &QPushButton::clicked, this, &KeyDialog::go);
    phrase_->setFocus();
}

void KeyDialog::say(const QString& words)
{
    message_->setText(words);
    message_->show();
    resize(width(), std::max(height(), layout()->totalHeightForWidth(width()))); // nothing is cut for it
    phrase_->setFocus();
    phrase_->selectAll();
}

Expected<PersonKey> KeyDialog::found() const
{
    QApplication::setOverrideCursor(Qt::WaitCursor); // the phrase is made slow to try
    auto key = make_ ? PersonKey::make(folder(), session_.who(), phrase_->text())
                     : PersonKey::unlock(folder(), session_.who(), phrase_->text());
    QApplication::restoreOverrideCursor();
    return key;
}

void KeyDialog::go()
{
    if (make_ && phrase_->text() != again_->text())
        return say("The two are not the same.");
    const QString known = session_.logbook().publicKey(session_.who());
    auto key = found();
    if (!key)
        return say(q(key.problem().text()));
    if (purpose_ == For::Sign && key->publicKey() != known)
        return say("The key on this machine (" + keyWords(key->publicKey()) + ") is not the one of this logbook ("
                   + keyWords(known) + "). Use the machine where that one was made, or set a new key.");
    if (purpose_ == For::SetUp)
        if (auto ok = session_.writer().now(
                [&](Logbook& book) { return book.keepPublicKey(session_.who(), key->publicKey()); });
            !ok)
            return say(q(ok.problem().text()));
    key_ = std::move(*key);
    // From now on the heads that are written are signed too, until somebody else works.
    session_.logbook().setHeadSigner(session_.who(), key_->publicKey(), key_->signer());
    accept();
}

} // namespace fortitor
