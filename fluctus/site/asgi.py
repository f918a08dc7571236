"""The entry point for gunicorn's uvicorn workers."""

from django.core.asgi import get_asgi_application

application = get_asgi_application()
