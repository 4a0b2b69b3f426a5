// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/outcome.h"

#include <QScrollArea>
#include <QWidget>

#include <vector>

namespace fortitor {

/// What an outcome tells in words beside its curve: checks between the loads, what rules say.
class ToldColumn : public QScrollArea {
    Q_OBJECT
public:
    explicit ToldColumn(QWidget* parent = nullptr);
    void show(const std::vector<ToldGroup>& groups);

private:
    class Picture;
    Picture* picture_ = nullptr;
};

} // namespace fortitor
