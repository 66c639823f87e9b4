"""Keeping the tests of inputs."""

from dataclasses import dataclass
from typing import Any, ClassVar

from django.contrib.auth.models import User
from orthotrope.calc.wiring import InputTestInput, Seen, input_test
from orthotrope.errors import InputError

from shop.action import Action
from shop.models import InputTest, Machine


@dataclass(slots=True)
class KeepInputTest(Action[InputTest]):
    """Keep the outcome of an input's test: what was seen idle, made and idle again."""

    name: ClassVar[str] = "test input"
    user: User
    machine: Machine
    number: int
    seen: list[Seen]
    edges: list[dict[str, Any]]
    by_hand: bool

    def execute(self) -> InputTest:
        setup = self.machine.head.setup
        entry = next((entry for entry in setup.inputs if entry.number == self.number), None)
        if entry is None:
            raise InputError.at("/number", f"There is no input {self.number}; add it on the Signals stage.")
        if len(self.seen) != 3:
            raise InputError.at("/seen", "A test has three steps: idle, made, idle again.")
        judged = input_test(InputTestInput(idle=self.seen[0], made=self.seen[1], idle_again=self.seen[2]))
        return InputTest.objects.create(
            machine=self.machine,
            number=self.number,
            wired=InputTest.wired_as(entry),
            seen=self.seen,
            author=self.user,
            outcome=judged.outcome,
            edges=self.edges[:60],
            by_hand=self.by_hand,
        )

    def noted(self, outcome: InputTest) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"input": self.number, "outcome": outcome.outcome, "by_hand": self.by_hand}
