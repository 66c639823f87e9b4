"""What stands highest in a changer, from the bodies themselves."""

from orthotrope.proof.case import Case


def stored_top(case: Case) -> float:
    """Machine Z of the highest thing stored in the rack when nothing is in the spindle: nuts and what is reserved,
    mm."""
    setup, derived = case.setup, case.derived
    assert setup is not None and setup.changer is not None and derived is not None
    tops = [entry.top_z for entry in setup.occupants]
    if setup.stored():
        tops.append(derived.stored_top_z)
    return max([derived.rack_top_z, *tops])
