import { createElement } from "react";
import { renderToStaticMarkup } from "react-dom/server";

import { ask, client, type ModelView, type RunDetail } from "../api/client";
import { fetchCurves } from "../api/queries";
import { namesOn, type StripPlan } from "../state/strip-plan";
import { unitsQuery } from "../charts/units";
import { drawingRules, PAPER_COLOURS } from "../drawing/drawing-rules";
import { Page } from "./page";
import { INK, PAPER, RULE } from "../drawing/paper";

/** Points of a curve on the page. */
const POINTS = 800;

/** One page about a model: drawing, values, scenarios, curves, claims and what computed them, as a document of its own. */
export async function reportOf(
  view: ModelView,
  runs: RunDetail[],
  strips: StripPlan[],
): Promise<string> {
  const path = { project: view.project, model: view.model };
  const [documentation, { versions }, text] = await Promise.all([
    ask(client.GET("/api/projects/{project}/models/{model}/documentation", { params: { path } })),
    ask(client.GET("/api/versions")),
    modelText(view),
  ]);
  const ended = runs.filter((run) => run.points > 0);
  const names = namesOn(strips);
  const curves = new Map(
    await Promise.all(
      ended.map(async (run) => {
        const known = new Set(run.variables.map((v) => v.name));
        return [
          run.id,
          (
            await fetchCurves(
              run.id,
              names.filter((n) => known.has(n)),
              POINTS,
              null,
            )
          ).curves,
        ] as const;
      }),
    ),
  );
  const declared = [
    ...new Set(
      ended.flatMap((run) =>
        run.variables.filter((v) => names.includes(v.name)).map((v) => v.unit),
      ),
    ),
  ];
  const units = new Map(
    await Promise.all(
      declared.map(async (unit) => [unit, await unitsQuery(unit).queryFn()] as const),
    ),
  );
  const body = renderToStaticMarkup(
    createElement(Page, { view, runs: ended, strips, units, curves, versions, text }),
  );
  const title = escaped(`${view.sheet.name}, ${view.project_name}`);
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${title}</title><style>${STYLE}${drawingRules()}</style></head><body>${body.replace("@documentation@", documentation.info)}</body></html>`;
}

/** The text of a model with all that it uses, so that it can be built again; empty where it cannot be written. */
async function modelText(view: ModelView): Promise<string> {
  const address = `/api/projects/${view.project}/models/${encodeURIComponent(view.model)}/modelica?form=alone`;
  const answer = await fetch(address);
  return answer.ok ? answer.text() : "";
}

function escaped(text: string): string {
  return text.replaceAll("&", "&amp;").replaceAll("<", "&lt;");
}

const STYLE = `
${PAPER_COLOURS}
body { font: 13px/1.45 "IBM Plex Sans", "DejaVu Sans", system-ui, sans-serif; color: ${INK}; background: ${PAPER}; margin: 0; }
main { max-width: 900px; margin: 2rem auto; padding: 0 1.5rem; }
h1 { font-size: 1.7rem; margin: 0; } h2 { font-size: 1.1rem; margin: 1.6rem 0 0.4rem; border-bottom: 1px solid ${RULE}; }
.lead { font-size: 1.1rem; margin: 0.2rem 0; } .muted { color: #5a6070; } .mono, .number { font-variant-numeric: tabular-nums; }
table { border-collapse: collapse; width: 100%; font-size: 12px; } td, th { text-align: left; padding: 0.15rem 0.8rem 0.15rem 0; border-bottom: 1px solid ${RULE}; vertical-align: top; }
.number { white-space: nowrap; } .fails { color: #b3261e; } .sheet svg { width: 100%; max-height: 420px; } .strip svg { width: 100%; height: auto; }
pre.text { font: 10.5px/1.35 "IBM Plex Mono", monospace; white-space: pre-wrap; overflow-wrap: anywhere; } h3 { font-size: 0.95rem; margin: 1rem 0 0.2rem; }
.dot { display: inline-block; width: 9px; height: 9px; border-radius: 50%; }
@page { size: A4; margin: 15mm 14mm; }
@media print { main { margin: 0 auto; padding: 0; } .sheet svg { max-height: 300px; } h2, .strip, tr { break-inside: avoid; } h2 { break-after: avoid; } }
`;
