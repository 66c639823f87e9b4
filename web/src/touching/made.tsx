/** What was made for a new setter or probe beside it: said in the schedule until it is put away, also where the stage is drawn again. */
import { create } from "zustand";
import { slugNow, useSlug } from "../work/document";

type What = "setter" | "probe";

const useMade = create<{ says: Record<string, string> }>(() => ({ says: {} }));

const key = (what: What) => `${slugNow()} ${what}`;

export const sayMade = (what: What, text: string) =>
  useMade.setState({ says: { ...useMade.getState().says, [key(what)]: text } });

export function Made({ what }: { what: What }) {
  const slug = useSlug();
  const text = useMade((made) => made.says[`${slug} ${what}`]);
  if (!text) return null;
  return (
    <p role="status" className="says understood">
      {text}{" "}
      <button type="button" className="link" onClick={() => sayMade(what, "")}>
        Put it away
      </button>
    </p>
  );
}
