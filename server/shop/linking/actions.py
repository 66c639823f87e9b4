"""Changes of what a machine is read from."""

from dataclasses import dataclass
from typing import Any, ClassVar

import httpx
from django.conf import settings
from django.contrib.auth.models import User
from link.address import NotAnAddress, checked_address
from orthotrope.errors import InputError, OrthotropeError
from orthotrope.validation import unusable_sign

from shop.action import Action
from shop.models import Machine


@dataclass(slots=True)
class SetAgent(Action[Machine]):
    """Read the machine from another agent, or from the practice machine again (an empty address)."""

    name: ClassVar[str] = "set agent"
    user: User
    machine: Machine
    address: str
    device: str

    def prepare(self) -> None:
        if wrong := unusable_sign(self.device):
            raise InputError.at("/device", f"`device` holds {wrong}; take it out.")
        if self.address:
            try:
                checked_address(self.address)
            except NotAnAddress as bad:
                raise InputError.at("/address", str(bad)) from None

    def execute(self) -> Machine:
        self.machine.agent, self.machine.device = self.address.rstrip("/"), self.device
        self.machine.save()
        return self.machine

    def noted(self, outcome: Machine) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"address": self.address, "device": self.device}


class PracticeGone(OrthotropeError):
    """The practice machine's process does not do what is wanted."""


@dataclass(slots=True)
class BuildPractice(Action[int]):
    """Build the practice machine anew from the newest Setup; its seed. What stood there before is gone."""

    name: ClassVar[str] = "build practice machine"
    user: User
    machine: Machine
    seed: int

    def prepare(self) -> None:
        body = {"document": self.machine.head.document, "seed": self.seed}
        try:
            answer = httpx.put(f"{settings.PRACTICE}/{self.machine.slug}", json=body, timeout=10, trust_env=False)
        except httpx.HTTPError as failed:
            raise PracticeGone(
                f"The practice machine does not answer ({failed}). Is it running? make demo starts it."
            ) from None
        if answer.status_code != 200:
            raise PracticeGone(f"The practice machine was not built: {answer.text[:300]}")

    def execute(self) -> int:
        return self.seed

    def noted(self, outcome: int) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"seed": self.seed}
