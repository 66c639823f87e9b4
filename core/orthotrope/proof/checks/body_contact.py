"""Tool, holder or spindle meets a body other than in a touching move."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding, SetupFix
from orthotrope.proof.stored import stored_top
from orthotrope.units import in_unit, with_unit


@check("body-contact", "stop", "run", harms=True)
def body_contact(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("body-contact"):
        data = event.data
        x, y, z = data["at"]
        more, quantity, fix = "", None, None
        setup, derived = case.setup, case.derived
        in_changer = data.get("part_of", "changer") != ""
        if setup and not in_changer:
            index = next((i for i, body in enumerate(setup.bodies) if body.name == data["body"]), None)
            quantity = None if index is None else f"/bodies/{index}"
        segment = case.main.trace.segments[-1] if case.main.trace.segments else None
        sideways = segment is not None and segment.start[:2] != segment.whole_end[:2]
        heights = setup.changer.heights_over if setup and setup.changer else None
        if heights and derived and in_changer and case.purpose == "exchange":
            top, stored = heights.stored_top_z, stored_top(case)
            # Where it is as high as what is stored, something else is wrong: a move of the text, a tool, what is in the way.
            if data["deep"] > 0 and sideways and top < stored - 1e-6:
                quantity = "/changer/heights/stored_top_z"
                wanted = round(stored, 3)
                more = f" The stored top of {in_unit(top)} is too low; the run needs {in_unit(wanted)} or more."
                fix = SetupFix(f"Set the stored top to {in_unit(wanted)}", quantity, wanted)
        mover, body = data["mover"], data["body"]
        deep = f", {with_unit(data['deep'])} deep if it went on" if data["deep"] else ""
        yield report.of_event(
            event,
            f"{mover[0].upper()}{mover[1:]} meets {body}{deep}, at X {in_unit(x)} Y {in_unit(y)} Z {in_unit(z)}.{more}",
            quantity,
            fix,
        )
