"""One agent, followed: its documents fetched within bounds, its state kept, its silence reported."""

import asyncio
import json
import re
import time
from collections import deque
from collections.abc import AsyncIterator, Iterable
from copy import deepcopy
from dataclasses import dataclass, field
from typing import Any, Literal

import httpx
import structlog

from link.address import NotAnAddress, checked_address, resolved
from link.standard import Edge, MachineState, Meanings, NotStandard, Streams, as_json, read_devices, read_streams

INTERVAL = 0.03
"""Seconds between two parts of a stream."""

HEARTBEAT = 1.0
"""Seconds after which an agent with nothing new says so."""

SLOW, LOST = 1.5, 4.0
"""Seconds without an answer after which an agent is called slow, and lost."""

POLL = 0.2
"""Seconds between two questions to an agent that does not stream."""

LARGEST = 1_000_000
"""Bytes of a document; a larger one is not read."""

WAIT_LONGEST = 3.0

WHOLE_LONGEST = 8.0
"""Seconds in which a whole document must have come, however steadily it drips."""

LEAST_PAUSE = 0.005
"""Seconds between two parts of a stream, so that others have their turn."""

log = structlog.get_logger("link")

LinkState = Literal["connecting", "connected", "slow", "lost"]


@dataclass(slots=True)
class Link:
    """What is known of the machine at an address, and how fresh that is. ``device``: its name there; ``ended``: why
    nothing more comes of it."""

    address: str
    device: str = ""
    ended: str = ""
    standing: LinkState = "connecting"
    says: str = "Connecting."
    state: MachineState = field(default_factory=MachineState)
    edges: deque[Edge] = field(default_factory=lambda: deque(maxlen=60))
    seen: float = field(default_factory=time.monotonic)
    heard_once: bool = False
    version: int = 0
    changed: asyncio.Event = field(default_factory=asyncio.Event)
    _text: tuple[int, str] = (-1, "")

    @property
    def age(self) -> float:
        """Seconds since the last document."""
        return time.monotonic() - self.seen

    def touch(self) -> None:
        """Something is new: whoever waits is woken."""
        self.version += 1
        self.changed.set()
        self.changed = asyncio.Event()

    def stands(self, standing: LinkState, says: str) -> None:
        if (standing, says) != (self.standing, self.says):
            self.standing, self.says = standing, says
            self.touch()

    def text(self) -> str:
        """The state as JSON text; made once for all panels."""
        if self._text[0] != self.version:
            data = {
                "link": {
                    "standing": self.standing,
                    "says": self.says,
                    "age": round(self.age, 1) if self.heard_once else None,
                },
                "machine": as_json(self.state),
                "edges": self._edges(),
            }
            self._text = (self.version, json.dumps(data))
        return self._text[1]

    def _edges(self) -> list[dict[str, Any]]:
        return [{"name": e.name, "at": e.when.timestamp(), "made": e.made} for e in self.edges]

    def frozen(self) -> MachineState:
        """The state as it is now, to be looked at from another thread."""
        return deepcopy(self.state)


@dataclass(frozen=True, slots=True)
class Place:
    """Where an agent answers: the ``base`` of its addresses, and the host's name where the base has its number
    instead."""

    base: str
    host: dict[str, str]


async def _place(address: str, networks: Iterable[str]) -> Place:
    parts = checked_address(address)
    ip = await resolved(parts, networks)
    if parts.scheme == "https":
        return Place(address, {})  # its certificate is for the name
    number = f"[{ip}]" if ":" in ip else ip
    port = f":{parts.port}" if parts.port else ""
    return Place(f"http://{number}{port}{parts.path}", {"Host": parts.netloc})


async def follow(link: Link, networks: Iterable[str]) -> None:
    """Follow an agent until cancelled; what goes wrong is reported in the link, and tried again."""
    pause = 0.5
    timeout = httpx.Timeout(WAIT_LONGEST, read=max(LOST, 2 * HEARTBEAT))
    networks = tuple(networks)
    plain = {"Accept-Encoding": "identity"}
    async with httpx.AsyncClient(timeout=timeout, follow_redirects=False, trust_env=False, headers=plain) as client:
        while True:
            began = time.monotonic()
            try:
                await _follow_once(client, link, await _place(link.address, networks))
                what = "The agent has ended its answer."
            except (NotStandard, NotAnAddress) as bad:
                what = str(bad)
            except (httpx.TimeoutException, TimeoutError):
                what = "The agent does not answer in time."
            except (httpx.HTTPError, httpx.InvalidURL, OSError, ValueError) as failed:
                what = f"The agent can't be reached ({_reason(failed)})."
            except Exception as failed:  # whatever an agent sends: the reader goes on, and tells
                log.exception("reader", address=link.address)
                what = f"What the agent sent can't be worked with ({_reason(failed)})."
            link.stands("lost", what)
            pause = 0.5 if time.monotonic() - began > 5 else min(WAIT_LONGEST, pause * 1.5)
            await asyncio.sleep(pause)


def _reason(failed: Exception) -> str:
    return str(failed)[:120] or type(failed).__name__


async def _follow_once(client: httpx.AsyncClient, link: Link, place: Place) -> None:
    meanings = read_devices(await _fetch(client, place, "probe"), link.device)
    state = MachineState()
    streams = _taken(link, await _fetch(client, place, "current"), meanings, state)
    link.edges.clear()
    watch = asyncio.create_task(_watch(link))
    try:
        sample = f"{place.base}/sample?from={streams.next_sequence}&interval={INTERVAL * 1000:.0f}&count=500"
        async with client.stream("GET", f"{sample}&heartbeat={HEARTBEAT * 1000:.0f}", headers=place.host) as answer:
            _fine(answer)
            kind = answer.headers.get("content-type", "")
            if "multipart" not in kind:
                await answer.aclose()
                await _poll(client, link, place, meanings, state)
                return
            whole = aiter(parts(answer.aiter_raw()))
            while True:
                async with asyncio.timeout(LOST):  # a part that drips in is none
                    part = await anext(whole, None)
                if part is None:
                    return
                begun = time.monotonic()
                _taken(link, part, meanings, state)
                # one that sends without a pause takes a quarter of this server's time at most
                await asyncio.sleep(max(LEAST_PAUSE, 3 * (time.monotonic() - begun)))
    finally:
        watch.cancel()


async def _poll(client: httpx.AsyncClient, link: Link, place: Place, meanings: Meanings, state: MachineState) -> None:
    """An agent that does not stream is asked again and again."""
    while True:
        _taken(link, await _fetch(client, place, "current"), meanings, state)
        await asyncio.sleep(POLL)


def _fine(answer: httpx.Response) -> None:
    """Look at the head of an answer.

    Raises:
        NotStandard: where the agent tells of an error, or packs what it sends.
    """
    if answer.status_code >= 400:
        raise NotStandard(
            f"The agent answers with status {answer.status_code}; is this the address of an MTConnect agent?"
        )
    if answer.headers.get("content-encoding", "identity").strip().lower() not in ("", "identity"):
        raise NotStandard("The agent packs its answers though it was asked not to; they are not unpacked.")


def _taken(link: Link, content: bytes, meanings: Meanings, state: MachineState) -> Streams:
    streams = read_streams(content, meanings, state)
    link.state, link.seen = state, time.monotonic()
    first, link.heard_once = not link.heard_once, True
    link.edges.extend(streams.edges)
    link.stands("connected", "")
    if streams.taken or first:
        link.touch()
    return streams


async def _watch(link: Link) -> None:
    """Tell when nothing has come for a while."""
    while True:
        await asyncio.sleep(0.25)
        if link.age > LOST:
            link.stands("lost", "The agent has gone silent.")
        elif link.age > SLOW:
            link.stands("slow", "The agent answers slowly.")
        if link.age > SLOW:
            link.touch()  # the age goes on


async def _fetch(client: httpx.AsyncClient, place: Place, what: str) -> bytes:
    content = bytearray()
    async with (
        asyncio.timeout(WHOLE_LONGEST),
        client.stream("GET", f"{place.base}/{what}", headers=place.host) as answer,
    ):
        if answer.status_code < 400:
            _fine(answer)
        async for piece in answer.aiter_raw():
            content += piece
            if len(content) > LARGEST:
                raise NotStandard(f"The answer is larger than {LARGEST / 1e6:g} MB; it is not read.")
    if answer.status_code >= 400:
        read_devices(bytes(content))  # it says itself what is wrong, where it is an agent
        _fine(answer)
    return bytes(content)


async def parts(pieces: AsyncIterator[bytes]) -> AsyncIterator[bytes]:
    """The documents of a multipart answer, by their content length.

    Raises:
        NotStandard: a part without a length, or one that is too large.
    """
    kept = bytearray()
    wanted: int | None = None
    async for piece in pieces:
        kept += piece
        while True:
            if wanted is None:
                end = kept.find(b"\r\n\r\n")
                if end < 0:
                    if len(kept) > 10_000:
                        raise NotStandard("The stream has no parts as the standard has them.")
                    break
                wanted = _length(bytes(kept[:end]))
                del kept[: end + 4]
            if len(kept) < wanted:
                break
            yield bytes(kept[:wanted])
            del kept[:wanted]
            wanted = None


def _length(head: bytes) -> int:
    for line in head.decode("latin-1").splitlines():
        name, _, value = line.partition(":")
        if name.strip().lower() == "content-length" and re.fullmatch("[0-9]{1,12}", value.strip()):
            length = int(value.strip())
            if length > LARGEST:
                raise NotStandard(f"A part of the stream is larger than {LARGEST / 1e6:g} MB; it is not read.")
            return length
    raise NotStandard("A part of the stream does not tell its length.")
