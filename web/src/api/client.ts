import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./generated/schema";

type Schemas = components["schemas"];
export type Setup = Schemas["Setup"];
export type Changer = NonNullable<Setup["changer"]>;
export type Style = Changer["style"];
export type RackChanger = Extract<Changer, { rack: unknown }>;
export type PocketChanger = Extract<Changer, { heights: unknown }>;
export type Rack = Schemas["Rack"];
export type Heights = Schemas["Heights"];
export type Thread = Schemas["Thread"];
export type Saving = Schemas["Saving"];
export type Layer = Schemas["Layer"];
export type Setter = Schemas["Setup"]["setters"][number];
export type Reserved = Schemas["Reserved"];
export type Magazine = Schemas["MagazineScene"];
export type Tool = Schemas["Tool"];
export type Answer = Schemas["Answer"];
export type Derived = Schemas["DerivedChanger"];
export type Derivation = Schemas["Derivation"];
export type Scene = Schemas["Scene"];
export type Box = Schemas["BoxBody"];
export type Body = Box | Schemas["CylinderBody"];
export type Exchange = Schemas["ExchangeAnswer"];
export type ToolTable = Schemas["ToolTable"];
export type ToolPageAnswer = Schemas["ToolPage"];
export type Worksheet = Schemas["Worksheet"];
export type WorksheetIn = Schemas["WorksheetIn"];
export type Measuring = Schemas["MeasuringAnswer"];
export type SetterAnswer = Schemas["SetterAnswer"];
export type Probing = Schemas["ProbingAnswer"];
export type Probe = Schemas["Setup"]["probes"][number];
export type Routine = Schemas["Setup"]["routines"][number];
export type DerivedProbe = Schemas["DerivedProbe"];
export type Aim = Schemas["AimAnswer"];
export type Summed = Schemas["Summed"];
export type TextFix = Schemas["TextFix"];
export type KeptResult = Schemas["KeptResult"];
export type QualifiedDiameter = Schemas["QualifiedDiameter"];
export type Review = Schemas["WholeReview"];
export type ReviewSummary = Schemas["ReviewSummary"];
/** A sequence in text and run: an exchange, measuring, or a routine. */
export type Played = Exchange | Measuring | Probing;
export type RunOf = Schemas["RunOf"];
export type Finding = Schemas["Finding"];
export type Trace = Schemas["TraceReport"];
export type Segment = Schemas["SegmentReport"];
export type MotionLaw = Schemas["MotionLaw"];
export type Machine = Schemas["StoredMachine"];
export type ShopEntry = Schemas["ShopEntry"];
export type Stage = Schemas["StageMark"];
export type Proof = Schemas["WholeProof"];
export type Passing = Schemas["Passing"];
export type RoomSearch = Schemas["WholeRoomSearch"];
export type RoomResponse = Schemas["RoomResponse"];
export type Session = Schemas["Session"];
export type Fault = Schemas["Fault"];
export type EditConflict = Schemas["EditConflictResponse"];
export type Revision = Schemas["RevisionListed"];
export type OldRevision = Schemas["OldRevision"];
export type MachineAnswer = Schemas["MachineAnswer"];
export type SignalsAnswer = Schemas["SignalsAnswer"];
export type Crossing = Schemas["AxisCrossingOutput"];
export type Way = Schemas["Way"];
export type Alignment = Schemas["Aligned"];
export type CardEntry = Schemas["CardEntry"];
export type Reading = Schemas["ReadingResponse"];
export type Offer = Schemas["Offered"];
export type InputTest = Schemas["TestedInput"];
export type Edge = Schemas["Edge"];
export type Input = Schemas["Input"];
export type Output = Schemas["Output"];
export type ControlProfile = Schemas["ControlProfile"];
export type StoredPosition = Schemas["StoredPosition"];
export type PreviewIn = Schemas["PreviewIn"];
export type Vocabulary = Schemas["Vocabulary"];
export type Change = Schemas["Change"];
export type Under = Schemas["FaultResult"];
export type Kind = Schemas["QuantityIn"]["kind"];

function cookie(name: string): string {
  return document.cookie.match(new RegExp(`(?:^|; )${name}=([^;]*)`))?.[1] ?? "";
}

export function csrf(): Record<string, string> {
  return { "X-CSRFToken": cookie("csrftoken") };
}

const token: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
};

export const client = createClient<paths>({ baseUrl: location.origin, fetch: (request) => globalThis.fetch(request) });
client.use(token);

/** In place of an answer where there is no connection; for `catch`. */
export const noConnection = () => ({ data: undefined, error: { message: "No connection to the server." } });

/** The sentence of a refused request, with its faults. */
export function refusal(error: unknown): string {
  const body = error as { message?: string; faults?: Fault[] } | undefined;
  const faults = body?.faults?.map((fault) => (fault.where ? `${fault.where}: ${fault.what}` : fault.what)) ?? [];
  return faults.length ? faults.join("\n") : (body?.message ?? "The server did not answer as expected. Try again.");
}

/** The name under which a preview answers what a stage shows. */
export type AnswerName = NonNullable<PreviewIn["stage"]>;
