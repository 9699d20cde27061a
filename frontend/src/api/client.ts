import createClient from "openapi-fetch";

import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Sheet = WithSymbols<Schemas["Sheet"]>;
/** A model; `instance` is which part of a larger one it is, where one stepped into that. */
export type ModelView = Omit<WithSymbols<Schemas["ModelView"]>, "rows"> & {
  rows: Row[];
  instance?: string;
};
/** A component with its symbol, which travels once for all components of a class. */
export type SheetComponent = Schemas["SheetComponent"] & { icon: Schemas["Icon"] };
export type SheetConnection = Schemas["SheetConnection"];
/**
 * A row of the ledger; `base` is what it is in the base, where a chosen scenario makes something else of it, and
 * `here` what it is in the instance that is looked at, where that is not what its class says.
 */
export type Row = Schemas["Row"] & { base?: Schemas["Row"]; here?: string };
export type RunView = Schemas["RunView"];
export type RunDetail = Schemas["RunDetail"];
/** A run as it is seen from inside a part: its variables are those of this `instance`, by the names they have there. */
export type SeenRun = RunDetail & { instance?: string };
export type RunVariable = Schemas["RunVariable"];
export type Curve = Schemas["Curve"];
export type ProjectView = WithSymbols<Schemas["ProjectView"]>;
export type Fault = Schemas["Fault"];

/** What pages of other sites cannot send; without it nothing is changed. */
const MARK = { "X-Movrel": "page" };

export const client = createClient<paths>({ baseUrl: "/", headers: MARK });

/** A refusal of the server, or its silence, in words for a person. */
export class Refusal extends Error {
  readonly hint: string;
  readonly status: number;
  readonly where: Fault["where"];

  constructor(status: number, fault: Partial<Fault>) {
    super(fault.message ?? "the server did not answer.");
    this.status = status;
    this.hint = fault.hint ?? "";
    this.where = fault.where ?? null;
  }

  get sentence(): string {
    return this.hint ? `${this.message} ${this.hint}` : this.message;
  }
}

/** An answer in which every component of a sheet has its symbol. */
export type WithSymbols<T> = T extends Schemas["SheetComponent"]
  ? SheetComponent
  : T extends (infer U)[]
    ? WithSymbols<U>[]
    : T extends object
      ? { [K in keyof T]: WithSymbols<T[K]> }
      : T;

/** Give the components of all sheets in an answer their symbols. */
function withSymbols(data: unknown): void {
  if (Array.isArray(data)) data.forEach(withSymbols);
  if (!data || typeof data !== "object") return;
  const holder = data as Record<string, unknown>;
  for (const key of ["sheet", "before", "after"]) {
    const sheet = holder[key] as Schemas["Sheet"] | null | undefined;
    if ("mark" in holder && holder.changes) continue; // only what differs: its symbols come when it is completed
    sheet?.components?.forEach(
      (component) => ((component as SheetComponent).icon = sheet.icons[component.symbol]!),
    );
  }
  for (const key of ["projects", "models"]) withSymbols(holder[key]);
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer, or a Refusal. */
export async function ask<T>(pending: Promise<Answer<T>>): Promise<WithSymbols<T>> {
  let answer: Answer<T>;
  try {
    answer = await pending;
  } catch {
    throw new Refusal(0, {
      message: "the server does not answer.",
      hint: "Is it still running?",
    });
  }
  if (answer.data === undefined) {
    throw new Refusal(answer.response.status, answer.error ?? {});
  }
  withSymbols(answer.data);
  return answer.data as WithSymbols<T>;
}

export function asRefusal(fault: unknown): Refusal {
  return fault instanceof Refusal ? fault : new Refusal(0, { message: String(fault) });
}

/** A document of ours (a page, or a picture that makes a page of its size) as PDF. */
export async function askPdf(document: string): Promise<Blob> {
  const answer = await fetch("/api/pdf", {
    method: "POST",
    headers: { "Content-Type": "application/json", ...MARK },
    body: JSON.stringify({ document }),
  });
  if (!answer.ok)
    throw new Refusal(answer.status, (await answer.json().catch(() => ({}))) as Partial<Fault>);
  return answer.blob();
}
