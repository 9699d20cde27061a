import { FileText } from "lucide-react";
import { useState } from "react";

import { asRefusal, type ModelView, type RunDetail } from "../api/client";
import { save } from "../recorder/svg";
import { useView } from "../workspace/state";

/** The page about the model with the shown runs, saved as a document or printed (to PDF too). */
export function ReportMenu({ view, runs, onFault }: { view: ModelView; runs: RunDetail[]; onFault: (sentence: string) => void }) {
  const strips = useView((s) => s.strips);
  const [busy, setBusy] = useState(false);
  const make = async (print: boolean) => {
    setBusy(true);
    try {
      const { reportOf } = await import("./report");
      const page = await reportOf(view, runs, strips ?? []);
      if (!print) save(`${view.sheet.name}.html`, new Blob([page], { type: "text/html" }));
      else {
        const frame = document.createElement("iframe");
        frame.style.display = "none";
        frame.srcdoc = page;
        frame.onload = () => {
          frame.contentWindow?.print();
          setTimeout(() => frame.remove(), 60_000);
        };
        document.body.append(frame);
      }
    } catch (fault) {
      onFault(`the report could not be made: ${asRefusal(fault).sentence}`);
    } finally {
      setBusy(false);
    }
  };
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs shrink-0"
      disabled={busy}
      onClick={(event) => void make(event.shiftKey)}
      title="One page about the model and the shown runs, as HTML; with Shift to the printer or a PDF"
      data-testid="report"
    >
      <FileText size={13} /> {busy ? "Writing…" : "Report"}
    </button>
  );
}
