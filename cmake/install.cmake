include(GNUInstallDirs)
include(CMakePackageConfigHelpers)

install(TARGETS vast_turn_runtime vast_turn_core vast_turn_formats vast_turn_paint vast_turn_view EXPORT vast_turn-targets)
install(DIRECTORY include/vast_turn DESTINATION ${CMAKE_INSTALL_INCLUDEDIR})
install(DIRECTORY data/fern-house DESTINATION ${CMAKE_INSTALL_DATADIR}/vast_turn)
if(VAST_TURN_BUILD_APPS)
  install(TARGETS vturn)
endif()
install(EXPORT vast_turn-targets NAMESPACE vast_turn:: DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/vast_turn)
configure_package_config_file(cmake/vast_turn-config.cmake.in vast_turn-config.cmake
                              INSTALL_DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/vast_turn)
write_basic_package_version_file(vast_turn-config-version.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${PROJECT_BINARY_DIR}/vast_turn-config.cmake ${PROJECT_BINARY_DIR}/vast_turn-config-version.cmake
        DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/vast_turn)
