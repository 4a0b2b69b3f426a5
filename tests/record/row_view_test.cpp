// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/row_view.h"

#include <gtest/gtest.h>

namespace fortitor {
namespace {

Column counting(size_t n)
{
    Column c;
    for (size_t i = 0; i < n; ++i)
        c.append(static_cast<double>(i));
    return c;
}

TEST(RowViewTest, RowsLeftOutAreSkipped)
{
    const Column c = counting(100000); // over several chunks
    const std::vector<size_t> out{0, 1, 5, 20000, 20001, 99999};
    const RowView view(c, out);
    EXPECT_EQ(view.size(), c.size() - out.size());
    size_t at = 0;
    for (size_t row = 0; row < c.size(); ++row) {
        if (std::ranges::find(out, row) != out.end())
            continue;
        ASSERT_EQ(view[at], static_cast<double>(row));
        ++at;
    }
}

TEST(RowViewTest, WholeColumnsSpansAndNothing)
{
    const Column c = counting(5);
    EXPECT_EQ(RowView(c, {})[4], 4);
    const std::vector<double> flat{7, 8};
    EXPECT_EQ(RowView(flat)[1], 8);
    EXPECT_TRUE(RowView().empty());
}

} // namespace
} // namespace fortitor
