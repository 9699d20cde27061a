import type { ModelView, RunDetail } from "../api/client";
import type { fetchCurves } from "../api/queries";
import { formatNumber, formatTime } from "../ui/format";
import { suitedTimeUnit } from "../state/suited-unit";
import { rowWords } from "../ui/row-text";
import { gathered, type Table } from "../ui/tables";
import { verdictWords } from "../ui/verdict-words";
import { drawn, sizeAmong } from "../charts/curves";
import { axesOf, keyOf, type ShownUnit, type StripPlan } from "../state/strip-plan";
import { stripSvg } from "../charts/svg";
import { frameOf } from "../drawing/picture-frame";
import { SheetPicture } from "../drawing/sheet-picture";
import { looksOf } from "../state/looks";
import { colourOf, scenariosOf } from "../state/scenarios";
import { RUN_COLOURS } from "../state/shown-runs";
import { COLOURS, INK, PAPER, RULE } from "../drawing/paper";

/** Width and height of a strip on the page. */
const [WIDTH, HEIGHT] = [860, 260];

export interface PageProps {
  view: ModelView;
  runs: RunDetail[];
  strips: StripPlan[];
  units: Map<string, ShownUnit[]>;
  curves: Map<number, Awaited<ReturnType<typeof fetchCurves>>["curves"]>;
  versions: Record<string, string>;
  /** The text of the model with all that it uses. */
  text: string;
}

/** Rows of a table that are printed at most. */
const MOST_ROWS = 60;

/** Whether somebody gave a table its values: the model itself, or the text for a part. */
function isOwn(table: Table): boolean {
  return table.elements.some((row) => row.some((cell) => cell.component === "" || cell.modified));
}

/** What the page says, to be put into a document. */
export function Page({ view, runs, strips, units, curves, versions, text }: PageProps) {
  const scenarios = scenariosOf(view);
  const places = [...new Set(scenarios.flatMap((s) => Object.keys(s.changes)))];
  const rows = new Map(view.rows.map((row) => [row.name, row]));
  const set = view.rows.filter(
    (row) =>
      row.group === "set" &&
      row.enabled &&
      !/\[\d/.test(row.name) &&
      (row.component === "" || row.modified),
  );
  const tables = gathered(view.rows.filter((row) => row.group === "set" && row.enabled)).flatMap(
    (item) => ("elements" in item && isOwn(item) ? [item] : []),
  );
  const newest = new Map(
    scenarios.map((s) => [
      s.name,
      runs.filter((r) => r.scenario === s.name).sort((a, b) => b.id - a.id)[0],
    ]),
  );
  return (
    <main>
      <h1>{view.sheet.name}</h1>
      <p className="lead">{view.sheet.description}</p>
      <p className="muted">
        {view.project_name}, {view.model}, revision {view.revision} ({view.summary})
      </p>
      <div className="sheet">
        <Drawing sheet={view.sheet} />
      </div>
      <div className="documentation">@documentation@</div>
      <h2>Values</h2>
      <table>
        <tbody>
          {set.map((row) => (
            <tr key={row.name}>
              <td>{row.name}</td>
              <td className="number">{rowWords(row)}</td>
              <td className="muted">{row.description}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {tables.map((table) => (
        <section key={table.name}>
          <h3>
            {table.name} <span className="muted">{table.description}</span>
          </h3>
          {table.whole && <p className="mono">{table.whole}</p>}
          <table>
            <tbody>
              {table.elements.slice(0, MOST_ROWS).map((row, i) => (
                <tr key={i}>
                  {row.map((cell) => (
                    <td key={cell.name} className="number">
                      {rowWords(cell)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          {table.elements.length > MOST_ROWS && (
            <p className="muted">
              The first {MOST_ROWS} of {table.elements.length} rows; all are in the text below.
            </p>
          )}
        </section>
      ))}
      {places.length > 0 && (
        <>
          <h2>Scenarios</h2>
          <table>
            <thead>
              <tr>
                <th />
                {scenarios.map((s) => (
                  <th key={s.name}>
                    <Dot slot={s.colour} /> {s.name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {places.map((place) => {
                const row = rows.get(place);
                return (
                  <tr key={place}>
                    <td>{place}</td>
                    {scenarios.map((s) => (
                      <td key={s.name} className="number">
                        {place in s.changes
                          ? row
                            ? rowWords(row, s.changes[place])
                            : s.changes[place]
                          : s.colour === 0 && row
                            ? rowWords(row)
                            : "–"}
                      </td>
                    ))}
                  </tr>
                );
              })}
            </tbody>
          </table>
        </>
      )}
      {runs.length > 0 && <h2>Curves</h2>}
      {runs.length > 0 &&
        strips.map((strip) => (
          <StripPicture
            key={keyOf(strip)}
            view={view}
            strip={strip}
            units={units}
            runs={runs}
            curves={curves}
          />
        ))}
      {view.claims.length > 0 && (
        <>
          <h2>Claims</h2>
          <table>
            <thead>
              <tr>
                <th />
                {scenarios.map((s) => (
                  <th key={s.name}>{s.name}</th>
                ))}
              </tr>
            </thead>
            <tbody>
              {view.claims.map((claim) => (
                <tr key={claim}>
                  <td className="mono">{claim}</td>
                  {scenarios.map((s) => {
                    const judged = newest.get(s.name)?.claims.find((c) => c.text === claim);
                    const words = s.off.includes(claim)
                      ? "left out"
                      : !judged
                        ? "not shown here"
                        : judged.holds === null
                          ? verdictWords(judged)
                          : `${judged.holds ? "✓ holds" : "✕ fails"}, ${verdictWords(judged)}`;
                    return (
                      <td key={s.name} className={judged?.holds === false ? "fails" : ""}>
                        {words}
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      <h2>Runs and versions</h2>
      <table>
        <tbody>
          {runs.map((run) => (
            <tr key={run.id}>
              <td>
                <Dot slot={colourOf(view, run)} /> run {run.number}: {run.name}
              </td>
              <td>{run.scenario}</td>
              <td>{run.state}</td>
              <td className="number">to {formatTime(run.time_reached ?? 0)}</td>
              <td className="number">{run.points} points</td>
              <td className="muted">
                {run.created.slice(0, 19).replace("T", " ")} UTC, revision{" "}
                {run.revisions[view.file] ?? "–"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="muted">
        {view.settings &&
          `Solver ${view.settings.solver}, ${view.settings.step === null ? `tolerance ${formatNumber(view.settings.tolerance)}` : `step ${formatTime(view.settings.step)}`}, output every ${formatTime(view.settings.interval)}. `}
        {Object.entries(versions)
          .map(([name, version]) => `${name} ${version}`)
          .join(", ")}
        .
      </p>
      {text && (
        <>
          <h2>Text of the model</h2>
          <p className="muted">With everything that it uses; imported again, it is this model.</p>
          <pre className="text">{text}</pre>
        </>
      )}
    </main>
  );
}

function Drawing({ sheet }: { sheet: ModelView["sheet"] }) {
  if (sheet.components.length === 0) return null;
  const { x, y, width, height } = frameOf(sheet, true);
  return (
    <svg viewBox={`${x} ${y} ${width} ${height}`} role="img" aria-label={`Sheet of ${sheet.name}`}>
      <SheetPicture sheet={sheet} />
    </svg>
  );
}

function nameOf(run: RunDetail | undefined): string {
  return run ? `${run.number}: ${run.name}` : "";
}

function Dot({ slot }: { slot: number }) {
  return <span className="dot" style={{ background: COLOURS[slot % RUN_COLOURS] }} />;
}

function StripPicture({
  view,
  strip,
  units,
  runs,
  curves,
}: Omit<PageProps, "strips" | "versions" | "text"> & { strip: StripPlan }) {
  const look = looksOf(view, runs, strip);
  const axes = axesOf(
    strip,
    new Map(runs.flatMap((run) => run.variables.map((v) => [v.name, v] as const))),
    (declared) => units.get(declared),
    (name) => sizeAmong(curves.values(), name),
  );
  const figures = runs.flatMap((run) =>
    strip.names.flatMap((name) => {
      const curve = curves.get(run.id)?.find((c) => c.name === name);
      const { slot, dash, shade } = look(run, name);
      return curve && curve.time.length > 0
        ? [{ ...drawn(curve, run.id, slot, dash, axes), shade }]
        : [];
    }),
  );
  if (figures.length === 0) return null;
  const range: [number, number] = [
    Math.min(...figures.map((c) => c.time[0]!)),
    Math.max(...figures.map((c) => c.time.at(-1)!)),
  ];
  const svg = stripSvg({
    curves: figures,
    range,
    width: WIDTH,
    height: HEIGHT,
    colour: (slot) => COLOURS[slot % RUN_COLOURS]!,
    ink: INK,
    rule: RULE,
    ground: PAPER,
    runName: (id) => nameOf(runs.find((r) => r.id === id)),
    timeUnit: view.settings?.time_unit || suitedTimeUnit(range[1] - range[0]),
  });
  // The document is made of our own drawing, whose words are made safe there.
  return <div className="strip" dangerouslySetInnerHTML={{ __html: svg }} />;
}
