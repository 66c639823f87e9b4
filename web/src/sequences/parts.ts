/** Tools in the address of a sequence. */
import type { Setup } from "../api/client";

export const named = (tool: number) => (tool ? `T${tool}` : "empty");

/** The tool that a part of an address names; one that is not there any more is `gone`, and `otherwise` is taken. */
export const toolIn = (document: Setup | null, gone: (what: string) => void) => {
  const there = new Set([0, ...(document?.tools.map((tool) => tool.number) ?? [])]);
  return (text: string | null | undefined, otherwise: number): number => {
    if (text && there.has(Number(text))) return Number(text);
    if (text) gone(`T${text}`);
    return otherwise;
  };
};
