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
export type Saving = Schemas["SavingOut"];
export type Layer = Schemas["LayerOut"];
export type Reserved = Schemas["Reserved"];
export type Magazine = Schemas["MagazineOut"];
export type Tool = Schemas["Tool"];
export type Answer = Schemas["AnswerOut"];
export type Derived = Schemas["DerivedOut"];
export type Working = Schemas["WorkingOut"];
export type Scene = Schemas["SceneOut"];
export type Body = Schemas["BodyOut"];
export type Exchange = Schemas["ExchangeOut"];
export type Finding = Schemas["FindingOut"];
export type Trace = Schemas["TraceOut"];
export type Segment = Schemas["SegmentOut"];
export type Law = Schemas["LawOut"];
export type Machine = Schemas["MachineOut"];
export type ShopEntry = Schemas["ShopEntryOut"];
export type Stage = Schemas["StageOut"];
export type Proof = Schemas["ProofOut"];
export type Session = Schemas["SessionOut"];
export type Fault = Schemas["FaultOut"];
export type EditConflict = Schemas["EditConflictOut"];
export type Revision = Schemas["RevisionOut"];
export type MachineAnswer = Schemas["MachineAnswerOut"];
export type SignalsAnswer = Schemas["SignalsAnswerOut"];
export type Crossing = Schemas["CrossingOut"];
export type Way = Schemas["WayOut"];
export type Alignment = Schemas["AlignmentOut"];
export type CardEntry = Schemas["CardEntryOut"];
export type Reading = Schemas["ReadingOut"];
export type Offer = Schemas["OfferOut"];
export type InputTest = Schemas["InputTestOut"];
export type Edge = Schemas["EdgeOut"];
export type Input = Schemas["Input"];
export type Output = Schemas["Output"];
export type ControlProfile = Schemas["ControlProfile"];
export type StoredPosition = Schemas["StoredPosition"];
export type PreviewIn = Schemas["PreviewIn"];
export type Vocabulary = Schemas["VocabularyOut"];
export type Change = Schemas["ChangeOut"];
export type Under = Schemas["UnderOut"];
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
