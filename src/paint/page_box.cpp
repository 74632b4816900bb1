#include "paint/page_box.hpp"

#include <algorithm>
#include <cstddef>
#include <memory>

#include <fmt/format.h>

#include "paint/loaded_libraries.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

struct CleanUp {
    void operator()(qpdf_data document) const { qpdf_library().cleanup(&document); }
};
using Document = std::unique_ptr<_qpdf_data, CleanUp>;

/// "/CropBox", as pages have it.
std::string key_of(PageBox box) {
    std::string name = name_of(box);
    name.front() = static_cast<char>(name.front() - 'a' + 'A');
    return "/" + name + "Box";
}

void refuse_faults(const std::string& path, const Document& document) {
    const QpdfLibrary& qpdf = qpdf_library();
    if (qpdf.has_error(document.get()) == QPDF_FALSE) {
        return;
    }
    qpdf_error fault = qpdf.get_error(document.get());
    const bool locked = qpdf.get_error_code(document.get(), fault) == qpdf_e_password;
    std::string message = qpdf.get_error_message_detail(document.get(), fault);
    std::replace(message.begin(), message.end(), '\n', ' ');
    throw InputError(path, fmt::format("the boxes of this PDF's pages cannot be read: {}", message),
                     locked ? "save it anew without a password" : "remove page_box, or save the PDF anew");
}

} // namespace

const char* name_of(PageBox box) { return page_box_names.at(static_cast<std::size_t>(box)); }

std::string with_page_box(const std::string& path, const std::string& bytes, int page, PageBox box, bool& has_box) {
    const QpdfLibrary& qpdf = qpdf_library();
    const Document document(qpdf.init());
    qpdf.silence_errors(document.get());
    qpdf.set_suppress_warnings(document.get(), QPDF_TRUE);
    qpdf.read_memory(document.get(), path.c_str(), bytes.data(), bytes.size(), nullptr);
    refuse_faults(path, document);
    qpdf.push_inherited_attributes_to_page(document.get());
    refuse_faults(path, document);
    const qpdf_oh sheet = qpdf.get_page_n(document.get(), static_cast<std::size_t>(page) - 1);
    refuse_faults(path, document);
    has_box = box == PageBox::crop || qpdf.oh_has_key(document.get(), sheet, key_of(box).c_str()) == QPDF_TRUE;
    if (has_box) {
        const qpdf_oh shown = qpdf.oh_get_key(document.get(), sheet, key_of(box).c_str());
        qpdf.oh_replace_key(document.get(), sheet, "/CropBox", shown);
    }
    qpdf.init_write_memory(document.get());
    refuse_faults(path, document);
    qpdf.set_preserve_encryption(document.get(), QPDF_FALSE);
    qpdf.write(document.get());
    refuse_faults(path, document);
    const unsigned char* const written = qpdf.get_buffer(document.get());
    return {reinterpret_cast<const char*>(written), qpdf.get_buffer_length(document.get())};
}

} // namespace vast_turn
