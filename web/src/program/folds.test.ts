import { expect, it } from "vitest";
import { foldsOf, hiddenBy } from "./folds";

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

it("hides what is in a closed fold and leaves its head", () => {
  const hidden = hiddenBy(foldsOf(TEXT), new Set([5, 14]));
  expect([...hidden]).toEqual([6, 7, 8, 9, 10, 15, 16, 17]);
});
