/** What a probe is qualified on: a ring, plug or ball of known size, and a reference face. */
import { useId } from "react";
import type { Probe } from "../../api/client";
import { ChoiceRow, QuantityRow } from "../../fields/rows";
import { may } from "../../session/session";
import { useSetup } from "../../work/document";
import { edit } from "../../work/editing";

const ROWS = [
  ["diameter", "length"],
  ["diameter_uncertainty", "length"],
  ["x", "length"],
  ["y", "length"],
  ["z", "length"],
  ["touches", "count"],
  ["face_x", "length"],
  ["face_y", "length"],
  ["face_z", "length"],
  ["face_uncertainty", "length"],
] as const;

export function Artefact({ base, probe }: { base: string; probe: Probe }) {
  const id = useId();
  const setup = useSetup();
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
      {ROWS.map(([field, kind]) => (
        <QuantityRow key={field} pointer={`${base}/artefact/${field}`} kind={kind} />
      ))}
      {probe.artefact.kind !== "ball" && <QuantityRow pointer={`${base}/artefact/depth`} kind="length" />}
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
