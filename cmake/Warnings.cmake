# Our own code compiles without a warning. Under sanitisers GCC 12 warns about the standard library's own code, so there
# warnings stay warnings; the plain build of the same files has them as errors.
function(bricol_warnings target)
  target_compile_options(${target} PRIVATE -Wall -Wextra -Wno-missing-field-initializers)
  if(NOT BRICOL_SANITIZE)
    target_compile_options(${target} PRIVATE -Werror)
  endif()
endfunction()
