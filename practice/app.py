"""HTTP and WebSocket of the practice machines: the standard's requests for reading, commands for acting."""

import asyncio
import json
import re
import time
from collections.abc import AsyncIterator, Iterable
from contextlib import asynccontextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from orthotrope.errors import InputError, OrthotropeError
from orthotrope.setup import read_setup
from orthotrope.validation import read_json
from starlette.applications import Starlette
from starlette.middleware import Middleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.requests import Request
from starlette.responses import JSONResponse, Response, StreamingResponse
from starlette.routing import Route, WebSocketRoute
from starlette.websockets import WebSocket, WebSocketDisconnect

from practice.agent import devices_document, error_document, observe, streams_document
from practice.hands import obey
from practice.machine import PracticeMachine
from practice.observed import Buffer
from practice.store import Store

BOUNDARY = "practice-part"
LONGEST_COMMAND = 1_200_000
LEAST_INTERVAL, HEARTBEAT = 0.02, 10.0
NAME = re.compile(r"^[a-z0-9][a-z0-9-]{0,79}$")


class Practice:
    """The agent and the machines behind it."""

    def __init__(self, folder: Path):
        self.instance = int(time.time())
        self.buffer = Buffer()
        self.tasks: dict[str, tuple[PracticeMachine, asyncio.Task[None]]] = {}
        self.store = Store(folder, self.changed)

    def changed(self, slug: str) -> None:
        if slug in self.store.machines:
            observe(self.buffer, slug, self.store.machines[slug])

    def start(self, slug: str) -> None:
        """Let a machine's time pass."""
        if slug in self.tasks:
            self.tasks.pop(slug)[1].cancel()
            self.buffer.forget(slug)
        machine = self.store.machines[slug]
        self.changed(slug)
        self.tasks[slug] = (machine, asyncio.get_running_loop().create_task(machine.playback.play()))

    def named(self, request: Request) -> dict[str, PracticeMachine]:
        """The machines that a request is about.

        Raises:
            KeyError: where there is none of that name.
        """
        slug = request.path_params.get("device")
        return {slug: self.store.machines[slug]} if slug else self.store.machines


OWN_HOSTS = ("localhost", "127.0.0.1", "[::1]")
"""Names under which the practice machines answer, where no others are said."""


def _own_origin(socket: WebSocket) -> bool:
    """Whether a command comes from a program, or from a page of this very address: another site's page in a browser on
    this computer could otherwise ask for the hidden truth."""
    origin = socket.headers.get("origin")
    return origin is None or urlsplit(origin).netloc == socket.headers.get("host", "")


def _xml(content: bytes, status: int = 200) -> Response:
    return Response(content, status, media_type="text/xml")


@dataclass
class Service:
    """What the practice machines answer: the standard's three requests, a Setup to build one from, and commands."""

    practice: Practice

    def _unknown(self, request: Request) -> Response:
        what = f"There is no device {request.path_params.get('device')}."
        return _xml(error_document(self.practice.instance, "NO_DEVICE", what), 404)

    async def probe(self, request: Request) -> Response:
        """What devices there are."""
        try:
            return _xml(devices_document(self.practice.named(request), self.practice.instance))
        except KeyError:
            return self._unknown(request)

    async def current(self, request: Request) -> Response:
        """How they stand."""
        practice = self.practice
        try:
            machines = practice.named(request)
        except KeyError:
            return self._unknown(request)
        entries = practice.buffer.current(set(machines))
        return _xml(streams_document(machines, practice.buffer, practice.instance, entries))

    async def sample(self, request: Request) -> Response:
        """What has changed, once or as it comes."""
        practice, buffer = self.practice, self.practice.buffer
        try:
            machines = practice.named(request)
            count = int(request.query_params.get("count", "100"))
            start = int(request.query_params.get("from", buffer.first_sequence))
            interval = request.query_params.get("interval")
            seconds = int(interval) / 1000 if interval is not None else None
            beat = int(request.query_params.get("heartbeat", HEARTBEAT * 1000)) / 1000
        except KeyError:
            return self._unknown(request)
        except ValueError:
            what = "count, from, interval and heartbeat are whole numbers."
            return _xml(error_document(practice.instance, "INVALID_REQUEST", what), 400)
        if not buffer.first_sequence <= start <= buffer.next_sequence or not 1 <= count <= 16_384:
            what = f"from must be {buffer.first_sequence} to {buffer.next_sequence}, count 1 to 16384."
            return _xml(error_document(practice.instance, "OUT_OF_RANGE", what), 404)
        if seconds is None:
            part = buffer.part(set(machines), start, count)
            return _xml(streams_document(machines, buffer, practice.instance, part.observations, part.next_sequence))
        stream = _stream(practice, request, machines, start, count, max(LEAST_INTERVAL, seconds), max(0.1, beat))
        return StreamingResponse(stream, media_type=f"multipart/x-mixed-replace;boundary={BOUNDARY}")

    async def build(self, request: Request) -> Response:
        """Build a machine from a Setup and a seed."""
        try:
            slug, body = request.path_params["device"], await request.body()
            if not NAME.match(slug):
                raise InputError.at("/name", "`name` must be small letters, digits and hyphens.")
            data = read_json(body)
            if not isinstance(data, dict) or type(data.get("seed")) is not int:
                raise InputError.at("/seed", "`seed` must be a whole number.")
            self.practice.store.build(slug, read_setup(data.get("document") or {}), data["seed"])
        except InputError as bad:
            return JSONResponse({"refused": str(bad)}, 422)
        self.practice.start(slug)
        return JSONResponse({"built": slug})

    async def act(self, socket: WebSocket) -> None:
        """Take commands for a machine until whoever gives them has gone."""
        slug = socket.path_params["device"]
        if not _own_origin(socket):
            await socket.close(4403, "Another site's page gives no commands.")
            return
        await socket.accept()
        if slug not in self.practice.store.machines:
            await socket.close(4404, f"There is no device {slug}.")
            return
        hand, started = object(), False
        try:
            while True:
                text = await socket.receive_text()
                answer, ran = _answer(self.practice.store.machines[slug], text, hand)
                started = started or ran
                self.practice.changed(slug)
                await socket.send_text(json.dumps(answer))
        except WebSocketDisconnect:
            self._left(slug, hand, started)

    def _left(self, slug: str, hand: object, started: bool) -> None:
        """Nobody watches what this hand began any more."""
        machine = self.practice.store.machines[slug]
        machine.playback.release_jog(hand)
        if started and machine.activity and machine.activity.kind == "program" and machine.execution == "ACTIVE":
            machine.programs.hold()
            machine.message = "The connection of whoever started the program is lost: held."
        self.practice.changed(slug)

    @asynccontextmanager
    async def lifespan(self, app: Starlette) -> AsyncIterator[None]:
        """All machines live as long as the process does."""
        for slug in self.practice.store.machines:
            self.practice.start(slug)
        yield
        for _, task in self.practice.tasks.values():
            task.cancel()


def application(folder: Path, hosts: Iterable[str] = OWN_HOSTS) -> Starlette:
    """The ASGI application; its machines are kept in ``folder``."""
    service = Service(Practice(folder))
    reading = [("probe", service.probe), ("current", service.current), ("sample", service.sample)]
    routes: list[Any] = [Route(f"/{name}", view) for name, view in reading]
    routes += [Route("/{device}/" + name, view) for name, view in reading]
    routes += [Route("/{device}", service.build, methods=["PUT"]), WebSocketRoute("/{device}/act", service.act)]
    trusted = Middleware(TrustedHostMiddleware, allowed_hosts=[*hosts, "::1"], www_redirect=False)
    return Starlette(routes=routes, lifespan=service.lifespan, middleware=[trusted])


def _answer(machine: PracticeMachine, text: str, hand: object) -> tuple[dict[str, Any], bool]:
    """The answer to one command, and whether it started a program."""
    number: Any = None
    try:
        if len(text) > LONGEST_COMMAND:
            raise InputError.at("", "The command is too long.")
        data = json.loads(text)
        number = data.pop("id", None) if isinstance(data, dict) else None
        found = obey(machine, data, hand)
        return {"id": number, **found}, isinstance(data, dict) and data.get("do") == "run"
    except json.JSONDecodeError as bad:
        return {"id": number, "refused": f"The command is no JSON: {bad.msg}."}, False
    except OrthotropeError as bad:
        return {"id": number, "refused": str(bad)}, False


async def _stream(
    practice: Practice,
    request: Request,
    machines: dict[str, PracticeMachine],
    start: int,
    count: int,
    interval: float,
    heartbeat: float,
) -> AsyncIterator[bytes]:
    """Parts of a multipart answer: what is new after each interval, or an empty one when the heartbeat is due."""
    last = time.monotonic()
    while not await request.is_disconnected():
        first = practice.buffer.first_sequence
        part = practice.buffer.part(set(machines), max(start, first), count)
        now = time.monotonic()
        if part.observations or now - last >= heartbeat:
            content = streams_document(
                machines, practice.buffer, practice.instance, part.observations, part.next_sequence
            )
            head = f"--{BOUNDARY}\r\nContent-type: text/xml\r\nContent-length: {len(content)}\r\n\r\n"
            yield head.encode() + content + b"\r\n"
            last = now
        start = part.next_sequence
        await asyncio.sleep(interval)
