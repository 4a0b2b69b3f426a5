// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/history/history_page.h"

#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"
#include "methods/spectrum/spectrum.h"

#include <QDropEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMimeData>
#include <QRegularExpression>
#include <QSettings>
#include <QVBoxLayout>

#include <fmt/format.h>

namespace fortitor {
namespace {

QString lengthWords(double seconds)
{
    return seconds >= 2 * 86400 ? QString("%1 d").arg(seconds / 86400, 0, 'g', 4)
        : seconds >= 2 * 3600   ? QString("%1 h").arg(seconds / 3600, 0, 'g', 4)
        : seconds >= 120        ? QString("%1 min").arg(seconds / 60, 0, 'g', 4)
                                : QString("%1 s").arg(seconds, 0, 'g', 4);
}

QString grouped(std::uint64_t count)
{
    QString text = QString::number(count);
    for (qsizetype at = text.size() - 3; at > 0; at -= 3)
        text.insert(at, QChar(0x202F));
    return text;
}

} // namespace

HistoryPage::HistoryPage(Session& session, QWidget* parent) : Page(session, parent), work_(session)
{
    setObjectName("historyPage");
    setAcceptDrops(true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(24, 14, 20, 12);
    column->setSpacing(8);
    auto* head = new QHBoxLayout;
    title_ = label({}, "head");
    title_->setObjectName("historyTitle");
    head->addWidget(title_, 1);
    worst_ = button("Worst event", "", "historyWorst");
    worst_->setToolTip("Shows the highest or the lowest turning point, whichever lies further out (W)");
    worst_->setShortcut(QKeySequence(Qt::Key_W));
    head->addWidget(worst_);
    take_ = button("Take files in …", "", "historyTake");
    take_->setToolTip("Text, raw float32 or float64, WAV, HDF5; several are one history in the order of their names");
    head->addWidget(take_);
    column->addLayout(head);
    facts_ = label({}, "quiet");
    facts_->setObjectName("historyFacts");
    facts_->setWordWrap(true);
    column->addWidget(facts_);
    column->addLayout(buildFields());
    message_ = label({}, "warn");
    message_->setObjectName("historyMessage");
    message_->setWordWrap(true);
    column->addWidget(message_);
    signal_ = new SignalView;
    column->addWidget(signal_, 1);
    auto* foot = new QHBoxLayout;
    where_ = label("Wheel or + −: zoom · drag or ← →: along · 0: all", "quiet");
    where_->setObjectName("historyWhere");
    foot->addWidget(where_, 1);
    toRead_ = button("Read", "link", "historyToRead");
    foot->addWidget(toRead_);
    column->addLayout(foot);
    connect(take_, &QPushButton::clicked, this, &HistoryPage::chooseFiles);
    connect(toRead_, &QPushButton::clicked, this, &HistoryPage::readAsked);
    connect(worst_, &QPushButton::clicked, this, [this] {
        const auto figures = work_.figures();
        if (!figures || !work_.file())
            return;
        const auto at = static_cast<double>(figures->worst.at()), half = 15 * work_.file()->rate;
        signal_->showWindow(at - half, at + half);
        signal_->setFocus();
    });
    connect(&work_, &HistoryWork::changed, this, &HistoryPage::showFile);
}

QLineEdit* HistoryPage::addField(QHBoxLayout* row, const char* key, const QString& words, const QString& hint,
                                 const QString& help, int wide)
{
    auto* edit = lineEdit((std::string("history-") + key).c_str(), hint);
    edit->setToolTip(help);
    edit->setMinimumWidth(wide / 2);
    auto* cell = new QVBoxLayout;
    cell->setSpacing(1);
    cell->addWidget(label(words, "quiet"));
    cell->addWidget(edit);
    row->addLayout(cell, wide);
    return edit;
}

QHBoxLayout* HistoryPage::buildFields()
{
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    struct Field {
        const char *key, *words, *hint, *help;
        int wide;
    };
    for (const Field& f :
         {Field{"rate", "Rate", "from the file", "Readings a second, where the file has no time: 200 Hz", 90},
          Field{"unit", "Unit", "µε", "Of the readings: ue, MPa, % …", 70},
          Field{"channel", "Channel", "the only one", "Header or number of the column of a text file", 100},
          Field{"dataset", "Data set", "of HDF5", "Path of the data set in an HDF5 file", 90},
          Field{"begins", "Begins", "2026-11-20 06:00", "Time of the first reading; empty: counted from it", 165}}) {
        auto* edit = addField(row, f.key, f.words, f.hint, f.help, f.wide);
        hands::onKept(edit, this, [this, key = std::string(f.key)](const QString& typed, hands::Answered answered) {
            return keepField(key, typed, std::move(answered));
        });
        fields_.emplace_back(f.key, edit);
    }
    for (const char* key : {spectrumKeys::gauge, spectrumKeys::taken}) {
        const NoteSpec& note = *loadSpectrum().findNote(key);
        auto* edit = addField(row, key, q(note.label), {}, q(note.help), 130);
        hands::onKept(edit, this, [this, key = std::string(key)](const QString& typed, hands::Answered answered) {
            return session_.apply(edits::note(session_.document(), session_.current(), key, s(typed)),
                                  std::move(answered));
        });
        notes_.emplace_back(key, edit);
    }
    return row;
}

bool HistoryPage::keepField(const std::string& key, const QString& typed, std::function<void(bool)> answered)
{
    if (!session_.hasSpecimen() || !session_.specimen().input.history) {
        message_->setText("Take files in first.");
        return false;
    }
    QString text = typed;
    if (key == "rate" && parseNumber(s(typed)))
        text += " Hz";
    if (key == "rate" && !text.isEmpty()) {
        const auto read = historyRequest({.files = {}, .rate = s(text)});
        if (!read) {
            message_->setText(q(read.problem().text()));
            return false;
        }
    }
    if (key == "begins" && !text.isEmpty()) {
        QDateTime at = QDateTime::fromString(text, Qt::ISODate);
        if (!at.isValid())
            at = QDateTime::fromString(text, "yyyy-MM-dd HH:mm");
        if (!at.isValid()) {
            message_->setText("Begins: found \"" + text + "\", wanted a day and a time such as 2026-11-20 06:00.");
            return false;
        }
        text = at.toString("yyyy-MM-ddTHH:mm:ss");
    }
    CommandBuilder builder(session_.document(), "history of " + session_.specimen().label + ": " + key + " " + s(text));
    builder.set("/specimens/" + std::to_string(session_.current()) + "/history/" + key,
                text.isEmpty() ? std::nullopt : std::optional(Json(s(text))));
    return session_.apply(builder.take(), std::move(answered));
}

void HistoryPage::chooseFiles()
{
    QSettings settings;
    const QStringList paths = QFileDialog::getOpenFileNames(
        this, "Take a load history in", settings.value("historyFolder").toString(),
        "Histories (*.f32 *.f64 *.wav *.h5 *.hdf5 *.csv *.txt *.dat *.asc);;All files (*)");
    if (paths.isEmpty())
        return;
    settings.setValue("historyFolder", QFileInfo(paths.front()).absolutePath());
    takeFiles(paths);
}

void HistoryPage::takeFiles(const QStringList& paths)
{
    if (!session_.hasSpecimen() || paths.isEmpty())
        return;
    QStringList sorted;
    for (const QString& path : paths)
        sorted << QFileInfo(path).absoluteFilePath();
    sorted.sort();
    Json files = Json::array();
    for (const QString& path : sorted)
        files.push_back(s(path));
    const std::string path = "/specimens/" + std::to_string(session_.current()) + "/history";
    CommandBuilder builder(session_.document(),
                           fmt::format("history of {}: {} file{}", session_.specimen().label, paths.size(),
                                       paths.size() == 1 ? "" : "s"));
    builder.set(path + "/files", std::move(files));
    session_.apply(builder.take());
}

void HistoryPage::refresh()
{
    const PageSpec* page = session_.hasSpecimen() ? session_.job().method->pageOf(Stage::Load) : nullptr;
    if (!page || page->page != "history")
        return;
    const SpecimenInput& input = session_.specimen().input;
    const HistorySaid said = input.history.value_or(HistorySaid{});
    const std::string values[] = {said.rate, said.unit, said.channel, said.dataset, said.begins};
    for (size_t k = 0; k < fields_.size(); ++k) {
        QString text = q(values[k]);
        if (fields_[k].first == "begins")
            text.replace('T', ' ').remove(QRegularExpression(":00$"));
        hands::fill(fields_[k].second, text);
        fields_[k].second->setEnabled(input.history.has_value());
    }
    for (const auto& [key, edit] : notes_) {
        hands::fill(edit, q(noteOf(input, key)));
        if (!edit->hasFocus())
            edit->setCursorPosition(0);
    }
    signal_->setBegins(QDateTime::fromString(q(said.begins), Qt::ISODate));
    title_->setText(q(session_.specimen().label)
                    + (said.files.empty() ? QString(", no history yet")
                                          : ", " + QFileInfo(q(said.files.front())).fileName()
                               + (said.files.size() > 1 ? QString(" and %1 more").arg(said.files.size() - 1) : "")));
    take_->setText(said.files.empty() ? "Take files in …" : "Other files …");
    work_.look();
    showFile();
}

void HistoryPage::showFile()
{
    if (!session_.hasSpecimen())
        return;
    const auto& file = work_.file();
    worst_->setEnabled(work_.figures() != nullptr);
    facts_->setVisible(file != nullptr);
    QStringList facts;
    if (file) {
        const double rate = file->rate;
        facts << grouped(file->source->size()) + " readings" << QString("%1 Hz").arg(rate, 0, 'g', 6)
              << lengthWords(static_cast<double>(file->source->size()) / rate);
        if (session_.specimen().input.history)
            facts << QFileInfo(q(session_.specimen().input.history->files.front())).absolutePath();
        for (const std::string& note : file->notes)
            facts << q(note);
    }
    facts_->setText(facts.join("  ·  "));
    const auto& problem = work_.problem();
    QString message = problem ? q(problem->text()) : QString();
    if (!work_.notKept().isEmpty())
        message = "The overview could not be kept beside the file (" + work_.notKept()
            + "): it is made anew each time. Nothing of the history is touched.";
    message_->setText(message);
    message_->setVisible(!message.isEmpty());
    if (file && work_.pyramid())
        signal_->show(file, work_.pyramid());
    else
        signal_->clear(work_.opening() ? "The history is being read …"
                           : problem   ? "The history can't be read as it is."
                                       : "Drop the files of a measured history here, or take them in above. They stay "
                                         "where they are; several are one history.");
}

void HistoryPage::enter()
{
    const bool any = session_.hasSpecimen() && session_.specimen().input.history;
    (any ? static_cast<QWidget*>(signal_) : take_)->setFocus();
}

bool HistoryPage::goTo(const QString& field)
{
    for (const auto* list : {&fields_, &notes_})
        for (const auto& [key, edit] : *list)
            if (q(key) == field) {
                edit->setFocus();
                return true;
            }
    return false;
}

QStringList HistoryPage::keys() const
{
    return {"+ −|closer, further", "← →|along the history", "0|all of it", "W|the worst event"};
}

void HistoryPage::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void HistoryPage::dropEvent(QDropEvent* event)
{
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile())
            paths << url.toLocalFile();
    takeFiles(paths);
}

} // namespace fortitor
