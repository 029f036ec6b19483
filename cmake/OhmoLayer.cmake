# SPDX-License-Identifier: GPL-3.0-or-later
# ohmo_layer(NAME LINKS lib...): one static library from src/NAME/**, its main.cpp left out.

add_library(ohmo_options INTERFACE)
target_compile_options(ohmo_options INTERFACE -Wall -Wextra -Wpedantic -Wshadow -Wconversion -Wno-sign-conversion -Wno-maybe-uninitialized -Wno-array-bounds
  -Wno-restrict -Wno-stringop-overflow -Werror) # the four switched off are false alarms of g++ 12 inside std::string and JSON iterators
target_include_directories(ohmo_options INTERFACE ${CMAKE_SOURCE_DIR}/src)
target_compile_definitions(ohmo_options INTERFACE OHMO_SOURCE_DATA="${CMAKE_SOURCE_DIR}/data" OHMO_VERSION="${PROJECT_VERSION}")
if(OHMO_SANITIZE)
  target_compile_options(ohmo_options INTERFACE -fsanitize=address,undefined -fno-sanitize-recover=undefined -fno-omit-frame-pointer
    -fno-sanitize=vptr,null,alignment,object-size) # of pointers the address sanitizer tells more; without these the build takes three quarters; how much is optimised is said by the preset and by each target
  target_link_options(ohmo_options INTERFACE -fsanitize=address,undefined)
endif()

function(ohmo_layer name)
  cmake_parse_arguments(LAYER "" "" "LINKS" ${ARGN})
  file(GLOB_RECURSE sources CONFIGURE_DEPENDS ${CMAKE_SOURCE_DIR}/src/${name}/*.cpp ${CMAKE_SOURCE_DIR}/src/${name}/*.h)
  list(FILTER sources EXCLUDE REGEX "/main\\.cpp$")
  add_library(ohmo_${name} STATIC ${sources})
  target_link_libraries(ohmo_${name} PUBLIC ${LAYER_LINKS} PRIVATE ohmo_options)
  target_include_directories(ohmo_${name} PUBLIC ${CMAKE_SOURCE_DIR}/src)
  if(EXISTS ${CMAKE_SOURCE_DIR}/src/${name}/pch.h)
    target_precompile_headers(ohmo_${name} PRIVATE ${CMAKE_SOURCE_DIR}/src/${name}/pch.h)
  endif()
  if(OHMO_SANITIZE AND name MATCHES "^(base|board|repair|powerup|job|report)$")
    target_compile_options(ohmo_${name} PRIVATE -O0) # records and words, no sums: there only the time of the build counts
  endif()
endfunction()

# ohmo_embed(FILE INCLUDE TARGET): FILE as a C++ string literal that TARGET can #include.
function(ohmo_embed file include target)
  set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${CMAKE_SOURCE_DIR}/${file})
  file(READ ${CMAKE_SOURCE_DIR}/${file} OHMO_EMBEDDED)
  file(CONFIGURE OUTPUT ${CMAKE_BINARY_DIR}/embedded/${include} CONTENT "R\"ohmo(@OHMO_EMBEDDED@)ohmo\"\n" @ONLY)
  target_include_directories(${target} PRIVATE ${CMAKE_BINARY_DIR}/embedded)
endfunction()

# ohmo_practice(FILE INCLUDE TARGET): the names of the figures of FILE (data/practice.json) as OHMO_FIGURE(field, "name") and, where a figure has
# a spread, OHMO_SPREAD(field_spread, "name"), one a line, for a header that everyone may include.
function(ohmo_practice file include target)
  set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${CMAKE_SOURCE_DIR}/${file})
  file(READ ${CMAKE_SOURCE_DIR}/${file} text)
  set(lines "")
  string(JSON groups GET "${text}" groups)
  string(JSON group_count LENGTH "${groups}")
  math(EXPR last_group "${group_count} - 1")
  foreach(g RANGE ${last_group})
    string(JSON figures GET "${groups}" ${g} figures)
    string(JSON count LENGTH "${figures}")
    math(EXPR last "${count} - 1")
    foreach(k RANGE ${last})
      string(JSON figure GET "${figures}" ${k})
      string(JSON name GET "${figure}" name)
      string(REPLACE "-" "_" field "${name}")
      string(APPEND lines "OHMO_FIGURE(${field}, \"${name}\")\n")
      string(JSON spread ERROR_VARIABLE none GET "${figure}" spread)
      if(NOT none)
        string(APPEND lines "OHMO_SPREAD(${field}_spread, \"${name}\")\n")
      endif()
    endforeach()
  endforeach()
  file(CONFIGURE OUTPUT ${CMAKE_BINARY_DIR}/embedded/${include} CONTENT "${lines}" @ONLY)
  target_include_directories(${target} PUBLIC ${CMAKE_BINARY_DIR}/embedded)
endfunction()
