import { Text } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import { describe, expect, it } from "vitest";
import type { Finding } from "../api/client";
import { folding } from "./folding";
import { byLine, decorated, marking, NO_MARKS, setMarks } from "./marks";

const finding = (line: number | null, severity: Finding["severity"] = "stop", message = "It is wrong."): Finding =>
  ({ check: "offset-off", severity, message, line, at_seconds: null }) as unknown as Finding;

const doc = Text.of(["%", "G21", "G91 G38.3 X5 F60", "G10 L2 P1 X0", "M30"]);

/** What is laid over a text: where, and of which kind. */
function laid(marks: Partial<typeof NO_MARKS>) {
  const found: [number, string][] = [];
  const set = decorated(doc, { ...NO_MARKS, ...marks }, () => {});
  for (const at = set.iter(); at.value; at.next())
    found.push([doc.lineAt(at.from).number, at.value.spec.class ?? (at.value.spec.block ? "reported" : "")]);
  return found;
}

describe("the marks of a text", () => {
  it("stand at their line, the worst telling its colour, and what is said below it", () => {
    const reported = byLine([finding(4), finding(4, "note", "Once more."), finding(3, "warn")]);
    expect(laid({ reported })).toEqual([
      [3, "cm-line-warn"],
      [3, "reported"],
      [4, "cm-line-stop"],
      [4, "reported"],
    ]);
    expect(reported.get(4)).toHaveLength(2);
  });

  it("have the line of the moment, alone or with what is said of it, until another is set", () => {
    const view = new EditorView({ doc, extensions: [folding, marking(() => {})] });
    const shown = () => [...view.dom.querySelectorAll(".cm-now")].map((line) => line.className);
    view.dispatch({ effects: setMarks.of({ ...NO_MARKS, line: 3, reported: byLine([finding(3)]) }) });
    expect(shown()).toEqual([expect.stringContaining("cm-line-stop")]);
    view.dispatch({ effects: setMarks.of({ ...NO_MARKS, line: 9 }) });
    expect(shown()).toEqual([]);
  });

  it("leave out what is said of no line, or of one that is not there any more", () => {
    const reported = byLine([finding(null), finding(9)]);
    expect(reported.get(0)).toHaveLength(1);
    expect(laid({ reported, line: 0 })).toEqual([]);
  });
});
