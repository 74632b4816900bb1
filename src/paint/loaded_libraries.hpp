#pragma once

/// Libraries that only drawings need. They are loaded when the first drawing of their kind is read: linked in, they
/// would take two thirds of the time in which every program that can paint starts, and half of its memory.

#include <librsvg/rsvg.h>
#include <poppler.h>

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

/// Loaded once for the process, and kept. Any thread may ask. Throws InputError when it is not on this machine.
const SvgLibrary& svg_library();
const PdfLibrary& pdf_library();

} // namespace vast_turn
