"""Messages and screens keep to docs/words.md: none of the words that it names as not ours."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
NOT_OURS = re.compile(
    r"\b(nought|told|cure[sd]?|believe[sd]?|beliefs?|anew|befalls?|mend(ed)?|come(s)? to an end|as it should go|taken? over|bring in|brought|not heard of|is wanted)\b",
    re.IGNORECASE,
)


def said_in_python(file: Path) -> Iterator[str]:
    """The strings of a module that are no docstrings."""
    tree = ast.parse(file.read_text(encoding="utf-8"))
    bare = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    for node in ast.walk(tree):
        if (
            isinstance(node, ast.Constant)
            and isinstance(node.value, str)
            and id(node) not in bare
            and " " in node.value
        ):
            yield node.value


def said_in_web(file: Path) -> Iterator[str]:
    """What stands in quotes or between tags of a module, with a blank in it, without its comments."""
    text = re.sub(r"/\*.*?\*/|//[^\n\"]*$", "", file.read_text(encoding="utf-8"), flags=re.DOTALL | re.MULTILINE)
    yield from (
        re.sub(r"\$\{[^}]*\}", "", said)
        for said in re.findall(r"\"[^\"\n]+\"|`[^`]+`|>[^<>{}=;]+<", text)
        if " " in said.strip()
    )


@pytest.mark.parametrize("where", ["core/orthotrope", "server/shop", "practice", "web/src"])
def test_messages_keep_to_the_words_of_the_page(where: str) -> None:
    found = []
    for pattern, said in (("*.py", said_in_python), ("*.ts*", said_in_web)):
        for file in (ROOT / where).rglob(pattern):
            if {"tests", "generated", "migrations"} & set(file.parts) or ".test." in file.name:
                continue
            found += [f"{file.name}: {text.strip()[:90]}" for text in said(file) if NOT_OURS.search(text)]
    assert not found
