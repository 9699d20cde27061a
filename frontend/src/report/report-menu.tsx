import { FileText } from "lucide-react";
import { useState } from "react";

import { askPdf, asRefusal, type ModelView, type RunDetail } from "../api/client";
import { Popover } from "../ui/popover";
import { save } from "../charts/svg";
import { useStripPlans } from "../state/strips";

type Kind = "html" | "pdf" | "print";
const KINDS: [Kind, string][] = [
  ["html", "HTML"],
  ["pdf", "PDF"],
  ["print", "Print"],
];

/** The page about the model with the shown runs, saved as a document or printed. */
export function ReportMenu({ view, runs }: { view: ModelView; runs: RunDetail[] }) {
  return (
    <Popover
      label={
        <>
          <FileText size={13} /> Report
        </>
      }
      title="One page about the model and the shown runs"
      testid="report"
    >
      {(close) => <Making view={view} runs={runs} onDone={close} />}
    </Popover>
  );
}

function Making({
  view,
  runs,
  onDone,
}: {
  view: ModelView;
  runs: RunDetail[];
  onDone: () => void;
}) {
  const strips = useStripPlans((s) => s.strips);
  const [busy, setBusy] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const make = async (kind: Kind) => {
    setBusy(true);
    setFault(null);
    try {
      const { reportOf } = await import("./report");
      const page = await reportOf(view, runs, strips ?? []);
      if (kind === "html") save(`${view.sheet.name}.html`, new Blob([page], { type: "text/html" }));
      else if (kind === "pdf") {
        const { flattened } = await import("./flatten");
        save(`${view.sheet.name}.pdf`, await askPdf(await flattened(page)));
      } else printed(page);
      onDone();
    } catch (refused) {
      setFault(`the report could not be made: ${asRefusal(refused).sentence}`);
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="w-72">
      <p className="pb-2">
        Sheet, values, scenarios, {runs.length} shown {runs.length === 1 ? "run" : "runs"} on{" "}
        {strips?.length ?? 0} {strips?.length === 1 ? "strip" : "strips"}, claims, versions, and the
        text.
      </p>
      <div className="flex items-center gap-1">
        {KINDS.map(([kind, words]) => (
          <button
            key={kind}
            type="button"
            className="btn btn-sm font-normal"
            disabled={busy}
            onClick={() => void make(kind)}
            data-testid={`report-${kind}`}
          >
            {words}
          </button>
        ))}
        {busy && <span className="muted">Writing…</span>}
      </div>
      {fault && (
        <p className="text-error pt-1" role="alert">
          ✕ {fault}
        </p>
      )}
    </div>
  );
}

function printed(page: string): void {
  const frame = document.createElement("iframe");
  frame.style.display = "none";
  frame.srcdoc = page;
  frame.onload = () => {
    frame.contentWindow?.print();
    setTimeout(() => frame.remove(), 60_000);
  };
  document.body.append(frame);
}
