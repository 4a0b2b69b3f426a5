// SPDX-License-Identifier: GPL-3.0-or-later
// Text records and jobs that are dropped on the window or chosen.
#include "app/shell/main_window.h"

#include "app/bench/import_dialog.h"
#include "app/bench/run/field_dialog.h"
#include "app/widgets/basics.h"
#include "jobs/edits.h"
#include "methods/fatigue_sn/displacement_field.h"

namespace fortitor {

bool MainWindow::takeIn(const QString& path)
{
    if (frame_.running()) {
        tell("The frame is running; stop it first (Esc).", true);
        return false;
    }
    if (path.endsWith(".json", Qt::CaseInsensitive))
        return takeInJob(path);
    if (!session_.hasSpecimen()) {
        tell("A text record belongs to a specimen: open a job first, then drop it there.", true);
        return false;
    }
    if (session_.job().method->intake.recordBeside && looksLikeField(s(path))) {
        FieldDialog field(path, this);
        if (field.exec() != QDialog::Accepted || !field.record()
            || !session_.attach(session_.current(), *field.record()))
            return false;
        session_.setStage(static_cast<int>(Stage::Read));
        tell(QString("%1 pictures taken in for %2.").arg(field.record()->rows()).arg(q(session_.specimen().label)),
             false);
        return true;
    }
    ImportDialog dialog(path, *session_.job().method, this);
    if (dialog.exec() != QDialog::Accepted || dialog.records().empty())
        return false;
    const size_t index = session_.current();
    QStringList taken;
    size_t at = index;
    for (size_t k = 0; k < dialog.records().size(); ++k) {
        if (k > 0)
            at = nextWithoutRecord(at + 1);
        if (at >= session_.job().specimens.size() || !session_.attach(at, dialog.records()[k], dialog.choices()))
            return false;
        taken << QString("%1 rows for %2").arg(dialog.records()[k].rows()).arg(q(session_.job().specimens[at].label));
    }
    session_.setCurrent(index);
    session_.setStage(static_cast<int>(Stage::Read));
    tell(taken.size() == 1 ? QString("%1 rows imported for %2.")
                                 .arg(dialog.records().front().rows())
                                 .arg(q(session_.job().specimens[index].label))
                           : "Imported: " + taken.join(", ") + ".",
         false);
    return true;
}

/// The next specimen that hangs on nothing yet; a new one where there is none.
size_t MainWindow::nextWithoutRecord(size_t from)
{
    for (size_t i = from; i < session_.job().specimens.size(); ++i) {
        const Specimen& one = session_.job().specimens[i];
        if (one.recordId.empty() && one.recordFile.empty() && !one.keyed())
            return i;
    }
    return session_.apply(edits::addSpecimen(session_.document())) ? session_.job().specimens.size() - 1
                                                                   : session_.job().specimens.size();
}

} // namespace fortitor
