"""The pages of rules are those of the code, and nothing refers to a page that is not there."""

import sys
from pathlib import Path

import pytest
import rules


def test_a_link_or_a_docstring_that_leads_nowhere_is_found(tmp_path: Path) -> None:
    for folder in ("docs", "core", "web/src"):
        (tmp_path / folder).mkdir(parents=True)
    (tmp_path / "docs" / "one.md").write_text("[two](two.md#part) [one](one.md) [far](https://a.example/b.md)")
    (tmp_path / "core" / "part.py").write_text('"""As one.md has it, and lost.md."""')
    assert rules.dangling(tmp_path) == ["docs/one.md: there is no two.md", "core/part.py: there is no page lost.md"]


def test_a_page_that_is_not_current_is_found(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sys, "argv", ["rules.py", "--check"])
    assert rules.main() == 0
    for name in rules.PAGES:
        (tmp_path / name).write_text((rules.RULES / name).read_text())
    (tmp_path / "checks.md").write_text((tmp_path / "checks.md").read_text().replace("stop", "warn", 1))
    monkeypatch.setattr(rules, "RULES", tmp_path)
    assert rules.main() == 1
