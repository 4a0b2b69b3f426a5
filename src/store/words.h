// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/json_at.h"

#include <QDateTime>
#include <QString>

namespace fortitor {

/// The time of writing, as it is kept.
inline QString writtenNow()
{
    return QDateTime::currentDateTimeUtc().toString(Qt::ISODateWithMs);
}

/// JSON on one line; what is no text in it is replaced.
inline QString dumped(const Json& json)
{
    return QString::fromStdString(json.dump(-1, ' ', false, Json::error_handler_t::replace));
}

} // namespace fortitor
