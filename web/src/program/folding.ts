/** Folding in an editor: loops, subprograms and branches, by the margin, by keys, or all at once. */
import { codeFolding, foldEffect, foldedRanges, foldGutter, foldKeymap, foldService } from "@codemirror/language";
import { type EditorState, type Extension, StateField, type Text } from "@codemirror/state";
import { type EditorView, keymap } from "@codemirror/view";
import { type Fold, foldsOf } from "./folds";

/** lines; a longer text is a job, which has none of it */
const MOST_LINES = 20_000;

const ofText = (doc: Text): Fold[] => (doc.lines > MOST_LINES ? [] : foldsOf(doc.toString().split("\n")));

const known = StateField.define<Fold[]>({
  create: (state) => ofText(state.doc),
  update: (folds, transaction) => (transaction.docChanged ? ofText(transaction.newDoc) : folds),
});

/** What a fold hides: from the end of its head to its end. */
const hides = (doc: Text, fold: Fold) => ({ from: doc.line(fold.from).to, to: doc.line(fold.to).to });

export const folding: Extension = [
  known,
  foldService.of((state, from) => {
    const head = state.doc.lineAt(from).number;
    const fold = state.field(known).find((entry) => entry.from === head);
    return fold ? hides(state.doc, fold) : null;
  }),
  codeFolding({
    preparePlaceholder: (state, { from, to }) => state.doc.lineAt(to).number - state.doc.lineAt(from).number,
    placeholderDOM: (_, onclick, lines: number) => {
      const shown = document.createElement("button");
      shown.type = "button";
      shown.className = "cm-folded";
      shown.textContent = `${lines} lines`;
      shown.setAttribute("aria-label", `Unfold ${lines} lines`);
      shown.onclick = onclick;
      return shown;
    },
  }),
  foldGutter({ openText: "▾", closedText: "▸" }),
  keymap.of(foldKeymap),
];

/** Fold all that can be folded. */
export function foldEvery(view: EditorView) {
  const { doc } = view.state;
  view.dispatch({ effects: view.state.field(known).map((fold) => foldEffect.of(hides(doc, fold))) });
}

/** Where a line is seen: at the head of what is folded round it, else at itself. */
export function seenAt(state: EditorState, number: number): number {
  const { from } = state.doc.line(number);
  let seen = from;
  foldedRanges(state).between(from, from, (begins, ends) => {
    if (begins < from && from <= ends) seen = Math.min(seen, begins);
  });
  return state.doc.lineAt(seen).number;
}
