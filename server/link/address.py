"""Addresses of agents: what may be read, and in which networks. A technician types one, the server follows it: it must
not become a way to whatever else the server can reach."""

import asyncio
import ipaddress
import socket
from collections.abc import Iterable
from urllib.parse import SplitResult, urlsplit

from orthotrope.errors import OrthotropeError

LONGEST = 200


class NotAnAddress(OrthotropeError):
    """What was given is no address of an agent, or leads where none is read; the text says why."""


def checked_address(address: str) -> SplitResult:
    """The parts of an agent's address.

    Raises:
        NotAnAddress: with what is wrong.
    """
    if len(address) > LONGEST:
        raise NotAnAddress(f"`address` has at most {LONGEST} characters.")
    if any(not sign.isprintable() or sign.isspace() for sign in address) or "\\" in address:
        raise NotAnAddress("`address` holds a blank, a line end or another sign that no address has; type it again.")
    try:
        parts = urlsplit(address)
        port = parts.port
    except ValueError as bad:
        raise NotAnAddress(f"`address` can't be read ({bad}); it looks like http://mill-3:5000.") from None
    if parts.scheme not in ("http", "https") or not parts.hostname or parts.query or parts.fragment or port == 0:
        raise NotAnAddress(
            f'`address` must begin with http:// and name a host, as http://mill-3:5000; got "{address[:80]}".'
        )
    if parts.username is not None or parts.password is not None:
        raise NotAnAddress(
            "`address` holds a name or a password, which everybody who looks at the machine could read; an agent of "
            "the "
            "standard needs none."
        )
    return parts


async def resolved(parts: SplitResult, networks: Iterable[str]) -> str:
    """An IP address of the host, in one of these networks; the same one is then connected to, so that a name can't lead
    elsewhere meanwhile.

    Raises:
        NotAnAddress: where the host isn't known, or lies in none of them.
    """
    assert parts.hostname
    loop = asyncio.get_running_loop()
    try:
        found = await loop.getaddrinfo(parts.hostname, parts.port, type=socket.SOCK_STREAM)
    except (OSError, UnicodeError):
        raise NotAnAddress(f"There is no host {parts.hostname} in this network.") from None
    allowed = [ipaddress.ip_network(network.strip(), strict=False) for network in networks]
    for *_, place in found:
        ip = ipaddress.ip_address(str(place[0]).split("%")[0])
        if not ip.is_link_local and not ip.is_multicast and any(ip in network for network in allowed):
            return str(ip)
    raise NotAnAddress(f"{parts.hostname} is in no network where agents are read (ORTHOTROPE_NETWORKS names them).")
