"""The application for an ASGI server."""

import asyncio
import json
import os
import re
import sqlite3
import sys
import threading
import time
import warnings
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from typing import Any

import django
from asgiref.sync import sync_to_async
from django.core.handlers.asgi import ASGIHandler
from django.http import HttpRequest, HttpResponseBase

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
# whitenoise hands out the built files, which are small, from synchronous iterators
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
django.setup(set_prefix=False)

from django.conf import settings  # noqa: E402 (the models want the settings first)
from link.panel import Receive, Scope, Send, panel  # noqa: E402
from orthotrope.registry import load_all  # noqa: E402
from orthotrope.setup import Setup  # noqa: E402
from orthotrope.validation import unit_at  # noqa: E402
from shop.asking import desk  # noqa: E402
from shop.requests import log_all  # noqa: E402

import config.urls  # noqa: E402, F401 (all that answers is imported before there are threads)
from config.single import Taken, taken  # noqa: E402

BODY_SECONDS = 30.0
"""How long a request may take to arrive; one that drips keeps nobody's place for longer."""

try:
    _lock = taken(settings.DATA)
except Taken as other:
    raise SystemExit(str(other)) from None
_open = sqlite3.connect(settings.DATABASE, check_same_thread=False)
"""Never closed: the files beside the database stay there, so that reading goes on where a full disk lets no new ones be made."""
_open.execute("SELECT count(*) FROM sqlite_master").fetchone()
log_all()
load_all()
unit_at(Setup, "/machine/axes/X/rapid")  # the schema is made once, before anyone waits for it
sys.setswitchinterval(0.0005)
"""Seconds for which a thread keeps the others waiting: most of what each does here is short, and waits for the database between."""
threading.Thread(target=lambda: desk().processes.warm(), daemon=True, name="warming").start()


async def application(scope: Scope, receive: Receive, send: Send) -> None:
    """Pages and API by Django; the hand panels' WebSockets by their own."""
    if scope["type"] == "websocket":
        await panel(scope, receive, send)
        return
    request = _Arriving(scope, receive, send)
    if request.announced > settings.DATA_UPLOAD_MAX_MEMORY_SIZE:
        await request.refuse()
        return
    async with _turns.of(request):
        await _pages(scope, request.receive, request.send)  # type: ignore[arg-type]
    if request.refused and not request.answered:
        await request.refuse()


LARGE = 100_000
"""Bytes of a request that is read alone: a Setup is smaller, a drawing, a table or a file may be larger."""

AT_A_TIME, LARGE_AT_A_TIME = 6, 1
"""Requests of one sender that are worked on at the same time, and large ones among them; the others wait in line."""

BREATH = 0.15
"""Seconds after a large request before the same sender's next: reading them is this process' own work, which keeps
others."""


class _Pages(ASGIHandler):
    """Django, with each request worked on in one thread. None of our views waits asynchronously; Django would change the thread before
    and after each middleware, which takes longer than most answers."""

    def load_middleware(self, is_async: bool = False) -> None:
        super().load_middleware(is_async=False)

    async def get_response_async(self, request: HttpRequest) -> HttpResponseBase:
        return await sync_to_async(self.get_response, thread_sensitive=True)(request)


_pages = _Pages()


class _Turns:
    """A place in line for every request, by whoever sent it: one who sends many waits for himself, not others for
    him."""

    def __init__(self) -> None:
        self._lines: dict[tuple[str, bool], tuple[asyncio.Semaphore, int]] = {}

    @asynccontextmanager
    async def of(self, request: "_Arriving") -> AsyncIterator[None]:
        large = request.announced > LARGE or request.unannounced
        key = request.sender, large
        line, count = self._lines.get(key, (asyncio.Semaphore(LARGE_AT_A_TIME if large else AT_A_TIME), 0))
        self._lines[key] = line, count + 1
        try:
            async with line:
                yield
                if large:
                    await asyncio.sleep(BREATH)
        finally:
            line, count = self._lines[key]
            if count <= 1:
                del self._lines[key]
            else:
                self._lines[key] = line, count - 1


_turns = _Turns()


class _Arriving:
    """A request as it comes in: bounded in size and time, before anything of it is kept; and whether its sender is
    still there, as ``scope["gone"]``."""

    def __init__(self, scope: Scope, receive: Receive, send: Send):
        self.scope, self._receive, self._send = scope, receive, send
        self.gone = scope["gone"] = threading.Event()
        self.until = time.monotonic() + BODY_SECONDS
        self.size, self.whole, self.answered, self.refused = 0, False, False, False
        headers = {name: value for name, value in scope.get("headers", ())}
        reported = headers.get(b"content-length", b"0")
        self.announced = int(reported) if reported.isdigit() and len(reported) < 16 else 0
        self.unannounced = b"transfer-encoding" in headers
        session = re.search(rb"sessionid=([a-z0-9]+)", headers.get(b"cookie", b""))
        self.sender = session[1].decode() if session else str((scope.get("client") or ("",))[0])

    async def receive(self) -> Any:
        if self.whole:
            message = await self._receive()
        else:
            try:
                async with asyncio.timeout(max(0.0, self.until - time.monotonic())):
                    message = await self._receive()
            except TimeoutError:
                message = {"type": "http.disconnect"}
        if message["type"] == "http.request":
            self.size += len(message.get("body", b""))
            self.whole = not message.get("more_body", False)
            if self.size > settings.DATA_UPLOAD_MAX_MEMORY_SIZE:
                self.refused, message = True, {"type": "http.disconnect"}
        if message["type"] == "http.disconnect":
            self.gone.set()
        return message

    async def send(self, message: Any) -> None:
        self.answered = True
        await self._send(message)

    async def refuse(self) -> None:
        """Say that it is too large, without reading it."""
        most = f"{settings.DATA_UPLOAD_MAX_MEMORY_SIZE / 1e6:.0f}"
        message = f"What was sent is larger than {most} MB; a Setup file has at most 4 MB. Is it another file?"
        body = json.dumps({"message": message, "faults": []}).encode()
        headers = [
            (b"content-type", b"application/json"),
            (b"content-length", str(len(body)).encode()),
            (b"connection", b"close"),
        ]
        await self._send({"type": "http.response.start", "status": 413, "headers": headers})
        await self._send({"type": "http.response.body", "body": body})
