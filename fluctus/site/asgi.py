"""The entry point for gunicorn's uvicorn workers."""

import warnings

from django.core.asgi import get_asgi_application

from fluctus.site.limits import limited

# The files that whitenoise serves are small and read in one go, so that reading them on a
# thread, which Django warns of, costs nothing.
warnings.filterwarnings("ignore", "StreamingHttpResponse must consume synchronous iterators")

application = limited(get_asgi_application())
