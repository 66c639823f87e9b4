"""The nose comes down on what a pocket has lower than where it is taken."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding
from orthotrope.units import in_unit, with_unit


@check("driven-in", "stop", "run", harms=True)
def driven_in(case: Case, tell: Teller) -> Iterator[Finding]:
    magazine = case.world.magazine
    for event in case.main.trace.of_kind("driven-in"):
        assert magazine is not None
        pocket, tool, deep = event.data["pocket"], event.data["tool"], event.data["deep"]
        where = f"pocket {pocket}" if pocket else "the exchange place"
        yield tell.of_event(
            event,
            f"At {where} the nose goes {with_unit(deep)} lower than T{tool} is taken (Z {in_unit(magazine.couple_z)}): it is driven "
            "into its pocket. Correct the height of this move.",
            "/changer/heights/touch_z",
        )
