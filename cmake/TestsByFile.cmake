# One CTest entry for every file of tests, found by asking the built program: a process for every single test case would
# spend a third of the suite's time on starting (0.2 s each, 0.4 s under sanitisers).

set(BRICOL_LIST_TESTS ${CMAKE_CURRENT_LIST_DIR}/ListTestsByFile.cmake)

# bricol_tests_by_file(target SPEC which [LIST word] [PREFIX words] [TIMEOUT seconds] [PROCESSORS n]
#                      [ENVIRONMENT a=b ...])
# SPEC is one of Catch's test specs without a comma; files without a test that fits get no entry. Where it is called
# twice for a program, LIST tells the two apart.
function(bricol_tests_by_file target)
  cmake_parse_arguments(ARG "" "SPEC;LIST;PREFIX;TIMEOUT;PROCESSORS" "ENVIRONMENT" ${ARGN})
  set(list ${CMAKE_CURRENT_BINARY_DIR}/${target}_by_file${ARG_LIST}.cmake)
  get_target_property(emulator ${target} CROSSCOMPILING_EMULATOR)
  if(NOT emulator)
    set(emulator "")
  endif()
  add_custom_command(TARGET ${target} POST_BUILD BYPRODUCTS ${list}
    COMMAND ${CMAKE_COMMAND} "-DPROGRAM=$<TARGET_FILE:${target}>" "-DEMULATOR=${emulator}" "-DSPEC=${ARG_SPEC}"
            "-DPREFIX=${ARG_PREFIX}" "-DTIMEOUT=${ARG_TIMEOUT}" "-DPROCESSORS=${ARG_PROCESSORS}"
            "-DENVIRONMENT=${ARG_ENVIRONMENT}" "-DLIST=${list}" -P ${BRICOL_LIST_TESTS}
    VERBATIM)
  # Before the first build there is nothing to ask.
  set(include ${CMAKE_CURRENT_BINARY_DIR}/${target}_by_file${ARG_LIST}_include.cmake)
  file(WRITE ${include} "if(EXISTS \"${list}\")\n  include(\"${list}\")\nelse()\n  add_test(${target}_not_built ${target}_not_built)\nendif()\n")
  set_property(DIRECTORY APPEND PROPERTY TEST_INCLUDE_FILES ${include})
endfunction()
