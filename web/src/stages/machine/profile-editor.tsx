/** Control profiles: what a control can do, as data; a sample program is written as one edits, and read back. */
import { Copy, Download, Trash2, Upload } from "lucide-react";
import { type ReactNode, useId, useRef, useState } from "react";
import { type ControlProfile, client } from "../../api/client";
import { useAnswer } from "../../api/query";
import { TextInput } from "../../fields/text-input";
import { plainNumber } from "../../fields/understand";
import { useProfiles } from "../../program/profiles";
import { save } from "../../program/save";
import { ProgramText } from "../../program/text";
import { may } from "../../session/session";
import { setupNow, useSetup } from "../../work/document";
import { edit } from "../../work/editing";
import { type Field, GROUPS, PARAMETERS } from "./profile-fields";

export function ProfileEditor() {
  const profiles = useProfiles();
  const used = useSetup((setup) => setup?.machine.profile) ?? "";
  const [name, setName] = useState(used);
  const profile = profiles.find((entry) => entry.name === name) ?? profiles.find((entry) => entry.name === used);
  if (!profile) return <p className="bg-sheet p-4 text-ink-3">…</p>;
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(300px,1fr)_minmax(260px,1fr)] bg-sheet">
      <div className="min-h-0 overflow-auto border-r border-rule pb-6">
        <Choose profiles={profiles} profile={profile} onName={setName} />
        <Form profile={profile} readOnly={profile.shipped || !may("technician")} onName={setName} />
      </div>
      <SampleView profile={profile} />
    </div>
  );
}

type Known = ControlProfile & { shipped: boolean };

function plain({ shipped: _, ...profile }: Known): ControlProfile {
  return profile;
}

interface ChooseProps {
  profiles: Known[];
  profile: Known;
  onName: (name: string) => void;
}

function Choose({ profiles, profile, onName }: ChooseProps) {
  const [trouble, setTrouble] = useState("");
  const used = useSetup((setup) => setup?.machine.profile);
  return (
    <div className="border-b border-rule-2 p-3">
      <select
        className="choice text-left! font-semibold"
        aria-label="Control profile shown"
        value={profile.name}
        onChange={(event) => onName(event.currentTarget.value)}
      >
        {profiles.map((entry) => (
          <option key={entry.name} value={entry.name}>
            {entry.name}
            {entry.shipped ? " · comes with Orthotrope" : ""}
            {entry.name === used ? " · this machine's" : ""}
          </option>
        ))}
      </select>
      <Deeds profiles={profiles} profile={profile} onName={onName} onTrouble={setTrouble} />
      {profile.shipped && (
        <p className="mt-2 text-[14px] text-ink-2">It comes with Orthotrope: copy it to change it.</p>
      )}
      {trouble && (
        <p role="alert" className="mt-1 text-[14px] text-stop">
          {trouble}
        </p>
      )}
    </div>
  );
}

/** What can be done with a profile. */
function Deeds({ profiles, profile, onName, onTrouble }: ChooseProps & { onTrouble: (text: string) => void }) {
  const add = async (entry: ControlProfile) => {
    const faults = await edit("/profiles", (before: ControlProfile[]) => [...before, entry]);
    onTrouble(faults.map((fault) => `${fault.where.replace(/^\/profiles\/\d+/, "")}: ${fault.what}`).join(" "));
    if (!faults.length) onName(entry.name);
  };
  const copy = () => {
    let name = `${profile.name}, a copy`;
    for (let count = 2; profiles.some((entry) => entry.name === name); count++) name = `${profile.name}, copy ${count}`;
    void add({ ...plain(profile), name });
  };
  const file = `${profile.name.replaceAll(/[^a-z0-9]+/gi, "-")}.profile.json`;
  return (
    <div className="mt-2 flex flex-wrap gap-2">
      {may("technician") && (
        <button type="button" className="button plain" onClick={copy}>
          <Copy size={15} /> Copy
        </button>
      )}
      <button
        type="button"
        className="button plain"
        onClick={() => save(file, `${JSON.stringify(plain(profile), null, 2)}\n`)}
      >
        <Download size={15} /> Export
      </button>
      {may("technician") && <Import onProfile={add} onTrouble={onTrouble} />}
      {may("technician") && !profile.shipped && <Remove profile={profile} onName={onName} onTrouble={onTrouble} />}
    </div>
  );
}

interface ImportProps {
  onProfile: (profile: ControlProfile) => Promise<void>;
  onTrouble: (text: string) => void;
}

function Import({ onProfile, onTrouble }: ImportProps) {
  const file = useRef<HTMLInputElement>(null);
  const importFile = async (picked: File) => {
    try {
      await onProfile(JSON.parse(await picked.text()) as ControlProfile);
    } catch {
      onTrouble(`${picked.name} is not JSON; choose a control profile file.`);
    }
  };
  return (
    <>
      <button type="button" className="button plain" onClick={() => file.current?.click()}>
        <Upload size={15} /> Import
      </button>
      <input
        ref={file}
        type="file"
        accept=".json,application/json"
        aria-label="Profile file"
        className="hidden"
        onChange={(event) => {
          const picked = event.currentTarget.files?.[0];
          event.currentTarget.value = "";
          if (picked) void importFile(picked);
        }}
      />
    </>
  );
}

function Remove(props: { profile: Known; onName: (name: string) => void; onTrouble: (text: string) => void }) {
  const { profile, onName, onTrouble } = props;
  const remove = async () => {
    const document = setupNow();
    const faults = await edit("/profiles", (before: ControlProfile[]) => before.filter((p) => p.name !== profile.name));
    onTrouble(
      faults.length ? `${profile.name} is used by this machine; choose another profile for the machine first.` : "",
    );
    if (!faults.length) onName(document?.machine.profile ?? "");
  };
  return (
    <button type="button" className="button plain" onClick={() => void remove()}>
      <Trash2 size={15} /> Remove
    </button>
  );
}

function Form({ profile, readOnly, onName }: { profile: Known; readOnly: boolean; onName: (name: string) => void }) {
  const index = useSetup((setup) => setup?.profiles.findIndex((entry) => entry.name === profile.name)) ?? -1;
  const base = `/profiles/${index}`;
  const change = async (field: string, value: unknown): Promise<string> => {
    const machine = setupNow()?.machine;
    const renamed = field === "name" && machine?.profile === profile.name;
    const faults = renamed
      ? [{ where: "", what: "This machine uses it; choose another profile for the machine before renaming it." }]
      : await edit(`${base}/${field}`, value);
    if (field === "name" && !faults.length) onName(String(value));
    return faults.map((fault) => fault.what).join(" ");
  };
  return (
    <fieldset disabled={readOnly} className="min-w-0">
      {GROUPS.map(([title, fields]) => (
        <Group key={title} title={title}>
          {fields.map((field) => (
            <FieldRow
              key={field.field}
              field={field}
              value={profile[field.field]}
              onChange={(value) => change(field.field, value)}
            />
          ))}
        </Group>
      ))}
      {profile.arithmetic && (
        <Group title="Parameters by number">
          {PARAMETERS.map(([key, label]) => (
            <FieldRow
              key={key}
              field={{ field: "parameters", label: `${label} #`, number: true }}
              value={profile.parameters[key]}
              onChange={(value) => change(`parameters/${key}`, value)}
            />
          ))}
        </Group>
      )}
      <Group title="Words it knows">
        {(["g_words", "m_words"] as const).map((key) => (
          <FieldRow
            key={key}
            field={{ field: key, label: key === "g_words" ? "G" : "M", text: true }}
            value={profile[key].join(" ")}
            onChange={(value) =>
              change(
                key,
                String(value)
                  .split(/[\s,]+/)
                  .filter(Boolean)
                  .map(Number),
              )
            }
          />
        ))}
      </Group>
    </fieldset>
  );
}

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <>
      <div className="group-title">{title}</div>
      {children}
    </>
  );
}

function FieldRow({
  field,
  value,
  onChange,
}: {
  field: Field;
  value: unknown;
  onChange: (value: unknown) => Promise<string>;
}) {
  const id = useId();
  const [trouble, setTrouble] = useState("");
  const tell = async (next: unknown) => {
    const says = await onChange(next);
    setTrouble(says);
    return says === "";
  };
  const take = async (text: string) => {
    if (!("number" in field)) return onChange(text);
    if (text === "" && field.empty) return onChange(null);
    const number = await plainNumber(text);
    return typeof number === "string" ? number : onChange(number);
  };
  return (
    <>
      <div className="row" style={{ gridTemplateColumns: "minmax(0,1fr) 170px 8px" }} title={field.hint}>
        <label htmlFor={id}>{field.label}</label>
        <Control
          id={id}
          field={field}
          value={value}
          wrong={trouble !== ""}
          onPick={tell}
          onTake={take}
          onSays={setTrouble}
        />
      </div>
      {trouble && (
        <p role="alert" className="says wrong">
          {trouble}
        </p>
      )}
    </>
  );
}

interface ControlProps {
  id: string;
  field: Field;
  value: unknown;
  wrong: boolean;
  onPick: (value: unknown) => Promise<boolean>;
  onTake: (text: string) => Promise<string>;
  onSays: (text: string) => void;
}

function Control({ id, field, value, wrong, onPick, onTake, onSays }: ControlProps) {
  if ("choices" in field)
    return (
      <select
        id={id}
        className="choice"
        value={String(value)}
        onChange={(event) => void onPick(event.currentTarget.value)}
      >
        {field.choices.map(([key, label]) => (
          <option key={key} value={key}>
            {label}
          </option>
        ))}
      </select>
    );
  if ("yes" in field)
    return (
      <select
        id={id}
        className="choice"
        value={value ? "yes" : "no"}
        onChange={(event) => void onPick(event.currentTarget.value === "yes")}
      >
        <option value="yes">yes</option>
        <option value="no">no</option>
      </select>
    );
  return (
    <TextInput
      id={id}
      className={wrong ? "wrong" : ""}
      value={value === null ? "" : String(value)}
      onTake={onTake}
      onSays={onSays}
    />
  );
}

function SampleView({ profile }: { profile: Known }) {
  const { data: sample, trouble } = useAnswer(
    ["sample", plain(profile)],
    () => client.POST("/api/profile-sample", { body: { profile: plain(profile) as unknown as Record<string, never> } }),
    { keep: 1 },
  );
  if (!sample) return <p className={`p-4 ${trouble ? "text-stop" : "text-ink-3"}`}>{trouble || "…"}</p>;
  return (
    <div className="flex min-h-0 flex-col">
      <div className="border-b border-rule-2 px-3 py-2">
        <b className="font-semibold">A sample in this profile</b>
        <p className={`text-[14px] ${sample.agrees ? "text-proven" : "text-stop"}`} data-agrees={sample.agrees}>
          {sample.agrees ? "✓ " : ""}
          {sample.says || sample.faults.map((fault) => fault.what).join(" ")}
        </p>
        <p className="text-[14px] text-ink-2">
          A job calls the exchange from T1 to T2 with <code className="font-mono text-[13px]">{sample.call}</code>
        </p>
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        <ProgramText text={sample.text ?? ""} />
      </div>
    </div>
  );
}
