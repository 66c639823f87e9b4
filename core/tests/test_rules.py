"""The pages of rules are those of the code, and nothing refers to a page that is not there."""

from pathlib import Path

import pytest
import rules


def test_a_link_or_a_docstring_that_leads_nowhere_is_found(tmp_path: Path) -> None:
    for folder in ("docs", "core", "web/src"):
        (tmp_path / folder).mkdir(parents=True)
    (tmp_path / "docs" / "one.md").write_text("[two](two.md#part) [one](one.md) [far](https://a.example/b.md)")
    (tmp_path / "core" / "part.py").write_text('"""As one.md has it, and lost.md."""')
    assert rules.dangling(tmp_path) == ["docs/one.md: there is no two.md", "core/part.py: there is no page lost.md"]


def test_a_page_that_is_not_current_is_found(tmp_path: Path) -> None:
    rules.write(tmp_path)
    assert rules.stale(tmp_path) == []
    (tmp_path / "checks.md").write_text((tmp_path / "checks.md").read_text().replace("stop", "warn", 1))
    assert [line.split()[0] for line in rules.stale(tmp_path)] == ["checks.md"]


def test_a_check_or_fault_that_no_test_names_is_reported(monkeypatch: pytest.MonkeyPatch) -> None:
    assert rules.untested() == []
    others = {stem: text.replace('"part-low"', '"part-lower"') for stem, text in rules._sources().items()}
    monkeypatch.setattr(rules, "_sources", lambda: others)
    assert rules.untested() == ["part-low is in no test of the core"]
