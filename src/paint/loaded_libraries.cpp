#include "paint/loaded_libraries.hpp"

#include <dlfcn.h>
#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

/// A shared library by the name of its interface, as the dynamic linker finds it.
class Library {
public:
    Library(const char* name, const char* what, const char* package) : name_(name), what_(what), package_(package) {
        handle_ = ::dlopen(name, RTLD_LAZY | RTLD_LOCAL);
        if (handle_ == nullptr) {
            missing(::dlerror());
        }
    }

    template <class Function> void find(Function& function, const char* symbol) const {
        function = reinterpret_cast<Function>(::dlsym(handle_, symbol));
        if (function == nullptr) {
            missing(::dlerror());
        }
    }

private:
    [[noreturn]] void missing(const char* fault) const {
        throw InputError(
            "", fmt::format("{} are read with the library {}, which cannot be used here: {}", what_, name_, fault),
            fmt::format("install it (on Debian {})", package_));
    }

    const char* name_;
    const char* what_;
    const char* package_;
    void* handle_ = nullptr; ///< never closed: its types are registered for as long as the process lives
};

SvgLibrary load_svg() {
    SvgLibrary all{};
    const Library rsvg("librsvg-2.so.2", "SVG drawings", "librsvg2-2");
    rsvg.find(all.handle_new_from_data, "rsvg_handle_new_from_data");
    rsvg.find(all.handle_render_document, "rsvg_handle_render_document");
    rsvg.find(all.handle_get_intrinsic_dimensions, "rsvg_handle_get_intrinsic_dimensions");
    const Library pixbuf("libgdk_pixbuf-2.0.so.0", "pictures in SVG drawings", "libgdk-pixbuf-2.0-0");
    pixbuf.find(all.loader_new, "gdk_pixbuf_loader_new");
    pixbuf.find(all.loader_set_size, "gdk_pixbuf_loader_set_size");
    pixbuf.find(all.loader_write, "gdk_pixbuf_loader_write");
    pixbuf.find(all.loader_close, "gdk_pixbuf_loader_close");
    return all;
}

PdfLibrary load_pdf() {
    PdfLibrary all{};
    const Library poppler("libpoppler-glib.so.8", "pages of a PDF", "libpoppler-glib8");
    poppler.find(all.document_new_from_bytes, "poppler_document_new_from_bytes");
    poppler.find(all.document_get_n_pages, "poppler_document_get_n_pages");
    poppler.find(all.document_get_page, "poppler_document_get_page");
    poppler.find(all.page_get_size, "poppler_page_get_size");
    poppler.find(all.page_render, "poppler_page_render");
    poppler.find(all.error_quark, "poppler_error_quark");
    return all;
}

QpdfLibrary load_qpdf() {
    QpdfLibrary all{};
    const Library qpdf("libqpdf.so.29", "boxes of a PDF's pages", "libqpdf29");
    qpdf.find(all.init, "qpdf_init");
    qpdf.find(all.cleanup, "qpdf_cleanup");
    qpdf.find(all.silence_errors, "qpdf_silence_errors");
    qpdf.find(all.set_suppress_warnings, "qpdf_set_suppress_warnings");
    qpdf.find(all.has_error, "qpdf_has_error");
    qpdf.find(all.get_error, "qpdf_get_error");
    qpdf.find(all.get_error_code, "qpdf_get_error_code");
    qpdf.find(all.get_error_message_detail, "qpdf_get_error_message_detail");
    qpdf.find(all.read_memory, "qpdf_read_memory");
    qpdf.find(all.push_inherited_attributes_to_page, "qpdf_push_inherited_attributes_to_page");
    qpdf.find(all.get_page_n, "qpdf_get_page_n");
    qpdf.find(all.oh_has_key, "qpdf_oh_has_key");
    qpdf.find(all.oh_get_key, "qpdf_oh_get_key");
    qpdf.find(all.oh_replace_key, "qpdf_oh_replace_key");
    qpdf.find(all.init_write_memory, "qpdf_init_write_memory");
    qpdf.find(all.set_preserve_encryption, "qpdf_set_preserve_encryption");
    qpdf.find(all.write, "qpdf_write");
    qpdf.find(all.get_buffer, "qpdf_get_buffer");
    qpdf.find(all.get_buffer_length, "qpdf_get_buffer_length");
    return all;
}

} // namespace

const SvgLibrary& svg_library() {
    static const SvgLibrary loaded = load_svg();
    return loaded;
}

const PdfLibrary& pdf_library() {
    static const PdfLibrary loaded = load_pdf();
    return loaded;
}

const QpdfLibrary& qpdf_library() {
    static const QpdfLibrary loaded = load_qpdf();
    return loaded;
}

} // namespace vast_turn
