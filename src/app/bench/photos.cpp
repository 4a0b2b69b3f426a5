// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/photos.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QBuffer>
#include <QDialog>
#include <QDragEnterEvent>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QImageReader>
#include <QLabel>
#include <QMenu>
#include <QMimeData>
#include <QUrl>
#include <QVBoxLayout>

namespace fortitor {
namespace {

constexpr int smallSide = 40; // px of a small one
constexpr qint64 largestPhoto = 50 << 20;

/// A picture no larger than it is to be seen: a photograph of 50 megapixels is never held whole.
QImage scaledTo(const QByteArray& bytes, const QSize& room)
{
    QBuffer buffer;
    buffer.setData(bytes);
    buffer.open(QIODevice::ReadOnly);
    QImageReader reader(&buffer);
    reader.setAutoTransform(true);
    if (const QSize size = reader.size();
        size.isValid() && (size.width() > room.width() || size.height() > room.height()))
        reader.setScaledSize(size.scaled(room, Qt::KeepAspectRatio));
    return reader.read();
}

} // namespace

PhotoRow::PhotoRow(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("photos");
    setAcceptDrops(true);
    row_ = new QHBoxLayout(this);
    row_->setContentsMargins(0, 0, 0, 0);
    row_->setSpacing(6);
    add_ = button("Photograph…", "link", "photoAdd");
    add_->setToolTip("Joins a photograph to this piece; a file can be dropped here as well");
    add_->setFocusPolicy(Qt::TabFocus);
    connect(add_, &QPushButton::clicked, this, &PhotoRow::choose);
    row_->addWidget(add_);
    row_->addStretch();
}

QPixmap PhotoRow::small(const std::string& sha)
{
    if (const auto it = small_.find(sha); it != small_.end())
        return it->second;
    const auto bytes = session_.logbook().loadPicture(q(sha));
    if (bytes && keepSmall(sha, *bytes))
        return small_[sha];
    QPixmap blank(2 * smallSide, 2 * smallSide); // it may come yet
    blank.setDevicePixelRatio(2);
    blank.fill(pal().hair);
    return blank;
}

/// False where the bytes are no picture.
bool PhotoRow::keepSmall(const std::string& sha, const QByteArray& bytes)
{
    const QImage image = scaledTo(bytes, {2 * smallSide, 2 * smallSide});
    if (image.isNull())
        return false;
    QPixmap pixmap = QPixmap::fromImage(image);
    pixmap.setDevicePixelRatio(2);
    small_[sha] = pixmap;
    return true;
}

void PhotoRow::refresh()
{
    if (!session_.isOpen() || !session_.hasSpecimen())
        return;
    QString now = QString::number(session_.jobId()) + "/" + QString::number(session_.current());
    for (const ReadingPicture& one : session_.specimen().pictures)
        now += "/" + q(one.sha256);
    if (now == std::exchange(shown_, now))
        return;
    while (row_->count() > 2) {
        QLayoutItem* old = row_->takeAt(1);
        if (old->widget())
            old->widget()->deleteLater();
        delete old;
    }
    for (const ReadingPicture& one : session_.specimen().pictures) {
        if (one.reading != 0)
            continue;
        auto* picture = new QPushButton;
        picture->setObjectName("photo-" + q(one.sha256).left(8));
        picture->setProperty("kind", "link");
        picture->setIcon(QIcon(small(one.sha256)));
        picture->setIconSize({smallSide, smallSide});
        picture->setFixedSize(smallSide + 6, smallSide + 6);
        picture->setFocusPolicy(Qt::TabFocus);
        picture->setToolTip(plain(q(one.file)) + "\nEnter looks at it, the menu takes it off the piece");
        picture->setAccessibleName("photograph " + q(one.file));
        picture->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(picture, &QPushButton::clicked, this,
                [this, sha = one.sha256, name = q(one.file)] { look(sha, name); });
        connect(picture, &QPushButton::customContextMenuRequested, this, [this, picture, sha = one.sha256](QPoint at) {
            QMenu menu(this);
            menu.addAction("Take it off this piece", this, [this, sha] { takeOff(sha); });
            menu.exec(picture->mapToGlobal(at));
        });
        row_->insertWidget(row_->count() - 1, picture);
    }
}

void PhotoRow::choose()
{
    takeIn(QFileDialog::getOpenFileNames(this, "Photographs of " + q(session_.specimen().label), {},
                                         "Pictures (*.png *.jpg *.jpeg *.bmp *.tif *.tiff *.webp)"));
}

void PhotoRow::takeIn(const QStringList& paths)
{
    QStringList trouble;
    for (const QString& path : paths) {
        const QString name = QFileInfo(path).fileName();
        QFile file(path);
        if (!file.open(QIODevice::ReadOnly) || file.size() > largestPhoto) {
            trouble << name + (file.isOpen() ? " is over 50 MB" : " can't be read");
            continue;
        }
        const QByteArray bytes = file.readAll();
        // Shown before the writer has it in the logbook.
        const std::string sha = s(Logbook::pictureDigest(bytes));
        if (!keepSmall(sha, bytes)) {
            trouble << name + " is no picture";
            continue;
        }
        bool there = false;
        for (const ReadingPicture& one : session_.specimen().pictures)
            there = there || (one.reading == 0 && one.sha256 == sha);
        if (there) {
            trouble << name + " is joined to this piece already";
            continue;
        }
        CommandBuilder builder(session_.document(), "photograph of " + session_.specimen().label + ": " + s(name));
        builder.append("/specimens/" + std::to_string(session_.current()) + "/pictures",
                       Json{{"picture_sha256", sha}, {"file", s(name)}});
        // The file itself is kept in the same step.
        session_.apply(builder.take(), {}, [job = session_.jobId(), name, bytes, who = session_.who()](Logbook& book) {
            return book.keepPicture(job, name, bytes, who);
        });
    }
    if (!trouble.isEmpty())
        emit told(trouble.join("; ") + ".");
}

void PhotoRow::takeOff(const std::string& sha)
{
    Json list = session_.document().json()["specimens"][session_.current()]["pictures"];
    for (size_t i = 0; i < list.size(); ++i)
        if (!list[i].contains("reading") && list[i].value("picture_sha256", "") == sha) {
            list.erase(i);
            break;
        }
    CommandBuilder builder(session_.document(), "photograph taken off " + session_.specimen().label);
    builder.set("/specimens/" + std::to_string(session_.current()) + "/pictures",
                list.empty() ? std::optional<Json>() : std::optional<Json>(list));
    session_.apply(builder.take());
}

void PhotoRow::look(const std::string& sha, const QString& name)
{
    const auto bytes = session_.logbook().loadPicture(q(sha));
    QDialog dialog(this);
    dialog.setObjectName("photoLook");
    dialog.setWindowTitle(q(session_.specimen().label) + " · " + name);
    auto* column = new QVBoxLayout(&dialog);
    auto* shown = new QLabel;
    const QSize room = window()->size() * 0.85;
    if (bytes)
        shown->setPixmap(QPixmap::fromImage(scaledTo(*bytes, room)));
    else
        shown->setText("The photograph is not in this logbook.");
    column->addWidget(shown);
    column->addWidget(label("sha256 " + q(sha).left(16) + "…", "quiet"));
    dialog.exec();
}

void PhotoRow::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void PhotoRow::dropEvent(QDropEvent* event)
{
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        paths << url.toLocalFile();
    event->acceptProposedAction();
    takeIn(paths);
}

} // namespace fortitor
