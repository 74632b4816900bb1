#pragma once

/// A page served to browsers on this machine.

#include <memory>
#include <string>

namespace vturn {

/// Serves one page on the loopback interface alone, at an address with a random token in it. Requests that name another
/// host, that come from another page, or without the token get nothing. A new page replaces the old one and is told to
/// those who listen.
class PageServer {
public:
    /// Begins to serve. `port` 0: any that is free. Throws InputError when the port cannot be had.
    explicit PageServer(int port);
    ~PageServer();
    PageServer(const PageServer&) = delete;
    PageServer& operator=(const PageServer&) = delete;
    PageServer(PageServer&&) = delete;
    PageServer& operator=(PageServer&&) = delete;

    /// "http://127.0.0.1:40123/3f...d1/"
    const std::string& address() const;
    /// Where the next page listens for the one after it, relative to the address.
    std::string changes_at() const;
    /// From now on this is the page.
    void publish(std::string html);

private:
    struct Body;
    std::unique_ptr<Body> body_;
};

} // namespace vturn
