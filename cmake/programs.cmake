# SPDX-License-Identifier: GPL-3.0-or-later
# Everything that a user starts, or that one of these starts: built by start-demo, installed, packaged.
set(FORTITOR_PROGRAMS fortitor fortitor-cli fortitor-machine fortitor-report)
