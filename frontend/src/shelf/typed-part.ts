/** What was typed to insert a part: words that find it, and values for its rows; "" stands for its main one. */
export interface TypedPart {
  words: string;
  values: Record<string, string>;
}

const NUMBER = /^(.*\S)\s+([-+−]?[.,]?\d\S*(?:\s+[^\s\d]\S*)?)$/;

/**
 * Reads `resistor 10k`, `gain = 3*k` and `pulse width=300 ms, period=1 s`. A name touches its equals sign; without
 * a name the value is that of the parameter by which the part is known.
 */
export function typedPart(typed: string): TypedPart {
  const text = typed.trim();
  const at = text.indexOf("=");
  if (at < 0) {
    const match = NUMBER.exec(text);
    return match
      ? { words: match[1]!, values: { "": match[2]!.replace("−", "-") } }
      : { words: text, values: {} };
  }
  const named = /^(.*\S)\s+([A-Za-z_]\w*)=/.exec(text.slice(0, at + 1));
  if (!named) {
    const [words, value] = [text.slice(0, at).trim(), text.slice(at + 1).trim()];
    return { words, values: value && words ? { "": value } : {} };
  }
  const pairs = text.slice(named[1]!.length).split(/[,;]\s+(?=[A-Za-z_]\w*=)/);
  const values = pairs.map((pair) => {
    const equals = pair.indexOf("=");
    return [pair.slice(0, equals).trim(), pair.slice(equals + 1).trim()] as const;
  });
  return { words: named[1]!, values: Object.fromEntries(values.filter(([, value]) => value)) };
}

/** The values in words, the main one by its name. */
export function valueWords(values: Record<string, string>, main: string): string {
  return Object.entries(values)
    .map(([name, value]) => `${name || main} = ${value}`)
    .join(", ");
}
