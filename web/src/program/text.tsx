/** A program text that is only read: searched, folded, with its marks. */
import { lazy, Suspense } from "react";
import type { Finding } from "../api/client";
import { type Marks, NO_MARKS } from "./marks";

const Editor = lazy(() => import("./editor"));

interface Props {
  text: string;
  marks?: Marks;
  folded?: boolean | null;
  onLine?: (line: number) => void;
  onChoose?: (finding: Finding) => void;
}

/** As it stands on paper: whole, since an editor draws only what is in sight. */
const numbered = (text: string) =>
  text
    .trimEnd()
    .split("\n")
    .map((line, index) => `${String(index + 1).padStart(4)}  ${line}`)
    .join("\n");

export function ProgramText({ text, marks = NO_MARKS, folded = null, onLine, onChoose = () => {} }: Props) {
  return (
    <>
      <div className="no-print h-full">
        <Suspense fallback={<p className="p-4 text-ink-2">Opening the text.</p>}>
          <Editor
            text={text.replace(/\n$/, "")}
            beside={null}
            marks={marks}
            label="Program text"
            readOnly
            at={null}
            follows
            folded={folded}
            onLine={onLine}
            onChoose={onChoose}
          />
        </Suspense>
      </div>
      <pre className="only-print">{numbered(text)}</pre>
    </>
  );
}
