"""The application for an ASGI server."""

import os
import warnings

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
# whitenoise hands out the built files, which are small, from synchronous iterators
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
_pages = get_asgi_application()

from link.panel import Receive, Scope, Send, panel  # noqa: E402 (the models want the settings first)


async def application(scope: Scope, receive: Receive, send: Send) -> None:
    """Pages and API by Django; the hand panels' WebSockets by their own."""
    if scope["type"] == "websocket":
        await panel(scope, receive, send)
    else:
        await _pages(scope, receive, send)  # type: ignore[arg-type]
