/** What goes with a changer's pockets: those that something else stands in, and the signals of its style. */
import { useState } from "react";
import { Link } from "react-router";
import type { Reserved, Setter } from "../../api/client";
import { heightsOf, pocketCount, pocketSetters, reservedOf, standingIn } from "../../changers/of-changer";
import { QuantityRow, TextRow } from "../../fields/rows";
import { may } from "../../session/session";
import { usePreview, useSetup, useSlug } from "../../work/document";
import { addToSetup, edit } from "../../work/editing";

/** What an exchange switches and asks, by role: which signal it is, or that there is none and it dwells. */
export function StyleSignals() {
  const signals = usePreview((answer) => answer?.uses) ?? [];
  const slug = useSlug();
  if (!signals.length) return null;
  return (
    <>
      <div className="group-title">
        Signals <small>by role</small>
      </div>
      <ul className="px-4 text-[14.5px]" aria-label="Signals by role">
        {signals.map((signal) => (
          <li
            key={`${signal.kind} ${signal.role}`}
            className="grid min-h-7 grid-cols-[1fr_auto] items-center border-b border-rule-2"
          >
            <span className="text-ink-2">{signal.role}</span>
            {signal.name ? (
              <span>
                {signal.name}
                {signal.seconds ? `, ${signal.seconds} s` : ""}
              </span>
            ) : (
              <span className="text-ink-3">{signal.kind === "input" ? "none" : "none, usual words"}</span>
            )}
          </li>
        ))}
      </ul>
      <Link className="link mx-4" to={`/machines/${slug}/signals`}>
        To the signals
      </Link>
    </>
  );
}

export function ReservedPockets() {
  const setup = useSetup();
  const reserved = reservedOf(setup?.changer);
  const standing = standingIn(setup);
  return (
    <>
      <div className="group-title">
        Reserved pockets <small>{standing.size || "none"}</small>
      </div>
      {reserved.map((entry, index) => (
        <div key={entry.pocket}>
          <TextRow label="What" pointer={`/changer/reserved/${index}/what`} />
          <Dimensions at={`/changer/reserved/${index}`} top="top_z" />
          <Free
            pocket={entry.pocket}
            out={() =>
              edit("/changer/reserved", (now: Reserved[]) => now.filter((other) => other.pocket !== entry.pocket))
            }
          />
        </div>
      ))}
      {pocketSetters(setup?.setters).map(([setter, index]) => (
        <div key={setter.name}>
          <TextRow label="Setter" pointer={`/setters/${index}/name`} />
          <Dimensions at={`/setters/${index}`} top="plane_z" />
          <Free
            pocket={setter.pocket}
            out={() => edit("/setters", (now: Setter[]) => now.filter((other) => other.name !== setter.name))}
          />
        </div>
      ))}
      {may("technician") && <Reserving taken={standing} />}
    </>
  );
}

function Dimensions({ at, top }: { at: string; top: "top_z" | "plane_z" }) {
  return (
    <>
      <QuantityRow pointer={`${at}/pocket`} kind="count" />
      <QuantityRow pointer={`${at}/diameter`} kind="length" />
      {top === "top_z" ? (
        <QuantityRow pointer={`${at}/top_z`} kind="length" />
      ) : (
        <>
          <QuantityRow pointer={`${at}/plane_z`} kind="length" />
          <QuantityRow pointer={`${at}/overtravel`} kind="length" />
        </>
      )}
    </>
  );
}

function Free({ pocket, out }: { pocket: number; out: () => Promise<unknown> }) {
  if (!may("technician")) return null;
  return (
    <button type="button" className="link mx-4 mb-1" onClick={() => void out()}>
      Free pocket {pocket}
    </button>
  );
}

/** The last free pocket for a setter, or for something else. */
function Reserving({ taken }: { taken: Map<number, string> }) {
  const setup = useSetup();
  const [trouble, setTrouble] = useState("");
  const input = setup?.inputs.find((entry) => entry.role === "setter");
  const tools = new Set(setup?.tools.map((tool) => tool.pocket));
  const count = pocketCount(setup?.changer);
  const free = Array.from({ length: count }, (_, index) => count - index).find(
    (pocket) => !taken.has(pocket) && !tools.has(pocket),
  );
  const top = heightsOf(setup?.changer)?.stored_top_z ?? 0;
  if (free === undefined) return null;
  const add = async (pointer: string, entry: Record<string, unknown>) => {
    const { faults } = await addToSetup({ what: "entry", body: { where: pointer, entry } });
    setTrouble(faults.map((fault) => fault.what).join(" "));
  };
  const names = new Set(setup?.setters.map((setter) => setter.name));
  const name = names.has("setter") ? `setter ${names.size + 1}` : "setter";
  const setter = { kind: "in a pocket", name, input: input?.number, plane_z: top, overtravel: 4 };
  return (
    <>
      <button
        type="button"
        className="link mx-4 my-1"
        disabled={!input}
        title={input ? undefined : "Add its input on the Signals stage first, with the role setter"}
        onClick={() => void add("/setters", { ...setter, pocket: free, diameter: 30 })}
      >
        Reserve a pocket for a setter
      </button>
      <button
        type="button"
        className="link mx-4 my-1"
        onClick={() => void add("/changer/reserved", { pocket: free, what: "block", diameter: 30, top_z: top })}
      >
        Reserve a pocket for something else
      </button>
      {trouble && <p className="says wrong mx-4">{trouble}</p>}
    </>
  );
}
