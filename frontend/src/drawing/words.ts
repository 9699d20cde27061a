export interface Words {
  name: string;
  className: string;
  labels: Record<string, string>;
}

/** `%name` and `%parameter` in a text, replaced by what they stand for. */
export function fillIn(text: string, words: Words): string {
  return text.replace(/%(\{[^}]+\}|%|[A-Za-z_][A-Za-z0-9_.]*)/g, (whole, token: string) => {
    if (token === "%") return "%";
    const key = token.replace(/[{}]/g, "");
    if (key === "name") return words.name;
    if (key === "class") return words.className.split(".").at(-1) ?? "";
    return words.labels[key] ?? (key in words.labels ? "" : whole.slice(1));
  });
}
