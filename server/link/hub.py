"""The agents that are followed now: one reader for each machine, for as long as a panel looks at it."""

import asyncio
from collections.abc import Callable
from dataclasses import dataclass, field

from django.conf import settings

from link.reader import Link, follow

LINGER = 2.0
"""Seconds that an agent is followed on after the last panel has gone: a reload finds it connected."""

ELSEWHERE = "The machine is read from elsewhere now; open the panel again."


@dataclass(slots=True)
class _Followed:
    link: Link
    task: asyncio.Task[None]
    loop: asyncio.AbstractEventLoop
    panels: int = 0
    leaving: asyncio.TimerHandle | None = None


@dataclass(slots=True)
class _Sessions:
    """What ends the panels of a session, by the session's key."""

    ends: dict[str, set[Callable[[], None]]] = field(default_factory=dict)


_followed: dict[str, _Followed] = {}
_sessions = _Sessions()


def enter(slug: str, address: str, device: str) -> Link:
    """A panel begins to look at a machine."""
    found = _followed.get(slug)
    if found and (found.link.address, found.link.device) != (address, device):
        _end(slug, ELSEWHERE)
        found = None
    if found is None:
        link = Link(address, device)
        task = asyncio.create_task(follow(link, settings.NETWORKS))
        found = _Followed(link, task, asyncio.get_running_loop())
        _followed[slug] = found
    if found.leaving:
        found.leaving.cancel()
        found.leaving = None
    found.panels += 1
    return found.link


def leave(slug: str, link: Link) -> None:
    """A panel has gone."""
    found = _followed.get(slug)
    if found is None or found.link is not link:
        return
    found.panels -= 1
    if found.panels <= 0:
        found.leaving = asyncio.get_running_loop().call_later(LINGER, _drop, slug, link)


def _drop(slug: str, link: Link) -> None:
    found = _followed.get(slug)
    if found and found.link is link and found.panels <= 0:
        found.task.cancel()
        del _followed[slug]


def _end(slug: str, why: str) -> None:
    found = _followed.pop(slug, None)
    if found:
        found.task.cancel()
        found.link.ended = why
        found.link.stands("lost", why)


def moved(slug: str, address: str, device: str) -> None:
    """A machine is read from elsewhere now: what follows it otherwise ends. From any thread."""
    found = _followed.get(slug)
    if found and (found.link.address, found.link.device) != (address, device):
        found.loop.call_soon_threadsafe(_end, slug, ELSEWHERE)


def link_of(slug: str, address: str, device: str) -> Link | None:
    """The link that a machine's panels have now to this address and device; it may be asked from any thread."""
    found = _followed.get(slug)
    return found.link if found and (found.link.address, found.link.device) == (address, device) else None


def with_session(key: str, end: Callable[[], None]) -> Callable[[], None]:
    """A panel was opened within a session: ``end`` is called when that ends. Returns what takes it off the list
    again."""
    _sessions.ends.setdefault(key, set()).add(end)

    def forget() -> None:
        _sessions.ends.get(key, set()).discard(end)
        if not _sessions.ends.get(key):
            _sessions.ends.pop(key, None)

    return forget


def end_session(key: str) -> None:
    """A session has ended: so do its panels. From any thread."""
    for end in list(_sessions.ends.get(key, ())):
        end()
