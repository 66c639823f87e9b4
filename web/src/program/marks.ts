/** What stands in a text beside its words: what the checks say of a line, its seconds, the line of the moment. */
import {
  type EditorState,
  type Extension,
  RangeSetBuilder,
  StateEffect,
  StateField,
  type Text,
} from "@codemirror/state";
import { Decoration, type DecorationSet, EditorView, GutterMarker, gutter, WidgetType } from "@codemirror/view";
import type { Finding } from "../api/client";
import { seenAt } from "./folding";

export interface Marks {
  /** what is said of a line, by its number from 1; 0: of the whole text */
  reported: Map<number, Finding[]>;
  /** the line of the block that is looked at, 0: none */
  line: number;
  /** the seconds that each line takes, all its turns together */
  seconds: Map<number, number>;
}

export const NO_MARKS: Marks = { reported: new Map(), line: 0, seconds: new Map() };

/** What the checks say, by line. */
export function byLine(findings: Finding[]): Map<number, Finding[]> {
  const found = new Map<number, Finding[]>();
  for (const finding of findings) {
    const line = finding.line ?? 0;
    found.set(line, [...(found.get(line) ?? []), finding]);
  }
  return found;
}

export const setMarks = StateEffect.define<Marks>();

class FindingRows extends WidgetType {
  constructor(
    private findings: Finding[],
    private onChoose: (finding: Finding) => void,
  ) {
    super();
  }

  override eq(other: FindingRows) {
    return other.findings === this.findings;
  }

  toDOM() {
    const box = document.createElement("div");
    box.className = "cm-reported";
    for (const finding of this.findings) {
      const row = document.createElement("button");
      row.type = "button";
      row.dataset.check = finding.check;
      row.className = `cm-reported-${finding.severity}`;
      row.textContent = finding.message;
      row.onclick = () => this.onChoose(finding);
      box.append(row);
    }
    return box;
  }

  override ignoreEvent() {
    return true;
  }
}

/** The decorations of a text: each line that something is said of, with what is said below it. */
export function decorated(doc: Text, marks: Marks, onChoose: (finding: Finding) => void): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>();
  const numbers = [...marks.reported.keys()].filter((n) => n >= 1 && n <= doc.lines);
  for (const number of numbers.sort((a, b) => a - b)) {
    const line = doc.line(number);
    const findings = marks.reported.get(number) ?? [];
    const worst = findings.some((entry) => entry.severity === "stop") ? "stop" : "warn";
    builder.add(line.from, line.from, Decoration.line({ class: `cm-line-${worst}` }));
    builder.add(
      line.to,
      line.to,
      Decoration.widget({ widget: new FindingRows(findings, onChoose), block: true, side: 1 }),
    );
  }
  return builder.finish();
}

const now = Decoration.line({ class: "cm-now" });

/** The line of the moment; what is folded is marked at its head. */
function marked(state: EditorState, line: number): DecorationSet {
  if (line < 1 || line > state.doc.lines) return Decoration.none;
  return Decoration.set(now.range(state.doc.line(seenAt(state, line)).from));
}

class Seconds extends GutterMarker {
  constructor(private seconds: number) {
    super();
  }

  override eq(other: Seconds) {
    return other.seconds === this.seconds;
  }

  override toDOM() {
    return document.createTextNode(this.seconds.toFixed(1));
  }
}

/** An editor's marks, which are set by the effect `setMarks`. */
export function marking(onChoose: (finding: Finding) => void): Extension {
  const field = StateField.define<{ marks: Marks; shown: DecorationSet }>({
    create: () => ({ marks: NO_MARKS, shown: Decoration.none }),
    update(value, transaction) {
      for (const effect of transaction.effects)
        if (effect.is(setMarks))
          return { marks: effect.value, shown: decorated(transaction.newDoc, effect.value, onChoose) };
      return transaction.docChanged ? { ...value, shown: value.shown.map(transaction.changes) } : value;
    },
    provide: (own) => EditorView.decorations.from(own, (value) => value.shown),
  });
  const seconds = gutter({
    class: "cm-seconds",
    lineMarker(view, block) {
      const took = view.state.field(field).marks.seconds.get(view.state.doc.lineAt(block.from).number) ?? 0;
      return took >= 0.05 ? new Seconds(took) : null;
    },
    lineMarkerChange: (update) => update.transactions.some((part) => part.effects.some((e) => e.is(setMarks))),
  });
  const moment = EditorView.decorations.of((view) => marked(view.state, view.state.field(field).marks.line));
  return [field, seconds, moment];
}
