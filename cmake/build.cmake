# SPDX-License-Identifier: GPL-3.0-or-later
# Compiler settings shared by every target, and the packages they stand on.
find_program(CCACHE ccache)
if(CCACHE)
  # Without these ccache takes no file that uses a precompiled header, which is every one.
  set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env
    CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime
    CCACHE_BASEDIR=${CMAKE_SOURCE_DIR} CCACHE_NOHASHDIR=1 ${CCACHE})
  add_compile_options(-fpch-preprocess)
endif()
add_link_options(-Wl,--as-needed) # what a program does not use it need not load
find_program(MOLD mold)
if(MOLD)
  add_link_options(-fuse-ld=mold)
endif()

find_package(fmt REQUIRED)
find_package(Eigen3 REQUIRED)
find_package(Boost REQUIRED)
find_package(nlohmann_json REQUIRED)
find_package(CLI11 REQUIRED)
find_package(PkgConfig REQUIRED)
pkg_check_modules(ZSTD REQUIRED IMPORTED_TARGET libzstd)
pkg_check_modules(SODIUM REQUIRED IMPORTED_TARGET libsodium)
pkg_check_modules(XLSXWRITER REQUIRED IMPORTED_TARGET xlsxwriter)
pkg_check_modules(SNDFILE REQUIRED IMPORTED_TARGET sndfile)
pkg_check_modules(HDF5 REQUIRED hdf5-serial)

add_library(fortitor_settings INTERFACE)
target_include_directories(fortitor_settings INTERFACE ${CMAKE_SOURCE_DIR}/src)
target_compile_options(fortitor_settings INTERFACE
  -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Wno-sign-conversion -Werror
  -Wno-restrict # GCC 12 sees an overlap in string concatenation where there is none
  $<$<CONFIG:RelWithDebInfo>:-g1>
)
target_compile_definitions(fortitor_settings INTERFACE FORTITOR_VERSION="${PROJECT_VERSION}")
if(FORTITOR_SANITIZE)
  target_compile_options(fortitor_settings INTERFACE -fsanitize=address,undefined -fno-omit-frame-pointer -fno-sanitize-recover=undefined)
  target_link_options(fortitor_settings INTERFACE -fsanitize=address,undefined)
endif()

# Reference tables become part of the program, so that none can go missing.
set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS
  ${CMAKE_SOURCE_DIR}/data/reference/materials.csv ${CMAKE_SOURCE_DIR}/data/reference/device-classes.csv
  ${CMAKE_SOURCE_DIR}/data/reference/wood-species.csv ${CMAKE_SOURCE_DIR}/data/reference/hardness-steel-hrc.csv
  ${CMAKE_SOURCE_DIR}/data/reference/hardness-steel-hrb.csv ${CMAKE_SOURCE_DIR}/data/reference/izod-plastics.csv)
file(READ ${CMAKE_SOURCE_DIR}/data/reference/izod-plastics.csv IZOD_PLASTICS_CSV)
file(READ ${CMAKE_SOURCE_DIR}/data/reference/materials.csv MATERIALS_CSV)
file(READ ${CMAKE_SOURCE_DIR}/data/reference/device-classes.csv DEVICE_CLASSES_CSV)
file(READ ${CMAKE_SOURCE_DIR}/data/reference/wood-species.csv WOOD_SPECIES_CSV)
file(READ ${CMAKE_SOURCE_DIR}/data/reference/hardness-steel-hrc.csv HARDNESS_HARD_CSV)
file(READ ${CMAKE_SOURCE_DIR}/data/reference/hardness-steel-hrb.csv HARDNESS_SOFT_CSV)
configure_file(${CMAKE_SOURCE_DIR}/src/reference/embedded.h.in ${CMAKE_BINARY_DIR}/generated/reference/embedded.h @ONLY)
target_include_directories(fortitor_settings INTERFACE ${CMAKE_BINARY_DIR}/generated)

# Where several files are compiled at once (CMAKE_UNITY_BUILD), they are of one room: a new file then meets no
# neighbour that it does not know.
function(fortitor_by_room target)
  get_target_property(sources ${target} SOURCES)
  foreach(source ${sources})
    if(NOT source MATCHES "\\.cpp$")
      continue()
    endif()
    get_filename_component(full ${source} ABSOLUTE)
    get_filename_component(room ${full} DIRECTORY)
    string(MAKE_C_IDENTIFIER "${room}" room)
    if(NOT DEFINED count_${room})
      set(count_${room} 0)
    endif()
    math(EXPR part "${count_${room}} / 10")
    math(EXPR count_${room} "${count_${room}} + 1")
    set_property(SOURCE ${source} PROPERTY UNITY_GROUP "${room}_${part}")
  endforeach()
  set_target_properties(${target} PROPERTIES UNITY_BUILD_MODE GROUP)
endfunction()
