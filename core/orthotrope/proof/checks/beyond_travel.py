"""A move that would pass a soft limit."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import in_unit, with_unit


@check("beyond-travel", "stop", "run")
def beyond_travel(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("beyond-travel"):
        data = event.data
        beyond = abs(data["value"] - data["limit"])
        setup, name = case.setup, data["axis"]
        measured = "measured/" if setup and setup.machine.axes[name].measured else ""
        yield report.of_event(
            event,
            f"{data['axis']} would go to {with_unit(data['value'])}, {in_unit(beyond)} beyond its "
            f"{data['side']} limit {in_unit(data['limit'])}; correct the position or the travel.",
            f"/machine/axes/{name}/{measured}{data['side']}",
        )
