/** A Modelica name from what somebody typed: 'ice store' becomes IceStore. */
export function modelName(typed: string): string {
  const joined = typed
    .trim()
    .split(/[^A-Za-z0-9_]+/)
    .filter(Boolean)
    .map((word) => word[0]!.toUpperCase() + word.slice(1))
    .join("");
  return /^[A-Za-z_]/.test(joined) ? joined : joined && `Model${joined}`;
}
