/// Pages of a PDF: rule books publish courses so.

#include <algorithm>
#include <memory>

#include <fmt/format.h>

#include "paint/drawing_kinds.hpp"
#include "paint/drawing_scale.hpp"
#include "paint/loaded_libraries.hpp"
#include "paint/page_box.hpp"

namespace vast_turn {

namespace {

struct Unref {
    void operator()(void* object) const { g_object_unref(object); }
};
template <class Object> using Owned = std::unique_ptr<Object, Unref>;

[[noreturn]] void fail(const std::string& path, GError* fault) {
    const bool locked =
        fault != nullptr && g_error_matches(fault, pdf_library().error_quark(), POPPLER_ERROR_ENCRYPTED) != 0;
    std::string message = fault == nullptr ? "unknown fault" : fault->message;
    g_clear_error(&fault);
    std::replace(message.begin(), message.end(), '\n', ' ');
    throw InputError(path, fmt::format("this PDF cannot be read: {}", message),
                     locked ? "save it anew without a password" : "it is cut off or damaged: save it anew");
}

class PdfDrawing : public Drawing {
public:
    PdfDrawing(std::string path, const std::string& bytes, const DrawingKeys& keys) : path_(std::move(path)) {
        open(bytes);
        const int page = take_page(keys);
        const PageBox box = keys.page_box.value_or(PageBox::crop);
        if (box != PageBox::crop) {
            bool has_box = false;
            open(with_page_box(path_, bytes, page, box, has_box));
            take_page(keys);
            if (!has_box) {
                facts_.warnings.push_back({Severity::warning,
                                           {path_, 0, 0, 1, {}},
                                           fmt::format("page {} has no {} box of its own", page, name_of(box)),
                                           "its crop box is taken, as the standard says: remove page_box"});
            } else {
                facts_.notes.push_back(fmt::format("its {} box", name_of(box)));
            }
        }
        see_size(keys);
    }

protected:
    void draw(cairo_t* context) const override {
        const Vec2 scale = facts_.on_floor.mm_per_unit;
        cairo_rectangle(context, 0.0, 0.0, facts_.on_floor.size_mm.x, facts_.on_floor.size_mm.y);
        cairo_clip(context);
        cairo_set_source_rgb(context, 1.0, 1.0, 1.0); // paper
        cairo_paint(context);
        cairo_scale(context, scale.x, scale.y);
        pdf_library().page_render(page_.get(), context);
        if (cairo_status(context) != CAIRO_STATUS_SUCCESS) {
            throw InputError(path_,
                             fmt::format("this PDF cannot be drawn: {}", cairo_status_to_string(cairo_status(context))),
                             "save the page as PNG");
        }
    }

private:
    void open(const std::string& bytes) {
        page_.reset();
        GBytes* data = g_bytes_new(bytes.data(), bytes.size());
        GError* fault = nullptr;
        document_.reset(pdf_library().document_new_from_bytes(data, nullptr, &fault));
        g_bytes_unref(data);
        if (document_ == nullptr) {
            fail(path_, fault);
        }
    }

    /// Its number, from 1.
    int take_page(const DrawingKeys& keys) {
        const int pages = pdf_library().document_get_n_pages(document_.get());
        const int page = keys.page.value_or(1);
        if (page > pages) {
            throw InputError(path_, fmt::format("there is no page {}: this PDF has {}", page, pages),
                             "pages are counted from 1, whatever is printed on them");
        }
        page_.reset(pdf_library().document_get_page(document_.get(), page - 1));
        if (page_ == nullptr) {
            throw InputError(path_, fmt::format("page {} of this PDF cannot be read", page), "save it anew");
        }
        return page;
    }

    void see_size(const DrawingKeys& keys) {
        const int pages = pdf_library().document_get_n_pages(document_.get());
        const int page = keys.page.value_or(1);
        OwnSize own;
        own.unit = "a point";
        pdf_library().page_get_size(page_.get(), &own.units.x, &own.units.y);
        if (!(own.units.x >= 1.0 && own.units.y >= 1.0)) {
            throw InputError(path_, fmt::format("page {} of this PDF has no size", page), "save it anew");
        }
        constexpr double mm_per_point = 25.4 / 72.0;
        own.mm = Vec2{mm_per_point * own.units.x, mm_per_point * own.units.y};
        facts_.on_floor = place_on_floor(path_, own, keys, facts_.warnings);
        if (pages > 1) {
            facts_.notes.push_back(keys.page ? fmt::format("page {} of {}", page, pages)
                                             : fmt::format("page 1 of {}: `page = 2` takes another", pages));
        }
    }

    std::string path_;
    Owned<PopplerDocument> document_;
    Owned<PopplerPage> page_;
};

} // namespace

std::unique_ptr<Drawing> read_pdf_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys,
                                          Checked /*checked*/) {
    refuse_keys_of_pictures(path, "a PDF", keys);
    return std::make_unique<PdfDrawing>(path, bytes, keys);
}

} // namespace vast_turn
