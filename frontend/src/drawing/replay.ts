/** Evaluation of the moving parts of a drawing (DynamicSelect) with the values at the time cursor. */

export type Value = number | boolean | string | Value[] | null;
export type Lookup = (name: string) => number | null | undefined;

const BINARY: Record<string, (a: number, b: number) => number | boolean> = {
  "+": (a, b) => a + b,
  "-": (a, b) => a - b,
  "*": (a, b) => a * b,
  "/": (a, b) => a / b,
  "^": (a, b) => a ** b,
  "<": (a, b) => a < b,
  "<=": (a, b) => a <= b,
  ">": (a, b) => a > b,
  ">=": (a, b) => a >= b,
  "==": (a, b) => a === b,
};

const CALLS: Record<string, (...a: number[]) => number> = {
  abs: Math.abs,
  sqrt: Math.sqrt,
  sin: Math.sin,
  cos: Math.cos,
  min: Math.min,
  max: Math.max,
  exp: Math.exp,
};

/** The value of an expression in the server's form, or null when a value in it is not known. */
export function evaluate(node: unknown, lookup: Lookup): Value {
  if (typeof node === "number" || typeof node === "boolean") return node;
  if (!Array.isArray(node)) return typeof node === "string" ? node : null;
  const [operator, ...operands] = node as [string, ...unknown[]];
  if (operator === "ref") return lookup(String(operands[0])) ?? null;
  if (operator === "list") return operands.map((item) => evaluate(item, lookup));
  if (operator === "if") {
    const condition = evaluate(operands[0], lookup);
    return condition === null ? null : evaluate(condition ? operands[1] : operands[2], lookup);
  }
  const numbers = (operator === "call" ? operands.slice(1) : operands).map((item) =>
    evaluate(item, lookup),
  );
  if (!numbers.every((n): n is number => typeof n === "number" && Number.isFinite(n))) return null;
  if (operator === "call") return CALLS[String(operands[0])]?.(...numbers) ?? null;
  if (numbers.length === 1) return operator === "-" ? -numbers[0]! : numbers[0]!;
  return BINARY[operator]?.(numbers[0]!, numbers[1]!) ?? null;
}

/** A list of points, if that is what a value is and all of it is known. */
export function asPoints(value: Value): number[][] | null {
  if (!Array.isArray(value)) return null;
  const points = value.filter(
    (p): p is number[] =>
      Array.isArray(p) && p.every((n) => typeof n === "number" && Number.isFinite(n)),
  );
  return points.length === value.length ? points : null;
}
