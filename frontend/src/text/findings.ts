import type { Refusal } from "../api/client";
import type { Finding } from "./editor";

/** A refusal of the server as what is pointed out in a text. */
export function findingsOf(refused: Refusal | null): Finding[] {
  if (!refused) return [];
  const { message, hint, where } = refused;
  return [{ severity: "error", message, hint, line: where?.line ?? 0, column: where?.column ?? 1 }];
}
