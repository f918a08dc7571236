"""The address that a request comes from: the one place that decides it.

A header can be written by anybody. As many proxies as there are in front each add the address
that they were asked from at its end; what stands before is the word of whoever asks.
"""

from ipaddress import ip_address

from django.conf import settings
from django.http import HttpRequest


def client_address(request: HttpRequest) -> str:
    """Return the address of who asks, as the outermost of the trusted proxies has seen it."""
    connected = str(request.META.get("REMOTE_ADDR", ""))[:64]
    proxies = settings.TRUSTED_PROXIES
    said = [part.strip() for part in request.headers.get("X-Forwarded-For", "").split(",")]
    if proxies and len(said) >= proxies:
        return _address(said[-proxies]) or connected
    return connected


def _address(text: str) -> str:
    """Return an address as it is always written; "" for what is none."""
    try:
        return str(ip_address(text))
    except ValueError:
        return ""
