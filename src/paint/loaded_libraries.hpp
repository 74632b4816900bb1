#pragma once

/// Libraries that only drawings need. They are loaded when the first drawing of their kind is read: linked in, they
/// would take two thirds of the time in which every program that can paint starts, and half of its memory.

#include <librsvg/rsvg.h>
#include <poppler.h>
#include <qpdf/qpdf-c.h>

namespace vast_turn {

/// What is used of librsvg, and of gdk-pixbuf for pictures that lie within an SVG.
struct SvgLibrary {
    decltype(&::rsvg_handle_new_from_data) handle_new_from_data;
    decltype(&::rsvg_handle_render_document) handle_render_document;
    decltype(&::rsvg_handle_get_intrinsic_dimensions) handle_get_intrinsic_dimensions;
    decltype(&::gdk_pixbuf_loader_new) loader_new;
    decltype(&::gdk_pixbuf_loader_set_size) loader_set_size;
    decltype(&::gdk_pixbuf_loader_write) loader_write;
    decltype(&::gdk_pixbuf_loader_close) loader_close;
};

/// What is used of Poppler.
struct PdfLibrary {
    decltype(&::poppler_document_new_from_bytes) document_new_from_bytes;
    decltype(&::poppler_document_get_n_pages) document_get_n_pages;
    decltype(&::poppler_document_get_page) document_get_page;
    decltype(&::poppler_page_get_size) page_get_size;
    decltype(&::poppler_page_render) page_render;
    decltype(&::poppler_error_quark) error_quark;
};

/// What is used of qpdf, for pages of which another box is wanted than a viewer shows.
struct QpdfLibrary {
    decltype(&::qpdf_init) init;
    decltype(&::qpdf_cleanup) cleanup;
    decltype(&::qpdf_silence_errors) silence_errors;
    decltype(&::qpdf_set_suppress_warnings) set_suppress_warnings;
    decltype(&::qpdf_has_error) has_error;
    decltype(&::qpdf_get_error) get_error;
    decltype(&::qpdf_get_error_code) get_error_code;
    decltype(&::qpdf_get_error_message_detail) get_error_message_detail;
    decltype(&::qpdf_read_memory) read_memory;
    decltype(&::qpdf_push_inherited_attributes_to_page) push_inherited_attributes_to_page;
    decltype(&::qpdf_get_page_n) get_page_n;
    decltype(&::qpdf_oh_has_key) oh_has_key;
    decltype(&::qpdf_oh_get_key) oh_get_key;
    decltype(&::qpdf_oh_replace_key) oh_replace_key;
    decltype(&::qpdf_init_write_memory) init_write_memory;
    decltype(&::qpdf_set_preserve_encryption) set_preserve_encryption;
    decltype(&::qpdf_write) write;
    decltype(&::qpdf_get_buffer) get_buffer;
    decltype(&::qpdf_get_buffer_length) get_buffer_length;
};

/// Loaded once for the process, and kept. Any thread may ask. Throws InputError when it is not on this machine.
const SvgLibrary& svg_library();
const PdfLibrary& pdf_library();
const QpdfLibrary& qpdf_library();

} // namespace vast_turn
