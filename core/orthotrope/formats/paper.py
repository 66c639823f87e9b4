"""What our sheets on paper share: the page, its margins and its fonts."""

from functools import cache
from pathlib import Path

import reportlab
from reportlab.lib.pagesizes import A4
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

WIDTH, HEIGHT = float(A4[0]), float(A4[1])
EDGE = 42.0
"""Points; what is left free around."""

PLAIN, BOLD = "Vera", "VeraBd"


@cache
def fonts() -> None:
    """The fonts that come with reportlab: they have the signs that its built-in ones lack."""
    folder = Path(reportlab.__file__).parent / "fonts"
    for name in (PLAIN, BOLD):
        pdfmetrics.registerFont(TTFont(name, str(folder / f"{name}.ttf")))
