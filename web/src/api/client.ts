import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type StudyOut = Schemas["StudyOut"];
export type StudyCard = Schemas["StudyCard"];
export type PlaceOut = Schemas["PlaceOut"];
export type MatchOut = Schemas["MatchOut"];
export type RecipeOut = Schemas["RecipeOut"];
export type LayShape = Schemas["LayShape"];
/** A coloured layer: pressed, or in coats. */
export type Laid = LayShape | Schemas["CoatShape"];
/** One thing done to what lies there: a layer, a blend or a lift. */
export type Act = Laid | Schemas["BlendShape"] | Schemas["LiftShape"];
export type MarkIn = Schemas["MarkIn"];
export type MarkOut = Schemas["MarkOut"];
export type Tone = Schemas["Tone"];
export type Lab = Schemas["Lab"];
export type KitOut = Schemas["KitOut"];
export type KitColourOut = Schemas["KitColourOut"];
export type CellOut = Schemas["CellOut"];
export type SwatchSheetOut = Schemas["SwatchSheetOut"];
export type PaperOut = Schemas["PaperOut"];
export type RackOut = Schemas["RackOut"];
export type StepOut = Schemas["StepOut"];
export type TakesOut = Schemas["TakesOut"];
export type PlanOut = Schemas["PlanOut"];
export type ReadOut = Schemas["ReadOut"];
export type RoleOut = Schemas["RoleOut"];
export type JobOut = Schemas["JobOut"];
export type PictureOut = Schemas["PictureOut"];
export type GrainOut = Schemas["GrainOut"];
export type RulesState = Schemas["RulesState"];
export type OverviewOut = Schemas["OverviewOut"];
export type ComplexionOut = Schemas["ComplexionOut"];
export type SightOut = Schemas["SightOut"];
export type AreasOut = Schemas["AreasOut"];
export type DevelopState = Schemas["DevelopState"];
export type SheetState = Schemas["SheetState"];
export type SpanOut = Schemas["SpanOut"];
export type View = SightOut["view"];
export type Op = Schemas["ChangeAsked"]["op"];

/** An answer that is not what was asked for: a problem from the server, or no answer at all (status 0). */
export class Problem extends Error {
  readonly status: number;
  readonly where: string;
  readonly changed: string[];
  constructor(status: number, detail: string, where = "", changed: string[] = []) {
    super(detail);
    this.status = status;
    this.where = where;
    this.changed = changed;
  }
}

const token = () =>
  document.cookie
    .split("; ")
    .find((c) => c.startsWith("csrftoken="))
    ?.slice(10) ?? "";

const csrf: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", token());
    return request;
  },
};

export const client = createClient<paths>({ baseUrl: window.location.origin });
client.use(csrf);

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

function problemOf(status: number, body: unknown): Problem {
  const found = (body ?? {}) as { detail?: string; where?: string; changed?: string[] };
  return new Problem(
    status,
    found.detail ?? "The server answered something unexpected; reload the page.",
    found.where,
    found.changed,
  );
}

const SILENT = "Caltin does not answer. Is it still running on this machine?";

/** The data of an answer, or a Problem thrown. */
export async function got<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch {
    throw new Problem(0, SILENT);
  }
  if (answer.response.ok) return answer.data as T;
  if (answer.response.status === 401) window.location.assign("/");
  throw problemOf(answer.response.status, answer.error);
}

/** Send one file as a form, with other fields where there are some. */
export async function sendFile<T>(
  path: string,
  field: string,
  file: File,
  more: Record<string, string | File> = {},
): Promise<T> {
  const form = new FormData();
  form.append(field, file);
  for (const [name, value] of Object.entries(more)) form.append(name, value);
  let response: Response;
  try {
    response = await fetch(path, { method: "POST", body: form, headers: { "X-CSRFToken": token() } });
  } catch {
    throw new Problem(0, SILENT);
  }
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok) throw problemOf(response.status, body);
  return body as T;
}
