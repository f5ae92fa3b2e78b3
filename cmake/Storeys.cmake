# A storey of the core is a static library that sees only the storeys below it. Its include path is a folder with one link,
# core/<name>, so `#include "core/make/make.h"` in a kernel finds no file: a wrong include does not compile.
#
#   bricol_storey(NAME [ON <storey it stands on>])
#
# makes the library bricol_<name> from core/<name>/**.cpp. Storeys stand on one another in a row; each hands on what it
# stands on.
function(bricol_storey name)
  cmake_parse_arguments(STOREY "" "ON" "" ${ARGN})
  set(seen ${CMAKE_BINARY_DIR}/storeys/${name})
  file(MAKE_DIRECTORY ${seen}/core)
  file(CREATE_LINK ${CMAKE_SOURCE_DIR}/core/${name} ${seen}/core/${name} SYMBOLIC)
  file(GLOB_RECURSE sources CONFIGURE_DEPENDS ${CMAKE_SOURCE_DIR}/core/${name}/*.cpp)
  list(FILTER sources EXCLUDE REGEX "_(cgal|vdb|openexr|bullet)\\.cpp$|/formats/|/kept_memory\\.cpp$")
  add_library(bricol_${name} STATIC ${sources})
  target_include_directories(bricol_${name} PUBLIC ${seen})
  if(STOREY_ON)
    target_link_libraries(bricol_${name} PUBLIC bricol_${STOREY_ON})
  endif()
  bricol_warnings(bricol_${name})
  bricol_unity(bricol_${name})
  bricol_read_ahead(bricol_${name})
  bricol_sanitized(bricol_${name})
  set_property(GLOBAL APPEND PROPERTY BRICOL_RELEASED_OBJECTS $<TARGET_OBJECTS:bricol_${name}>)
endfunction()

# The same sources once more as objects under sanitisers, for core_tests_sanitized alone: the tests and CGAL's templates
# are half of all compiling and tell nothing more when they are watched themselves. As objects, linked whole and first,
# so that the watched copy of an inline function is the one the linker keeps. Watched are those that work on shapes or
# read what comes from outside; steps, catalogue, making and the command line hand on to them, and are watched too with
# BRICOL_SANITIZE=ALL (`./run-tests --watch-all`).
# Warnings stay warnings: GCC 12 warns about the standard library's own code here; the plain build has them as errors.
function(bricol_sanitized target)
  if(NOT BRICOL_SANITIZE)
    return()
  endif()
  if(target MATCHES "_(steps|catalogue|make|inspect|cli)$" AND NOT BRICOL_SANITIZE STREQUAL "ALL")
    set_property(GLOBAL APPEND PROPERTY BRICOL_SANITIZED_OBJECTS $<TARGET_OBJECTS:${target}>)
    return()
  endif()
  get_target_property(sources ${target} SOURCES)
  add_library(${target}_sanitized OBJECT EXCLUDE_FROM_ALL ${sources})
  target_include_directories(${target}_sanitized PRIVATE $<TARGET_PROPERTY:${target},INCLUDE_DIRECTORIES>)
  target_link_libraries(${target}_sanitized PRIVATE $<TARGET_PROPERTY:${target},LINK_LIBRARIES>)
  # What asks at every access costs two fifths of the compiling: accesses are left to the address sanitiser.
  set(at_every_access null,alignment,vptr,object-size,pointer-overflow,nonnull-attribute,returns-nonnull-attribute)
  # Loops over points and faces stay optimised; for the rest quick compiling counts.
  set(pace -Og)
  if(target MATCHES "_(ground|shape|formula|kernels|still)$")
    # Watching locals after their scope doubles the compiling of what is inlined most; the fuzz build watches them.
    set(pace -O1 -fno-sanitize-address-use-after-scope)
  endif()
  target_compile_options(${target}_sanitized PRIVATE ${pace} -g1 -UNDEBUG -D_GLIBCXX_ASSERTIONS -fsanitize=address,undefined
                         -fno-sanitize=${at_every_access} -fno-sanitize-recover=undefined -fno-omit-frame-pointer)
  bricol_unity(${target}_sanitized 20)
  bricol_read_ahead(${target}_sanitized)
  set_property(GLOBAL APPEND PROPERTY BRICOL_SANITIZED_OBJECTS $<TARGET_OBJECTS:${target}_sanitized>)
endfunction()

# Joins source files for compiling where quick clean builds matter more than quick rebuilds; how many to one may be said.
function(bricol_unity target)
  set(joined 10)
  if(ARGC GREATER 1)
    set(joined ${ARGV1})
  endif()
  if(BRICOL_UNITY)
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE ${joined})
  endif()
endfunction()

# Reads what most files of a storey include once for all of them. The kernels have theirs, the steps theirs; the storeys
# between and above share the lowest one's, with the same flags. What a file forgot to include stays hidden behind it:
# tools/alone compiles files without.
function(bricol_read_ahead target)
  if(NOT BRICOL_READ_AHEAD)
    return()
  endif()
  set(common <algorithm> <array> <atomic> <cmath> <functional> <map> <memory> <numeric> <optional> <ranges> <set> <span>
             <string> <unordered_map> <variant> <vector> <fmt/format.h> <glm/glm.hpp>)
  if(target MATCHES "_kernels(_sanitized)?$")
    target_precompile_headers(${target} PRIVATE ${common})
  elseif(target MATCHES "_steps(_sanitized)?$")
    target_precompile_headers(${target} PRIVATE ${common} <core/catalogue/settings.h>)
  elseif(target MATCHES "_(catalogue|recipe|make|inspect|files)(_sanitized)?$")
    # The lowest of them that is built has them read for the others.
    set(reader bricol_catalogue${CMAKE_MATCH_2})
    if(NOT TARGET ${reader})
      set(reader bricol_recipe${CMAKE_MATCH_2})
    endif()
    if(target STREQUAL reader)
      target_precompile_headers(${target} PRIVATE ${common} <nlohmann/json.hpp>)
    else()
      target_precompile_headers(${target} REUSE_FROM ${reader})
    endif()
  elseif(target MATCHES "_room$")
    target_precompile_headers(${target} PRIVATE ${common} <nlohmann/json.hpp>
                               <QApplication> <QCheckBox> <QComboBox> <QDir> <QElapsedTimer> <QFileDialog> <QFileInfo> <QGridLayout>
                               <QHeaderView> <QImage> <QKeyEvent> <QLabel> <QLineEdit> <QListWidget> <QMainWindow> <QMenu> <QPainter>
                               <QPainterPath> <QPushButton> <QScrollArea> <QScrollBar> <QSettings> <QSpinBox> <QStackedWidget>
                               <QTableView> <QTimer> <QToolButton> <QToolTip> <QVBoxLayout>)
  endif()
endfunction()

# Folders outside the core (app, cli, tests, bench) are seen by their own name in the same way.
function(bricol_folder target name)
  set(seen ${CMAKE_BINARY_DIR}/storeys/${name})
  file(MAKE_DIRECTORY ${seen})
  file(CREATE_LINK ${CMAKE_SOURCE_DIR}/${name} ${seen}/${name} SYMBOLIC)
  target_include_directories(${target} PUBLIC ${seen})
endfunction()
