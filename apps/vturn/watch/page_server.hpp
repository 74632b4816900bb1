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
    PageServer() = default;
    virtual ~PageServer() = default;
    PageServer(const PageServer&) = delete;
    PageServer& operator=(const PageServer&) = delete;
    PageServer(PageServer&&) = delete;
    PageServer& operator=(PageServer&&) = delete;

    /// "http://127.0.0.1:40123/3f...d1/"
    virtual const std::string& address() const = 0;
    /// Where the next page listens for the one after it, relative to the address.
    virtual std::string changes_at() const = 0;
    /// From now on this is the page.
    virtual void publish(std::string html) = 0;
};

/// Begins to serve. `port` 0: any that is free. Throws InputError when the port cannot be had. What speaks HTTP lies in
/// a module beside the program, which is loaded here: it brings libraries that no other command needs, and that each
/// would wait for.
std::unique_ptr<PageServer> serve_pages(int port);

/// What the module gives under the name `vturn_begin_to_serve`: a server or, where there is none, what was wrong.
using BeginToServe = PageServer*(int port, std::string* fault);

} // namespace vturn
