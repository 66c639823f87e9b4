import { EditorView } from "@codemirror/view";
import { expect, it } from "vitest";
import { foldEvery, folding, seenAt } from "./folding";
import { foldsOf } from "./folds";

const TEXT = `%
(an exchange)
IF [#161 EQ 1] GOTO 920
#120 = 0
WHILE [#183 NE 1 AND #120 LT 4] DO1
G4 P0.1 (END1 is further down)
WHILE [#5 LT 2] DO2
#5 = 3
END2
END1
N110
G53 G0 Z0
M99
N920
(MSG, Look at it)
M0
M30
%`.split("\n");

it("folds loops, one in another, and what is jumped to and ends there", () => {
  expect(foldsOf(TEXT)).toEqual([
    { from: 5, to: 10, what: "loop" },
    { from: 7, to: 9, what: "loop" },
    { from: 11, to: 13, what: "branch" },
    { from: 14, to: 17, what: "branch" },
  ]);
});

it("takes no numbered line for a label, and folds subprograms", () => {
  expect(foldsOf(["N10 G0 X1", "N20 G0 X2", "N30 M30"])).toEqual([]);
  expect(foldsOf(["O100", "G0 X1", "G0 X2", "M99"])[0]).toEqual({ from: 1, to: 4, what: "subprogram" });
  expect(foldsOf(["o<touch> sub", "G0 X1", "o<touch> endsub"])[0]).toEqual({ from: 1, to: 3, what: "subprogram" });
  expect(foldsOf(["END1", "WHILE [1] DO1", "M30"])).toEqual([]);
});

it("folds all in an editor, and shows what is folded at its head", () => {
  const view = new EditorView({ doc: TEXT.join("\n"), extensions: folding });
  expect(seenAt(view.state, 8)).toBe(8);
  foldEvery(view);
  expect([5, 8, 10, 11, 12, 17].map((line) => seenAt(view.state, line))).toEqual([5, 5, 5, 11, 11, 14]);
  expect([...view.dom.querySelectorAll(".cm-folded")].map((fold) => fold.textContent)).toEqual([
    "5 lines",
    "2 lines",
    "3 lines",
  ]);
  (view.dom.querySelector(".cm-folded") as HTMLElement).click();
  expect(seenAt(view.state, 10)).toBe(10);
});
