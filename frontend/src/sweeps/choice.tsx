/** One of a few, with a word before it. */
export function Choice({
  words,
  value,
  options,
  onChange,
  testid,
}: {
  words: string;
  value: string;
  options: string[];
  onChange: (value: string) => void;
  testid: string;
}) {
  return (
    <label className="flex items-center gap-1">
      <span className="muted">{words}</span>
      <select
        className="select select-xs"
        value={value}
        onChange={(event) => onChange(event.target.value)}
        data-testid={testid}
      >
        {options.map((option) => (
          <option key={option}>{option}</option>
        ))}
      </select>
    </label>
  );
}
