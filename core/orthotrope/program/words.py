"""The words of RS-274 and their modal groups (NISTIR 6556, table 4), with what controls commonly share besides."""

MODAL_GROUPS: dict[str, tuple[float, ...]] = {
    "motion": (0, 1, 2, 3, 38.2, 38.3, 80, 81, 82, 83, 84, 85, 86, 87, 88, 89),
    "plane": (17, 18, 19),
    "distance": (90, 91),
    "feed mode": (93, 94),
    "unit": (20, 21),
    "cutter compensation": (40, 41, 42),
    "length offset": (43, 49),
    "return level": (98, 99),
    "work offset": (54, 55, 56, 57, 58, 59, 59.1, 59.2, 59.3),
    "path": (61, 61.1, 64),
    "rotation": (68, 69),
    "no mode": (4, 10, 28, 28.1, 30, 30.1, 53, 65, 92, 92.1, 92.2, 92.3),
}
"""G words of which a block may hold one each."""

GROUP_OF = {code: group for group, codes in MODAL_GROUPS.items() for code in codes}

M_GROUPS: dict[str, tuple[int, ...]] = {
    "stop": (0, 1, 2, 30, 60, 99),
    "tool change": (6,),
    "spindle": (3, 4, 5, 19),
    "overrides": (48, 49),
    "grip": (10, 11),
    "call": (98,),
}
M_GROUP_OF = {code: group for group, codes in M_GROUPS.items() for code in codes}

AXIS_LETTERS = "XYZABCUVW"
LENGTH_LETTERS = "XYZIJKRUVW"
"""Letters whose values are lengths, where the block's G word does not make them something else."""

ARGUMENTS = {
    "A": 1,
    "B": 2,
    "C": 3,
    "I": 4,
    "J": 5,
    "K": 6,
    "D": 7,
    "E": 8,
    "F": 9,
    "H": 11,
    "M": 13,
    "Q": 17,
    "R": 18,
    "S": 19,
    "T": 20,
    "U": 21,
    "V": 22,
    "W": 23,
    "X": 24,
    "Y": 25,
    "Z": 26,
}
"""Parameter that each letter of a G65 call sets."""

WORK_OFFSET_OF = {code: index + 1 for index, code in enumerate(MODAL_GROUPS["work offset"])}


def shown_code(letter: str, value: float) -> str:
    """A word as it is shown: "G1", "G59.1"."""
    return f"{letter}{value:g}"


def unknown_g(value: float) -> bool:
    return value not in GROUP_OF


def double_group(codes: list[float]) -> str | None:
    """The modal group of which a block's G words hold two, or None."""
    seen = set()
    for code in codes:
        group = GROUP_OF.get(code)
        if group is None:
            continue
        if group in seen:
            return group
        seen.add(group)
    return None
