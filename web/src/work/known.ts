/** What a quantity is called, what it is and how it is found: the core's own words, by the quantity's pointer. */
import type { Vocabulary } from "../api/client";
import { useDocument } from "./document";
import { parts } from "./pointer";
import { useVocabulary } from "./vocabulary";

export type Known = Vocabulary["quantities"][string];

/** The longest end of the pointer that has a name; a list's entry stands for all of them, by its place or by its key. */
export function knownOf(
  pointer: string,
  { quantities, keys, unkeyed }: Pick<Vocabulary, "quantities" | "keys" | "unkeyed">,
): Known | null {
  const way = parts(pointer);
  const ends = way.map((part, index) => {
    const list = way[index - 1] ?? "";
    return list in keys || unkeyed.includes(list) ? "*" : part;
  });
  for (let first = 0; first < ends.length; first++) {
    const found = quantities[ends.slice(first).join("/")];
    if (found) return found;
  }
  return null;
}

/** The same with the style's own word for one of its heights. */
export function known(pointer: string): Known | null {
  const words = useVocabulary.getState();
  const found = knownOf(pointer, words);
  const style = useDocument.getState().document?.changer?.style;
  const own =
    pointer.startsWith("/changer/heights/") && style && words.styles[style]?.words[pointer.split("/")[3] ?? ""];
  return found && own ? { ...found, name: own } : found;
}

/** Of whom it is: a tool, an axis, an entry by its name; "" where there is one only. */
export function ownerOf(pointer: string): string {
  const [section = "", first = "", second = ""] = parts(pointer);
  if (section === "tools") return `T${first}`;
  if (first === "axes") return second;
  if (section === "inputs" || section === "outputs") return `${section.slice(0, -1)} ${first}`;
  if (section === "work_offsets") return `work offset ${first}`;
  return section in useVocabulary.getState().keys ? first : "";
}
