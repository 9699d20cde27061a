/** What is asked of a state at rest. */
export interface Rest {
  /** Values as they are typed, by variable. */
  held: Record<string, string>;
  /** Inputs and parameters that are found for them. */
  free: string[];
  /** States that may go on changing. */
  moving: string[];
}

export const NO_REST: Rest = { held: {}, free: [], moving: [] };
