/** What a probe is qualified on: a ring, plug or ball of known size, and a reference face. */
import { useId } from "react";
import type { Probe } from "../../api/client";
import { ChoiceRow, QuantityRow } from "../../fields/rows";
import { may } from "../../session/session";
import { useWork } from "../../work/store";

const ROWS = [
  ["Diameter of the artefact", "diameter", "length", "As it is certified."],
  [
    "± of the artefact",
    "diameter_uncertainty",
    "length",
    "Half width at 95 %, from its certificate: 0.5 to 2 µm of a ring.",
  ],
  ["Artefact X", "x", "length", "Machine X of its middle, as expected: it is searched for."],
  ["Artefact Y", "y", "length", "Machine Y of its middle, as expected."],
  ["Artefact Z", "z", "length", "Machine Z of its upper face, as a tip stands on it; of a ball its highest point."],
  ["Touches round it", "touches", "count", "4 to 36; the more, the better its form is seen."],
  ["Reference face X", "face_x", "length", "Where the face of known height is touched."],
  ["Reference face Y", "face_y", "length", "Where the face of known height is touched."],
  ["Reference face Z", "face_z", "length", "Machine Z of the face: the length follows from it."],
  ["± of the face", "face_uncertainty", "length", "Half width at 95 % of that height."],
] as const;

export function Artefact({ base, probe }: { base: string; probe: Probe }) {
  const id = useId();
  const setup = useWork((work) => work.document);
  const { edit } = useWork.getState();
  if (!setup) return null;
  const { X, Y, Z } = setup.machine.axes;
  const middle = {
    x: (X.least + X.greatest) / 2,
    y: (Y.least + Y.greatest) / 2,
    z: Z.least + (Z.greatest - Z.least) / 4,
  };
  const made = (kind: string) => ({
    kind,
    diameter: setup.machine.unit === "inch" ? 25.4 : 40,
    ...middle,
    depth: 6,
    touches: 12,
    face_x: middle.x,
    face_y: middle.y,
    face_z: middle.z,
  });
  if (!probe.artefact)
    return (
      <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
        <label htmlFor={id}>Qualified on</label>
        <select
          id={id}
          className="choice"
          value=""
          disabled={!may("technician")}
          onChange={(event) => void edit(`${base}/artefact`, made(event.currentTarget.value))}
        >
          <option value="">nothing yet</option>
          <option value="ring">a ring</option>
          <option value="plug">a plug</option>
          <option value="ball">a ball</option>
        </select>
      </div>
    );
  return (
    <>
      <div className="group-title">What it is qualified on</div>
      <ChoiceRow
        label="It is"
        pointer={`${base}/artefact/kind`}
        choices={[
          ["ring", "a ring"],
          ["plug", "a plug"],
          ["ball", "a ball"],
        ]}
      />
      {ROWS.map(([label, field, kind, hint]) => (
        <QuantityRow key={field} label={label} pointer={`${base}/artefact/${field}`} kind={kind} hint={hint} />
      ))}
      {probe.artefact.kind !== "ball" && (
        <QuantityRow pointer={`${base}/artefact/depth`} kind="length" hint="How far the tip goes down to touch it." />
      )}
      {may("technician") && (
        <p className="px-4 py-1">
          <button type="button" className="link" onClick={() => void edit(`${base}/artefact`, null)}>
            qualify it on nothing
          </button>
        </p>
      )}
    </>
  );
}
