# Our own code compiles without a warning.
function(bricol_warnings target)
  target_compile_options(${target} PRIVATE -Wall -Wextra -Wno-missing-field-initializers -Werror)
endfunction()
