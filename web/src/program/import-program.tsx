/** A program of the user's own: opened from a file, or pasted. */
import { useRef, useState } from "react";
import { may } from "../session/session";

const MB = 1024 * 1024;

const MOST = 5;
/** MB that a program may have where nothing else is said */

interface Props {
  /** what the button says */
  label: string;
  /** whether it may be pasted as well */
  paste?: boolean;
  /** MB that it may have */
  most?: number;
  onImport: (imported: { file: string; text: string }) => void;
}

export function ImportProgram({ label, paste, most = MOST, onImport }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState(false);
  const [said, setSaid] = useState("");
  const tooLong = (file: string, size: number) =>
    setSaid(`${file} has ${(size / MB).toFixed(1)} MB; at most ${most} MB are taken here.`);
  const take = (file: string, text: string) => {
    if (text.length > most * MB) return tooLong(file, text.length);
    if (!text.trim()) {
      setSaid("There is no text.");
      return;
    }
    setSaid("");
    setOpen(false);
    onImport({ file, text });
  };
  return (
    <>
      <p className="flex flex-wrap gap-2">
        <button
          type="button"
          className="button plain mt-1"
          disabled={!may("technician")}
          onClick={() => input.current?.click()}
        >
          {label}
        </button>
        {paste && (
          <button type="button" className="button plain mt-1" onClick={() => setOpen(!open)} aria-expanded={open}>
            Paste
          </button>
        )}
      </p>
      <input
        ref={input}
        type="file"
        className="hidden"
        aria-label="Program to be proven"
        onChange={async (event) => {
          const file = event.currentTarget.files?.[0];
          event.currentTarget.value = "";
          if (!file) return;
          if (file.size > most * MB) tooLong(file.name, file.size);
          else take(file.name, await file.text());
        }}
      />
      {open && <Box onTake={(text) => take("pasted.nc", text)} />}
      {said && (
        <p role="alert" className="text-stop">
          {said}
        </p>
      )}
    </>
  );
}

function Box({ onTake }: { onTake: (text: string) => void }) {
  const [text, setText] = useState("");
  return (
    <>
      <textarea
        className="mt-1 h-28 w-full border border-rule bg-raise p-1 font-mono text-[13px]"
        aria-label="Text of the program"
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
      />
      <button type="button" className="button" onClick={() => onTake(text)}>
        Review it
      </button>
    </>
  );
}
