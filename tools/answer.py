"""Prints what the server answers for the demo machine (exchange T2 to T9), for the tests of the interface to draw."""

import json
import os
import sys
import tempfile
from dataclasses import asdict
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "server"))
data = tempfile.TemporaryDirectory()
os.environ["ORTHOTROPE_DATA"] = data.name
os.environ["DJANGO_SETTINGS_MODULE"] = "config.settings"

import django

django.setup()

from shop.reference.vocabulary import vocabulary
from shop.stages.jobs import answer
from shop.stages.registry import StageRequest

document = json.loads((ROOT / "demo" / "setups" / "heron.json").read_text(encoding="utf-8"))
low = json.loads(json.dumps(document))
low["changer"]["heights"]["stored_top_z"] = -140.0
answers = {
    name: answer(setup, asked=StageRequest(2, 9)).model_dump(mode="json")
    for name, setup in (("clean", document), ("contact", low))
}
taught = json.loads(json.dumps(document))
places = {1: (128.86, 1188.17), 3: (245.62, 1187.82), 6: (420.7, 1187.27), 8: (573.4, 1186.92), 10: (654.1, 1186.52)}
taught["changer"]["rack"]["taught"] = [{"pocket": n, "x": x, "y": y, "z": None} for n, (x, y) in places.items()]
answers["taught"] = answer(taught, asked=StageRequest(2, 9)).model_dump(mode="json")
for stage in ("machine", "signals", "measuring"):
    answers[stage] = answer(document, stage).model_dump(mode="json")
others = {}
for name in ("curlew", "plover", "godwit", "knot"):
    other = json.loads((ROOT / "demo" / "setups" / f"{name}.json").read_text(encoding="utf-8"))
    others[name] = {"document": other, "answer": answer(other, asked=StageRequest(1, 2)).model_dump(mode="json")}
curlew = others["curlew"]["document"]
for name, asked in (
    ("probing", StageRequest(routine="frame corner")),
    ("touches", StageRequest(routine="glazing slot", profile="plain words")),
):
    answers[name] = answer(curlew, "probing", asked).model_dump(mode="json")
under = answer(document, asked=StageRequest(2, 9, fault="pocket-full")).model_dump(mode="json")
words = asdict(vocabulary())
json.dump({"under": under, "words": words, "others": others, "document": document, **answers}, sys.stdout)
