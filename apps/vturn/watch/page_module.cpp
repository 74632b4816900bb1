/// What speaks HTTP for `vturn watch`, in a module of its own.
#include "watch/page_server.hpp"

#include <array>
#include <atomic>
#include <charconv>
#include <condition_variable>
#include <mutex>
#include <thread>

#include <fmt/format.h>
#include <httplib.h>
#include <sys/random.h>

namespace vturn {

namespace {

constexpr const char* loopback = "127.0.0.1";

/// 128 random bits from the system; nothing when it has none.
std::string random_token() {
    std::array<unsigned char, 16> bytes{};
    std::size_t have = 0;
    while (have < bytes.size()) {
        const ssize_t n = ::getrandom(bytes.data() + have, bytes.size() - have, 0);
        if (n < 0 && errno != EINTR) {
            return "";
        }
        have += n > 0 ? static_cast<std::size_t>(n) : 0;
    }
    std::string token;
    for (const unsigned char byte : bytes) {
        token += fmt::format("{:02x}", byte);
    }
    return token;
}

class HttpPages : public PageServer {
public:
    ~HttpPages() override;
    /// False when the port cannot be had.
    bool begin(int wanted);
    bool has_token() const { return !token.empty(); }
    const std::string& address() const override { return address_; }
    std::string changes_at() const override;
    void publish(std::string html) override;

private:
    httplib::Server server;
    std::thread thread;
    int port = 0;
    std::string token = random_token();
    std::string address_;

    mutable std::mutex lock;
    std::condition_variable changed;
    std::shared_ptr<const std::string> page = std::make_shared<const std::string>();
    std::uint64_t version = 0;
    bool is_ending = false;
    std::atomic<int> listeners = 0;

    /// Only pages of our own may ask: another site's could have its name lead here, or send its reader here.
    bool is_own(const httplib::Request& request) const {
        const std::string here = fmt::format("{}:{}", loopback, port);
        const std::string by_name = fmt::format("localhost:{}", port);
        const std::string host = request.get_header_value("Host");
        const std::string origin = request.get_header_value("Origin");
        const std::string site = request.get_header_value("Sec-Fetch-Site");
        const bool good_site = site.empty() || site == "same-origin" || site == "none";
        return (host == here || host == by_name) && good_site &&
               (origin.empty() || origin == "http://" + here || origin == "http://" + by_name);
    }

    static void harden(httplib::Response& response) {
        response.set_header("Cache-Control", "no-store");
        response.set_header("X-Content-Type-Options", "nosniff");
        response.set_header("X-Frame-Options", "DENY");
        response.set_header("Referrer-Policy", "no-referrer");
        response.set_header("Cross-Origin-Resource-Policy", "same-origin");
        response.set_header("Cross-Origin-Opener-Policy", "same-origin");
    }

    /// One message when there is a newer page than the asker's; then the stream ends.
    void listen(const httplib::Request& request, httplib::Response& response) {
        std::uint64_t after = 0;
        const std::string text = request.get_param_value("after");
        std::from_chars(text.data(), text.data() + text.size(), after);
        constexpr int most_listeners = 12; // each holds a thread
        if (listeners.fetch_add(1) >= most_listeners) {
            --listeners;
            response.status = 503;
            return;
        }
        response.set_chunked_content_provider(
            "text/event-stream",
            [this, after](std::size_t, httplib::DataSink& sink) {
                std::unique_lock held(lock);
                changed.wait_for(held, std::chrono::milliseconds(500), [&] { return is_ending || version > after; });
                const bool is_newer = version > after;
                const bool ends = is_ending;
                const std::string message = is_newer ? fmt::format("data: {}\n\n", version) : std::string(":\n\n");
                held.unlock();
                if (!sink.is_writable() || !sink.write(message.data(), message.size())) {
                    return false;
                }
                if (is_newer || ends) {
                    sink.done();
                }
                return true;
            },
            [this](bool) { --listeners; });
    }

    void add_handlers() {
        server.new_task_queue = [] { return new httplib::ThreadPool(16); };
        server.set_payload_max_length(1024);
        server.set_pre_routing_handler([this](const httplib::Request& request, httplib::Response& response) {
            harden(response);
            if (!is_own(request)) {
                response.status = 403;
                return httplib::Server::HandlerResponse::Handled;
            }
            return httplib::Server::HandlerResponse::Unhandled;
        });
        server.Get("/" + token + "/", [this](const httplib::Request&, httplib::Response& response) {
            std::shared_ptr<const std::string> html;
            {
                const std::lock_guard held(lock);
                html = page;
            }
            // As it is: a text that is given whole would be compressed, which takes longer than all else.
            response.set_content_provider(html->size(), "text/html; charset=utf-8",
                                          [html](std::size_t from, std::size_t length, httplib::DataSink& sink) {
                                              return sink.write(html->data() + from, length);
                                          });
        });
        server.Get("/" + token + "/changes",
                   [this](const httplib::Request& request, httplib::Response& response) { listen(request, response); });
    }
};

bool HttpPages::begin(int wanted) {
    add_handlers();
    port = wanted;
    const bool bound = port == 0 ? (port = server.bind_to_any_port(loopback)) > 0 : server.bind_to_port(loopback, port);
    if (bound) {
        address_ = fmt::format("http://{}:{}/{}/", loopback, port, token);
        thread = std::thread([this] { server.listen_after_bind(); });
    }
    return bound;
}

HttpPages::~HttpPages() {
    {
        const std::lock_guard held(lock);
        is_ending = true;
    }
    changed.notify_all();
    server.stop();
    if (thread.joinable()) {
        thread.join();
    }
}

std::string HttpPages::changes_at() const {
    const std::lock_guard held(lock);
    return fmt::format("changes?after={}", version + 1);
}

void HttpPages::publish(std::string html) {
    {
        const std::lock_guard held(lock);
        page = std::make_shared<const std::string>(std::move(html));
        ++version;
    }
    changed.notify_all();
}

} // namespace

} // namespace vturn

extern "C" vturn::PageServer* vturn_begin_to_serve(int port, std::string* fault) {
    auto pages = std::make_unique<vturn::HttpPages>();
    if (!pages->has_token()) {
        *fault = "this system gives no random numbers";
    } else if (!pages->begin(port)) {
        *fault = fmt::format("port {} of this machine cannot be had", port);
    } else {
        return pages.release();
    }
    return nullptr;
}
