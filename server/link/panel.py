"""The WebSocket of a hand panel: the machine's state out as it changes, commands through to the practice machine."""

import asyncio
import contextlib
import json
from collections.abc import Awaitable, Callable, MutableMapping
from functools import partial
from http.cookies import CookieError, SimpleCookie
from importlib import import_module
from typing import Any
from urllib.parse import urlsplit

from asgiref.sync import sync_to_async
from django.conf import settings
from django.contrib.auth import get_user
from django.contrib.auth.models import User
from django.db import connection
from django.http import HttpRequest
from django.http.request import split_domain_port, validate_host
from orthotrope.errors import OrthotropeError
from shop.acting import AT_ONCE, Refusal, prepared
from shop.models import Machine
from websockets.asyncio.client import ClientConnection, connect
from websockets.exceptions import WebSocketException

from link import hub
from link.reader import Link

Scope = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[MutableMapping[str, Any]]]
Send = Callable[[MutableMapping[str, Any]], Awaitable[None]]

LEAST_GAP = 0.03
"""Seconds between two states; more often no eye follows."""

LONGEST_ANSWER = 5.0
LARGEST_COMMAND = 1_200_000
NOT_FOUND, NOT_ALLOWED, ELSEWHERE = 4404, 4403, 4409

LOOK_WHO = 20.0
"""Seconds between two looks whether the session of a panel is still one."""


class Panel:
    """One panel's connection."""

    def __init__(self, slug: str, user: User, address: str, practice: bool, send: Send, link: Link):
        self.slug, self.user, self.address, self.practice, self.send = slug, user, address, practice, send
        self.link = link
        self.hand: ClientConnection | None = None
        self.turn = asyncio.Lock()

    async def say(self, text: str) -> None:
        async with self.turn:
            await self.send({"type": "websocket.send", "text": text})

    async def tell(self, link: Link) -> None:
        """Send the state whenever it is new, until cancelled."""
        while True:
            changed = link.changed
            await self.say(link.text())
            if link.ended:
                return
            await asyncio.sleep(LEAST_GAP)
            await changed.wait()

    async def obey(self, text: str) -> None:
        """Pass a command on, and its answer back; a refusal says why."""
        number: Any = None
        try:
            data = json.loads(text)
            if not isinstance(data, dict):
                raise Refusal("A command is a JSON object.")
            number = data.pop("id", None)
            answer = await self._passed(data)
        except json.JSONDecodeError:
            answer = {"refused": "The command is no JSON."}
        except OrthotropeError as refused:
            answer = {"refused": str(refused)}
        except (OSError, WebSocketException, TimeoutError):
            await self.let_go()
            answer = {"refused": "The practice machine does not answer. Is it running? Nothing is known to have moved."}
        await self.say(json.dumps({"answer": {**answer, "id": number}}))

    async def _passed(self, data: dict[str, Any]) -> dict[str, Any]:
        if self.link.ended:
            raise Refusal(self.link.ended)
        direct = data.get("do") in AT_ONCE  # a hand that lets go must not wait for the database
        command = data if direct else await sync_to_async(_prepared, thread_sensitive=False)(self.slug, self.user, data)
        if not self.practice:
            raise Refusal("This machine is read through its agent only; act at the machine itself.")
        if self.hand is None:
            address = "ws" + self.address.removeprefix("http")
            self.hand = await connect(
                f"{address}/act", open_timeout=3, proxy=None, max_size=LARGEST_COMMAND, ping_interval=None
            )
        await self.hand.send(json.dumps(command))
        async with asyncio.timeout(LONGEST_ANSWER):
            answer = json.loads(await self.hand.recv())
        return {name: value for name, value in answer.items() if name != "id"}

    async def let_go(self) -> None:
        """Take the hand off the machine: what it held stops."""
        hand, self.hand = self.hand, None
        if hand:
            await hand.close()


def _prepared(slug: str, user: User, data: dict[str, Any]) -> dict[str, Any]:
    """In a thread of its own, whose connection to the database is not kept."""
    try:
        return prepared(slug, user, data)
    finally:
        connection.close()


async def panel(scope: Scope, receive: Receive, send: Send) -> None:
    """The ASGI application of ``/live/<machine>``."""
    await receive()
    slug = scope["path"].removeprefix("/live/")
    key = _session_key(scope)
    user = await sync_to_async(_user)(key) if key and _same_origin(scope) else None
    if user is None:
        await send({"type": "websocket.close", "code": NOT_ALLOWED, "reason": "Sign in first."})
        return
    found = await sync_to_async(lambda: Machine.objects.filter(slug=slug).first())()
    await send({"type": "websocket.accept"})
    if found is None:
        await send({"type": "websocket.close", "code": NOT_FOUND, "reason": "There is no such machine."})
        return
    link = hub.enter(slug, found.agent_address, found.agent_device)
    here = Panel(slug, user, found.agent_address, not found.agent, send, link)
    loop, over = asyncio.get_running_loop(), asyncio.Event()
    forget = hub.with_session(key, partial(_call_soon, loop, over))
    obeying = asyncio.create_task(_obey_all(here, receive))
    telling = asyncio.create_task(here.tell(link))
    asking = asyncio.create_task(_until_gone(key, over))
    try:
        await asyncio.wait({obeying, telling, asking}, return_when=asyncio.FIRST_COMPLETED)
        if over.is_set():
            await send({"type": "websocket.close", "code": NOT_ALLOWED, "reason": "The session has ended."})
        elif link.ended and not obeying.done():
            await send({"type": "websocket.close", "code": ELSEWHERE, "reason": link.ended})
    finally:
        for task in (obeying, telling, asking):
            task.cancel()
        forget()
        await here.let_go()
        hub.leave(slug, link)


def _call_soon(loop: asyncio.AbstractEventLoop, over: asyncio.Event) -> None:
    loop.call_soon_threadsafe(over.set)


async def _obey_all(here: Panel, receive: Receive) -> None:
    """Pass on what the panel's window sends, until it has gone."""
    while True:
        message = await receive()
        if message["type"] == "websocket.disconnect":
            return
        text = message.get("text") or ""
        if len(text) <= LARGEST_COMMAND:
            await here.obey(text)


async def _until_gone(key: str, over: asyncio.Event) -> None:
    """Until the session has ended: signed out, run out, or its account taken away."""
    while True:
        with contextlib.suppress(TimeoutError):
            async with asyncio.timeout(LOOK_WHO):
                await over.wait()
        if over.is_set() or await sync_to_async(_user)(key) is None:
            over.set()
            return


def _header(scope: Scope, name: bytes) -> str:
    return next((value.decode("latin-1") for key, value in scope["headers"] if key == name), "")


def _same_origin(scope: Scope) -> bool:
    """Whether the page that opens the connection is ours, at a name that is served: another site's page has the user's
    cookie as well."""
    origin, host = _header(scope, b"origin"), _header(scope, b"host")
    try:
        same = bool(origin) and urlsplit(origin).netloc == host
    except ValueError:
        return False
    return same and validate_host(split_domain_port(host)[0], settings.ALLOWED_HOSTS)


def _session_key(scope: Scope) -> str:
    try:
        cookie = SimpleCookie(_header(scope, b"cookie")).get(settings.SESSION_COOKIE_NAME)
    except CookieError:
        return ""
    return cookie.value if cookie else ""


def _user(key: str) -> User | None:
    """Whose session it is; None: it is none any more."""
    request = HttpRequest()
    request.session = import_module(settings.SESSION_ENGINE).SessionStore(key)
    user = get_user(request)
    return user if isinstance(user, User) else None
