# SPDX-License-Identifier: GPL-3.0-or-later
# Installing, and a .deb of it: cmake --build … --target package
include(GNUInstallDirs)
install(TARGETS ${FORTITOR_PROGRAMS} RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(FILES data/desktop/fortitor.desktop DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
install(FILES data/desktop/fortitor.metainfo.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/metainfo RENAME io.fortitor.Fortitor.metainfo.xml)
install(FILES resources/fortitor.svg DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps)
install(FILES README.md LICENSE resources/fonts/LICENSE.txt DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/fortitor)

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME fortitor)
set(CPACK_PACKAGE_CONTACT "Fortitor maintainers <maintainers@fortitor.invalid>")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "Mechanical tests, from job to signed report")
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SECTION science)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_DEPENDS "libqt6sql6-sqlite, libqt6svg6, qt6-qpa-plugins")
set(CPACK_STRIP_FILES ON)
include(CPack)
