import createClient from "openapi-fetch";

import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type ModelView = Schemas["ModelView"];
export type Sheet = Schemas["Sheet"];
export type SheetComponent = Schemas["SheetComponent"];
export type SheetConnection = Schemas["SheetConnection"];
export type Row = Schemas["Row"];
export type RunView = Schemas["RunView"];
export type RunDetail = Schemas["RunDetail"];
export type RunVariable = Schemas["RunVariable"];
export type Curve = Schemas["Curve"];
export type ProjectView = Schemas["ProjectView"];
export type Fault = Schemas["Fault"];

export const client = createClient<paths>({ baseUrl: "/" });

/** A refusal of the server, or its silence, in words for a person. */
export class Refusal extends Error {
  readonly hint: string;
  readonly status: number;
  readonly where: Fault["where"];

  constructor(status: number, fault: Partial<Fault>) {
    super(fault.message ?? "the server did not answer; nothing was changed.");
    this.status = status;
    this.hint = fault.hint ?? "";
    this.where = fault.where ?? null;
  }

  get sentence(): string {
    return this.hint ? `${this.message} ${this.hint}` : this.message;
  }
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer, or a Refusal. */
export async function ask<T>(pending: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await pending;
  } catch {
    throw new Refusal(0, { message: "the server does not answer; nothing was changed.", hint: "Is it still running?" });
  }
  if (answer.data === undefined) {
    throw new Refusal(answer.response.status, (answer.error ?? {}));
  }
  return answer.data;
}

export function asRefusal(fault: unknown): Refusal {
  return fault instanceof Refusal ? fault : new Refusal(0, { message: String(fault) });
}
