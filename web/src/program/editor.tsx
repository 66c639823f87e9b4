/** A program text that is read, searched, marked and changed; beside another one, what differs is shown. */
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { MergeView } from "@codemirror/merge";
import { highlightSelectionMatches, openSearchPanel, search, searchKeymap } from "@codemirror/search";
import { EditorState, type Extension } from "@codemirror/state";
import { EditorView, keymap, lineNumbers } from "@codemirror/view";
import { useEffect, useRef } from "react";
import type { Finding } from "../api/client";
import { type Marks, marking, setMarks } from "./marks";

interface Props {
  text: string;
  /** another text that stands at its left, null: it stands alone */
  beside: string | null;
  marks: Marks;
  label: string;
  readOnly: boolean;
  /** the line that is to be seen, null: the first that something is said of */
  at: { line: number } | null;
  /** how often a search was asked for: it is opened with each */
  find: number;
  onChange: (text: string) => void;
  onChoose: (finding: Finding) => void;
}

const shared: Extension = [
  lineNumbers(),
  EditorView.lineWrapping, // so that a long comment is read whole
  search({ top: true }),
  highlightSelectionMatches(),
  history(),
  keymap.of([...searchKeymap, ...historyKeymap, ...defaultKeymap]),
];

const fixed: Extension = [
  EditorState.readOnly.of(true),
  EditorView.editable.of(false),
  EditorView.contentAttributes.of({ tabindex: "0" }), // what can't be changed is read and searched by keys all the same
];

export default function Editor({ text, beside, marks, label, readOnly, at, find, onChange, onChoose }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const told = useRef({ onChange, onChoose });
  told.current = { onChange, onChoose };
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is typed is the editor's own until another one is opened
  useEffect(() => {
    if (!box.current) return;
    const own: Extension = [
      shared,
      marking((finding) => told.current.onChoose(finding)),
      EditorView.contentAttributes.of({ "aria-label": label }),
      readOnly ? fixed : [],
      EditorView.updateListener.of((update) => update.docChanged && told.current.onChange(update.state.doc.toString())),
    ];
    if (beside === null) {
      const alone = new EditorView({ doc: text, extensions: own, parent: box.current });
      view.current = alone;
      return () => alone.destroy();
    }
    const both = new MergeView({
      a: {
        doc: beside,
        extensions: [shared, fixed, EditorView.contentAttributes.of({ "aria-label": "The other text" })],
      },
      b: { doc: text, extensions: own },
      parent: box.current,
    });
    view.current = both.b;
    return () => both.destroy();
  }, [beside, label, readOnly]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a view that was made anew is marked anew
  useEffect(() => {
    view.current?.dispatch({ effects: setMarks.of(marks) });
  }, [marks, beside, label, readOnly]);
  useEffect(() => {
    if (find && view.current) openSearchPanel(view.current);
  }, [find]);
  const first = at?.line ?? Math.min(...marks.told.keys());
  // biome-ignore lint/correctness/useExhaustiveDependencies: a view that was made anew begins at its top
  useEffect(() => {
    const shown = view.current;
    if (!shown || !Number.isFinite(first) || first < 1 || first > shown.state.doc.lines) return;
    shown.dispatch({ effects: EditorView.scrollIntoView(shown.state.doc.line(first).from, { y: "center" }) });
  }, [first, at, beside, label, readOnly]);
  return <div ref={box} className="program-editor h-full min-h-0 overflow-auto" data-editor />;
}
