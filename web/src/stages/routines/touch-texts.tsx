/** Where the control can't do the sums: a text for each touch, in their order. */
import { save } from "../../program/save";
import { TextButton } from "../../program/text-button";
import { useRoutine } from "../../touching/which-routine";

export function TouchTexts() {
  const { answer } = useRoutine();
  if (!answer || answer.works_out || !answer.touch_texts.length) return null;
  return (
    <section className="border-b border-rule px-3.5 py-2.5" aria-label="Texts of the touches">
      <b className="font-semibold">A text for each touch</b>
      <p className="text-[13.5px] text-ink-3">
        This control can't do the sums. Run one after the other, note where each touch stood, and enter it under Result:
        the zero is worked out there.
      </p>
      <ol className="mt-1">
        {answer.touch_texts.map((text, index) => (
          <li key={text.file} className="flex min-h-9 items-center justify-between text-[14px]">
            <span>
              {index + 1} {answer.aims[index]?.name}
            </span>
            <TextButton className="link" onClick={() => save(text.file, text.text ?? "")}>
              {text.file}
            </TextButton>
          </li>
        ))}
      </ol>
    </section>
  );
}
