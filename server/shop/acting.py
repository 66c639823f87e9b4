"""Commands of a hand panel, checked: who may act, what is ready, and what of the Setup goes with them."""

from typing import Any

from django.contrib.auth.models import User
from orthotrope.errors import OrthotropeError
from orthotrope.proof.readiness import touches, untested
from orthotrope.setup import Setup

from shop.models import AuditEntry, InputTest, Machine
from shop.roles import may_change

NOTED = frozenset({"run", "home", "power", "key in", "tool", "settle", "reset", "lead", "air"})
"""Commands that the audit log keeps; a jog would drown it."""


AT_ONCE = frozenset({"alive", "release", "look", "stop", "hands"})
"""Commands that anyone may give, and that are passed on without being looked at."""


class Refusal(OrthotropeError):
    """A command that is not passed on; the text says why."""


def prepared(slug: str, user: User, data: dict[str, Any]) -> dict[str, Any]:
    """The command as the practice machine gets it.

    Raises:
        Refusal: where the user may not, or a text that touches is not ready.
    """
    allowed = may_change(user)
    if not allowed:
        raise Refusal(allowed.reason)
    name = data.get("do")
    if name in ("run", "tool", "key in"):
        machine = Machine.objects.get(slug=slug)
        data = _filled(machine, machine.head.setup, data)
    if name in NOTED:
        details = {key: value for key, value in data.items() if key not in ("text", "tool")}
        AuditEntry.objects.create(
            user=user, action=f"panel: {name}", machine=Machine.objects.get(slug=slug), details=details
        )
    return data


def _filled(machine: Machine, setup: Setup, data: dict[str, Any]) -> dict[str, Any]:
    if data["do"] == "run":
        text = data.get("text")
        if isinstance(text, str) and touches(text, setup):
            reason = untested(setup, InputTest.tested(machine, setup))
            if reason:
                raise Refusal(reason)
        return data
    if data["do"] == "tool":
        number = data.get("number")
        tool = setup.tool(number) if isinstance(number, int) and number else None
        return {"do": "tool", "tool": tool.model_dump(mode="json") if tool else None}
    limits = {name: [axis.soft_least, axis.soft_greatest] for name, axis in setup.machine.axes.items()}
    levels = {str(entry.number): entry.level for entry in setup.inputs}
    filters = {str(entry.number): entry.filter for entry in setup.inputs}
    return {"do": "key in", "limits": limits, "levels": levels, "filters": filters}
