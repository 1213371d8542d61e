"""What keeps others out: addresses, other sites' requests, callers without the token; and headers."""

from __future__ import annotations

import ipaddress
import secrets
from collections.abc import Awaitable, Callable, Collection
from urllib.parse import urlsplit

from fastapi import FastAPI, Request
from fastapi.responses import Response

from skeinwork.core.errors import UsageError
from skeinwork.server.problems import problem

Next = Callable[[Request], Awaitable[Response]]
_LONGEST_PATH = 2000
_LEAST_TOKEN = 16
_LEAST_SIGNS = 8


def host_of(written: str) -> str:
    """The host of a header ``Host`` in one spelling: small, without port, brackets or final dot."""
    try:
        host = urlsplit(f"//{written}").hostname or ""
    except ValueError:
        return ""
    host = host.rstrip(".")
    try:
        return str(ipaddress.ip_address(host))
    except ValueError:
        return host


def written(host: str) -> str:
    """A host as it stands in an address."""
    return f"[{host}]" if ":" in host else host


def is_loopback(host: str) -> bool:
    """Whether a host, in the spelling of ``host_of``, is this machine and no other."""
    try:
        address = ipaddress.ip_address(host)
    except ValueError:
        return host == "localhost" or host.endswith(".localhost")
    mapped = getattr(address, "ipv4_mapped", None)
    return (mapped or address).is_loopback


def check_token(token: str) -> None:
    """Raise ``UsageError`` for an access token that could be guessed."""
    if len(token) < _LEAST_TOKEN or len(set(token)) < _LEAST_SIGNS or not token.isascii():
        raise UsageError(
            f"The token is too easy to guess: it needs at least {_LEAST_TOKEN} letters and digits, "
            f"{_LEAST_SIGNS} of them different. For example: --token {secrets.token_urlsafe(18)}"
        )


def _is_ours(request: Request, hosts: Collection[str]) -> bool:
    """Whether a request names loopback, an allowed name, or the very address that it came to."""
    host = host_of(request.headers.get("host", ""))
    reached = host_of(written(request.scope["server"][0])) if request.scope.get("server") else ""
    return is_loopback(host) or host in hosts or (bool(host) and host == reached)


def _is_own_site(request: Request) -> bool:
    """Whether a request comes from our own pages, or from none; a link may lead to a page from anywhere."""
    site = request.headers.get("sec-fetch-site", "none")
    if site not in ("none", "same-origin") and request.url.path.startswith("/api"):
        return False
    origin = request.headers.get("origin")
    try:
        return not origin or urlsplit(origin).netloc == request.headers.get("host")
    except ValueError:
        return False


def _refusal(request: Request, hosts: Collection[str], token: str | None) -> Response | None:
    path = request.url.path
    if not _is_ours(request, hosts):
        return problem(421, "Wrong address", "This server answers to its own address only.")
    if not _is_own_site(request):
        return problem(403, "Other site", "Requests from other sites are refused.")
    if len(path) > _LONGEST_PATH or not path.isprintable():
        return problem(404, "Not there", "There is nothing at this address.")
    if token and path.startswith("/api") and not _knows(request, token):
        return problem(401, "Token needed", "Open the address with ?token=… that the server printed.")
    return None


def guard(app: FastAPI, hosts: Collection[str], token: str | None) -> None:
    """Refuse other hosts (DNS rebinding), other sites' requests, and callers without the token."""

    @app.middleware("http")
    async def check(request: Request, following: Next) -> Response:
        if refusal := _refusal(request, hosts, token):
            return refusal
        nonce = request.state.nonce = secrets.token_urlsafe(16)
        response = await following(request)
        response.headers["Content-Security-Policy"] = (
            f"default-src 'self'; style-src 'self' 'nonce-{nonce}'; style-src-attr 'unsafe-inline'; "
            "img-src 'self' data: blob:; font-src 'self'; object-src 'none'; base-uri 'none'; "
            "frame-ancestors 'none'; form-action 'none'"
        )
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        if token and request.query_params.get("token") == token:
            response.set_cookie(_cookie(request), token, httponly=True, samesite="strict")
        return response


def _cookie(request: Request) -> str:
    """Cookies of a host are those of all its ports: each server has a name of its own for its."""
    _, port = request.scope.get("server") or ("", "")
    return f"skeinwork-{port}"


def _knows(request: Request, token: str) -> bool:
    given = (request.cookies.get(_cookie(request)), request.query_params.get("token"))
    return any(secrets.compare_digest(each.encode("utf-8", "replace"), token.encode()) for each in given if each)
