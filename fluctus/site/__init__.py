"""Settings, URLs and the ASGI and WSGI entry points."""
