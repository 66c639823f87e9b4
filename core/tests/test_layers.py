"""What judges the structure rejects what is planted: imports that are not one way, a module without a place, towers of classes, private
members used from outside."""

from pathlib import Path

import kinds
import pytest
from composition import intrusions, towers
from layers import wrong


@pytest.mark.parametrize(
    ("module", "imported", "says"),
    [
        ("work/a.ts", "stages/tools/b.ts", "work/a.ts imports stages/tools/b.ts, which stands above it"),
        ("score/a.tsx", "program/b.ts", "score/a.tsx imports program/b.ts, which stands beside it"),
        (
            "stages/tools/a.ts",
            "stages/setter/b.ts",
            "stages/tools/a.ts imports stages/setter/b.ts, which stands beside",
        ),
        ("stages/tools/a.ts", "shell/b.ts", "which stands above it"),
        ("cellar/a.ts", "api/b.ts", "cellar/a.ts is in no layer"),
        ("stages/tools/a.ts", "work/b.ts", ""),
        ("stages/tools/a.ts", "stages/tools/kinds/b.ts", ""),
    ],
)
@pytest.mark.parametrize(
    "how", ['import { b } from "%s";', 'import type { B } from "%s";', 'const b = () => import("%s");']
)
def test_an_import_that_is_not_one_way_is_reported(
    tmp_path: Path, module: str, imported: str, says: str, how: str
) -> None:
    for name in (module, imported):
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
    (tmp_path / imported).write_text("export const b = 1;\n")
    up = "../" * module.count("/")
    (tmp_path / module).write_text(how % f"{up}{imported.removesuffix('.ts')}" + "\n")
    found = wrong(tmp_path)
    assert [bool(says) and says in entry for entry in found] == ([True] if says else []), found


def test_a_circle_of_values_is_reported_and_one_of_types_is_not(tmp_path: Path) -> None:
    (tmp_path / "work").mkdir()
    (tmp_path / "work/a.ts").write_text('import {\n  b,\n  c,\n} from "./b";\n')
    (tmp_path / "work/b.ts").write_text('import type { A } from "./a";\n')
    assert wrong(tmp_path) == []
    (tmp_path / "work/b.ts").write_text('export { a } from "./a";\n')
    assert wrong(tmp_path) == ["work/a.ts -> work/b.ts -> work/a.ts"]


def test_a_tower_of_classes_and_a_part_that_reaches_into_another_are_reported(tmp_path: Path) -> None:
    for folder in ("core/orthotrope/machine", "practice/tests"):
        (tmp_path / folder).mkdir(parents=True)
    (tmp_path / "core/orthotrope/machine/a.py").write_text(
        "class Acts(ABC): ...\nclass One(Acts):\n    def _own(self, other: 'One') -> None: other._own(self)\nclass Two(One): ...\n"
    )
    assert [*towers(tmp_path), *intrusions(tmp_path)] == []
    (tmp_path / "practice/b.py").write_text("class Three(machine.Two): ...\ndef use(one): one._own(one)\n")
    assert [*towers(tmp_path)] == ["Three inherits 2 levels"]
    assert [*intrusions(tmp_path)] == ["practice/b.py:2 uses _own"]


def test_a_kind_that_is_named_outside_its_folders_is_reported(tmp_path: Path) -> None:
    for place, text in (
        ("core/orthotrope/kinds/a/model.py", 'style: "drop-in"'),
        ("core/orthotrope/proof/b.py", "x = 1\nif style == 'drop-in': ..."),
        ("web/src/shell/c.tsx", 'kind === "bore pattern"'),
        ("web/src/routines/bore-pattern/index.ts", 'kind: "bore pattern"'),
        ("web/src/quantity/d.ts", 'kind === "angle"'),
    ):
        (tmp_path / place).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / place).write_text(text)
    assert [*kinds.wrong(tmp_path, {"drop-in", "bore", "bore pattern", "angle"})] == [
        'core/orthotrope/proof/b.py:2 names the kind "drop-in"',
        'web/src/shell/c.tsx:1 names the kind "bore pattern"',
    ]
