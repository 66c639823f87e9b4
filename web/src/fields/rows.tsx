/** The rows of a schedule: quantities that can be edited, and derived ones whose working opens under them. */
import { useId, useState } from "react";
import type { Derivation, Fault, Kind } from "../api/client";
import { kindOf, shown, unitOf } from "../quantity/format";
import { when } from "../quantity/when";
import { readingOf, useReadings } from "../readings/readings";
import { may } from "../session/session";
import { usePreview, useSetup, useSlug } from "../work/document";
import { edit } from "../work/editing";
import { known } from "../work/known";
import { read } from "../work/pointer";
import { setFocus, useSelection } from "../work/selection";
import { useAgain } from "./again";
import { useIsPlanned } from "./not-entered";
import { QuantityInput } from "./quantity-input";
import { SecondEntry } from "./second-entry";
import { TextInput } from "./text-input";

/** The sentences of faults; "" where there are none. */
export const described = (faults: Fault[]) => faults.map((fault) => fault.what).join(" ");

export function useUnit() {
  return useSetup((setup) => setup?.machine.unit ?? "mm");
}

/** `label`: where it stands beside others of its name; `twice`: what is typed must be typed again before it is taken. */
export function QuantityRow(props: { label?: string; pointer: string; kind: Kind; twice?: boolean }) {
  const { pointer, kind } = props;
  const label = props.label ?? known(pointer)?.name ?? "";
  const id = useId();
  const unit = useUnit();
  const value = useSetup((setup) => read(setup, pointer)) as number | undefined;
  const focused = useSelection((work) => work.focus === pointer);
  const [says, setSays] = useState<{ text: string; wrong: boolean } | null>(null);
  const slug = useSlug();
  const waits = useAgain((again) => again.pointer === pointer && again.slug === slug);
  const canEdit = may("technician");
  if (value === undefined || value === null) return null;
  const take = async (next: number) =>
    props.twice && next !== value ? useAgain.getState().ask(pointer, next) : edit(pointer, next);
  return (
    <>
      <div className={`row ${focused ? "focused" : ""}`} title={known(pointer)?.what} data-quantity={pointer}>
        <label htmlFor={id}>{label}</label>
        <QuantityInput
          id={id}
          label={label}
          value={value}
          kind={kind}
          unit={unit}
          pointer={pointer}
          readOnly={!canEdit}
          onFocus={() => setFocus(pointer)}
          onCommit={take}
          onSays={setSays}
        />
        <span className="unit">{unitOf(kind, unit)}</span>
      </div>
      {waits && <SecondEntry label={label} pointer={pointer} kind={kind} />}
      {says ? (
        <p className={`says ${says.wrong ? "wrong" : "understood"}`} role={says.wrong ? "alert" : undefined}>
          {says.text}
        </p>
      ) : (
        focused && <Help pointer={pointer} />
      )}
      {focused && <Confirm pointer={pointer} value={value} />}
    </>
  );
}

/** Says that nobody has entered the number yet, and takes it as it is. */
function Confirm({ pointer, value }: { pointer: string; value: number }) {
  const planned = useIsPlanned(pointer);
  if (!planned) return null;
  return (
    <p className="says understood">
      Nobody has entered this number yet.{" "}
      {may("technician") && (
        <button type="button" className="link" onClick={() => void edit(pointer, value)}>
          It is right
        </button>
      )}
    </p>
  );
}

/** What the quantity in focus is; on demand how it is found and what is usual. */
export function Help({ pointer }: { pointer: string }) {
  const found = known(pointer);
  const more = [found?.how ?? "", found?.usual ? `Usual: ${found.usual}.` : ""].filter(Boolean);
  if (!found) return null;
  if (!more.length) return <p className="says understood">{found.what}</p>;
  return (
    <details
      className="says understood help"
      onToggle={(event) => event.currentTarget.scrollIntoView?.({ block: "nearest" })}
    >
      <summary title="How it is found, and what is usual">{found.what}</summary>
      {more.map((line) => (
        <p key={line}>{line}</p>
      ))}
    </details>
  );
}

/** One of several; with `numbers` the choices stand for numbers. */
export function ChoiceRow(props: { label: string; pointer: string; choices: [string, string][]; numbers?: boolean }) {
  const id = useId();
  const value = useSetup((setup) => read(setup, props.pointer)) as string;
  const [trouble, setTrouble] = useState<string | null>(null);
  return (
    <>
      <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
        <label htmlFor={id}>{props.label}</label>
        <select
          id={id}
          className="choice"
          value={value}
          disabled={!may("technician")}
          onChange={async (event) => {
            const chosen = event.currentTarget.value;
            const faults = await edit(props.pointer, props.numbers ? Number(chosen) : chosen);
            setTrouble(faults.map((fault) => fault.what).join(" ") || null);
          }}
        >
          {props.choices.map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </select>
      </div>
      {trouble && <p className="says wrong">{trouble}</p>}
    </>
  );
}

export function TextRow(props: { label: string; pointer: string; short?: boolean; narrow?: boolean }) {
  const { label, pointer, short, narrow } = props;
  const id = useId();
  const value = useSetup((setup) => read(setup, pointer)) as string;
  const [trouble, setTrouble] = useState("");
  return (
    <>
      <div
        className="row"
        style={{
          gridTemplateColumns: short
            ? "1fr 92px 48px"
            : narrow
              ? "auto minmax(0,1fr) 10px"
              : "minmax(max-content,1fr) minmax(0,220px) 10px",
        }}
      >
        <label htmlFor={id}>{label}</label>
        <TextInput
          id={id}
          readOnly={!may("technician")}
          value={value}
          onTake={async (text) => described(await edit(pointer, text))}
          onSays={setTrouble}
        />
      </div>
      {trouble && <p className="says wrong">{trouble}</p>}
    </>
  );
}

export function YesNoRow({ label, pointer }: { label: string; pointer: string }) {
  const id = useId();
  const value = useSetup((setup) => read(setup, pointer)) as boolean;
  return (
    <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
      <label htmlFor={id}>{label}</label>
      <select
        id={id}
        className="choice"
        value={value ? "yes" : "no"}
        disabled={!may("technician")}
        onChange={(event) => void edit(pointer, event.currentTarget.value === "yes")}
      >
        <option>yes</option>
        <option>no</option>
      </select>
    </div>
  );
}

interface DerivedProps {
  name: string;
  label?: string;
  warn?: boolean;
  sign?: boolean;
}

export function DerivedRow(props: DerivedProps) {
  const working = usePreview(
    (answer) => answer?.derived?.workings[props.name] ?? answer?.machine?.workings[props.name],
  );
  return working ? <DerivationRow {...props} working={working} /> : null;
}

/** A derived quantity, whose working opens under it. */
export function DerivationRow(props: DerivedProps & { working: Derivation }) {
  const unit = useUnit();
  const { working } = props;
  const [open, setOpen] = useState(false);
  const kind = kindOf(working.unit);
  const value = working.value === null ? "none" : shown(working.value, kind, unit);
  const text = props.sign && working.value && working.value > 0 ? `+${value}` : value;
  return (
    <>
      <div className="row">
        <button
          type="button"
          className="derived"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          title="How it is worked out"
        >
          {props.label ?? working.name}
          <span aria-hidden className="pl-1 text-ink-3">
            {open ? "▾" : "▸"}
          </span>
        </button>
        <output className={props.warn ? "font-semibold text-warn" : ""} data-derived={props.name}>
          {working.unit === "" && working.value !== null ? working.value.toFixed(2) : text}
        </output>
        <span className="unit">{unitOf(kind, unit)}</span>
      </div>
      {open && <DerivationBox working={working} />}
    </>
  );
}

export function DerivationBox({ working }: { working: Derivation }) {
  const unit = useUnit();
  const document = useSetup();
  const list = useReadings();
  return (
    <div className="working">
      <div>
        {working.name} = {working.formula}
      </div>
      {working.terms.map((term) => {
        const kind = kindOf(term.unit);
        const figure = (
          <b>
            {shown(term.value, kind, unit, true)} {unitOf(kind, unit)}
          </b>
        );
        const from = term.where ? readingOf(list, term.where, read(document, term.where)) : null;
        return (
          <div key={term.name}>
            {term.where ? (
              <button type="button" className="link" onClick={() => setFocus(term.where)}>
                {term.name}
              </button>
            ) : (
              term.name
            )}{" "}
            {figure}
            {from && (
              <span>
                , reading of {when(from.taken)} by {from.author}
              </span>
            )}
          </div>
        );
      })}
      <div>{working.rounding}</div>
    </div>
  );
}
