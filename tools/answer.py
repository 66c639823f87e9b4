"""Prints what the server answers for the demo machine (exchange T2 to T9), for the tests of the interface to draw."""

import json
import os
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "server"))
data = tempfile.TemporaryDirectory()
os.environ["ORTHOTROPE_DATA"] = data.name
os.environ["DJANGO_SETTINGS_MODULE"] = "config.settings"

import django

django.setup()

from shop.answers import answer
from shop.schemas import AnswerOut

document = json.loads((ROOT / "demo" / "setups" / "heron.json").read_text(encoding="utf-8"))
low = json.loads(json.dumps(document))
low["changer"]["heights"]["stored_top_z"] = -140.0
answers = {name: AnswerOut(**answer(setup, 2, 9, None)).model_dump() for name, setup in (("clean", document), ("contact", low))}
for stage in ("machine", "signals"):
    answers[stage] = AnswerOut(**answer(document, None, None, None, stage)).model_dump()
json.dump({"document": document, **answers}, sys.stdout)
