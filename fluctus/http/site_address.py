"""Where people reach Fluctus, for addresses that are handed out."""

from rest_framework.request import Request


def site_address(request: Request) -> str:
    """Return the address that the request came to, which Django has held to ALLOWED_HOSTS."""
    return request.build_absolute_uri("/").rstrip("/")
