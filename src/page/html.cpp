#include "page/html.hpp"

#include <array>
#include <memory>

#include <fmt/format.h>
#include <glib.h>

#include "page/columns.hpp"
#include "page/parts.hpp"
#include "vast_turn/base/visible.hpp"

namespace vast_turn {

namespace {

/// 'sha256-...' of W3C Content Security Policy Level 3.
std::string hash_source(const std::string& text) {
    const std::unique_ptr<GChecksum, decltype(&g_checksum_free)> sum(g_checksum_new(G_CHECKSUM_SHA256),
                                                                     &g_checksum_free);
    g_checksum_update(sum.get(), reinterpret_cast<const guchar*>(text.data()), static_cast<gssize>(text.size()));
    std::array<guint8, 32> digest{};
    gsize size = digest.size();
    g_checksum_get_digest(sum.get(), digest.data(), &size);
    return "'sha256-" + base64(std::string(digest.begin(), digest.end())) + "'";
}

std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : visible(text)) {
        switch (c) {
        case '&': out += "&amp;"; break;
        case '<': out += "&lt;"; break;
        case '>': out += "&gt;"; break;
        case '"': out += "&quot;"; break;
        default: out += c;
        }
    }
    return out;
}

/// Nothing in it ends the element that it stands in, or begins a comment there.
std::string without_brackets(const std::string& json) {
    std::string out;
    out.reserve(json.size());
    for (const char c : json) {
        out += c == '<' ? std::string("\\u003c") : std::string(1, c);
    }
    return out;
}

} // namespace

std::string html_page(const std::string& title, const std::string& data_json, bool asks_for_changes) {
    const std::string script = page_script;
    const std::string style = page_style;
    const std::string policy = fmt::format(
        "default-src 'none'; img-src data:; script-src {}; style-src {};{} base-uri 'none'; form-action 'none'",
        hash_source(script), hash_source(style), asks_for_changes ? " connect-src 'self';" : "");
    return fmt::format("<!doctype html>\n"
                       "<html lang=\"en\">\n"
                       "<head>\n"
                       "<meta charset=\"utf-8\">\n"
                       "<meta http-equiv=\"Content-Security-Policy\" content=\"{}\">\n"
                       "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n"
                       "<meta name=\"color-scheme\" content=\"light dark\">\n"
                       "<title>{}</title>\n"
                       "<!-- Its plots are drawn by uPlot:\n{}-->\n"
                       "<style>{}</style>\n"
                       "</head>\n"
                       "<body>\n"
                       "<main id=\"page\"><p>This page is drawn by its own script, which has not run here.</p></main>\n"
                       "<script type=\"application/json\" id=\"data\">{}</script>\n"
                       "<script>{}</script>\n"
                       "</body>\n"
                       "</html>\n",
                       policy, escaped(title), plot_licence, style, without_brackets(data_json), script);
}

} // namespace vast_turn
