/** A program text that is read, searched, folded, marked and changed; beside another one, what differs is shown. */
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { unfoldAll } from "@codemirror/language";
import { MergeView } from "@codemirror/merge";
import { highlightSelectionMatches, openSearchPanel, search, searchKeymap } from "@codemirror/search";
import { EditorState, type Extension, type StateEffect } from "@codemirror/state";
import { EditorView, keymap, lineNumbers } from "@codemirror/view";
import { useEffect, useRef } from "react";
import type { Finding } from "../api/client";
import { colours, coloursOfRead } from "./colours";
import { foldEvery, folding, seenAt } from "./folding";
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
  /** whether the line of the moment is kept in sight */
  follows?: boolean;
  /** how often a search was asked for: it is opened with each */
  find?: number;
  /** all that can be folded is, or nothing any more; null: each as it was left */
  folded?: boolean | null;
  onChange?: (text: string) => void;
  onChoose: (finding: Finding) => void;
  /** a line was pressed */
  onLine?: (line: number) => void;
}

const shared: Extension = [
  lineNumbers(),
  EditorView.lineWrapping, // so that a long comment is read whole
  search({ top: true }),
  highlightSelectionMatches(),
  folding,
  keymap.of(searchKeymap),
];

const typed: Extension = [colours, history(), keymap.of([...historyKeymap, ...defaultKeymap])];

const fixed: Extension = [
  EditorState.readOnly.of(true),
  EditorView.editable.of(false),
  coloursOfRead,
  EditorView.contentAttributes.of({ tabindex: "0" }), // what can't be changed is read and searched by keys all the same
];

/** What has to be exchanged for a text to become another one. */
function exchanged(before: string, after: string) {
  let same = 0;
  while (same < before.length && before[same] === after[same]) same += 1;
  let alike = 0;
  const most = Math.min(before.length, after.length) - same;
  while (alike < most && before.at(-1 - alike) === after.at(-1 - alike)) alike += 1;
  return { from: same, to: before.length - alike, insert: after.slice(same, after.length - alike) };
}

export default function Editor(props: Props) {
  const { text, beside, marks, label, readOnly, at, follows = false, find = 0, folded = null } = props;
  const box = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  /** what the view was given; asking it for its text costs a copy of it */
  const given = useRef(text);
  const reported = useRef(props);
  reported.current = props;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is typed is the editor's own until another one is opened
  useEffect(() => {
    if (!box.current) return;
    given.current = text;
    const own: Extension = [
      shared,
      marking((finding) => reported.current.onChoose(finding)),
      EditorView.contentAttributes.of({ "aria-label": label }),
      readOnly ? fixed : typed,
      EditorView.updateListener.of(
        (update) => !readOnly && update.docChanged && reported.current.onChange?.(update.state.doc.toString()),
      ),
      EditorView.domEventHandlers({
        click(event, own) {
          const pressed = (event.target as Element).closest?.(".cm-line") ? own.posAtCoords(event) : null;
          if (pressed !== null) reported.current.onLine?.(own.state.doc.lineAt(pressed).number);
        },
      }),
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
  useEffect(() => {
    const [shown, before] = [view.current, given.current];
    if (!readOnly || !shown || before === text) return;
    given.current = text;
    const whole = { from: 0, to: shown.state.doc.length, insert: text };
    shown.dispatch({ changes: before.includes("\r") ? whole : exchanged(before, text) }); // an editor has one kind of line end
  }, [text, readOnly]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a view that was made anew is marked anew
  useEffect(() => {
    const shown = view.current;
    if (!shown) return;
    const seen = follows && marks.line >= 1 && marks.line <= shown.state.doc.lines;
    const effects: StateEffect<unknown>[] = [setMarks.of(marks)];
    if (seen) {
      const head = shown.state.doc.line(seenAt(shown.state, marks.line));
      effects.push(EditorView.scrollIntoView(head.from, { y: "nearest", yMargin: 24 }));
    }
    shown.dispatch({ effects });
  }, [marks, follows, text, beside, label, readOnly]);
  useEffect(() => {
    if (view.current && folded !== null) (folded ? foldEvery : unfoldAll)(view.current);
  }, [folded]);
  useEffect(() => {
    if (find && view.current) openSearchPanel(view.current);
  }, [find]);
  const first = at?.line ?? (follows ? Number.NaN : Math.min(...marks.reported.keys()));
  // biome-ignore lint/correctness/useExhaustiveDependencies: a view that was made anew begins at its top
  useEffect(() => {
    const shown = view.current;
    if (!shown || !Number.isFinite(first) || first < 1 || first > shown.state.doc.lines) return;
    shown.dispatch({ effects: EditorView.scrollIntoView(shown.state.doc.line(first).from, { y: "center" }) });
  }, [first, at, beside, label, readOnly]);
  return (
    <div ref={box} className={`program-editor h-full min-h-0 overflow-auto ${follows ? "small" : ""}`} data-editor />
  );
}
