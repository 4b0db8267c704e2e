"""Between the wire and Django: which proxies are believed, and answers to HEAD without a body."""

import ipaddress

from waitress.proxy_headers import proxy_headers_middleware

_BELIEVED = {"x-forwarded-for", "x-forwarded-proto"}


def behind(application, proxies):
    """Take address and scheme from these proxies' headers; the same headers from anybody else are dropped.

    proxies: addresses or networks, as "127.0.0.1" or "10.0.0.0/8". Raises ValueError for what is neither.
    """
    networks = [ipaddress.ip_network(each) for each in proxies]
    believing = proxy_headers_middleware(application, trusted_proxy="*", trusted_proxy_headers=_BELIEVED)
    deaf = proxy_headers_middleware(application)

    def choose(environ, start_response):
        try:
            peer = ipaddress.ip_address(environ.get("REMOTE_ADDR", ""))
        except ValueError:
            return deaf(environ, start_response)
        named = any(peer in network for network in networks)
        return (believing if named else deaf)(environ, start_response)

    return choose


def bodiless_head(application):
    """Answer HEAD with the head alone: a body there is read as the start of the next answer."""

    def answer(environ, start_response):
        if environ.get("REQUEST_METHOD") != "HEAD":
            return application(environ, start_response)
        told = {}
        body = application(environ, lambda status, headers, exc_info=None: told.update(status=status, headers=headers))
        try:
            headers = list(told["headers"])
            if not any(name.lower() == "content-length" for name, _ in headers):
                headers.append(("Content-Length", str(sum(map(len, body)))))
        finally:
            if hasattr(body, "close"):
                body.close()
        start_response(told["status"], headers)
        return []

    return answer
