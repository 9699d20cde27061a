import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useRef, useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { keys } from "../api/queries";
import { usePlace } from "../state/place";
import type { Edits } from "../state/use-edits";
import { FileInput } from "../ui/file-input";
import { ago } from "../ui/format";
import { type Chosen, SideGroup, SideList } from "../ui/side-list";
import { kindWords } from "./choices";
import { ForeignUnit } from "./foreign-unit";
import { MadeUnit } from "./made-unit";
import { NewUnit } from "./new-unit";
import { SignalTable } from "./signal-table";

const STATES: Record<string, string> = {
  waiting: "waiting",
  running: "being compiled",
  done: "ready",
  failed: "failed",
};

interface Props {
  view: ModelView;
  edits: Edits;
  onPlace: () => { x: number; y: number };
}

/** One of the lists and what is chosen in it. */
type Shown = { list: "made" | "foreign" | "table"; id: Chosen };

/** Units of the Functional Mock-up Interface: those made of the model, the page of choices for another one, and those
 * of others in the project. */
export default function UnitsView({ view, edits, onPlace }: Props) {
  const [chosen, setChosen] = useState<Shown | null>(null);
  const cache = useQueryClient();
  const setView = usePlace((s) => s.setView);
  const picker = useRef<HTMLInputElement>(null);
  const tables = useRef<HTMLInputElement>(null);
  const look = useMutation({
    mutationFn: async ({ file, time }: { file: File; time: string }) => ({
      file,
      preview: await ask(
        client.POST("/api/projects/{project}/signal-tables/{name}/preview", {
          params: { path: { project: view.project, name: file.name }, query: { time } },
          body: file as never,
          bodySerializer: (body: unknown) => body as Blob,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
    }),
    onSuccess: () => setChosen({ list: "table", id: "new" }),
  });
  const made = useQuery({
    queryKey: ["units", view.project, view.model],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/units", {
          params: { path: { project: view.project, model: view.model } },
        }),
      ),
    refetchInterval: (query) =>
      query.state.data?.units.some((u) => u.state === "waiting" || u.state === "running")
        ? 500
        : false,
  });
  const foreign = useQuery({
    queryKey: keys.foreignUnits(view.project),
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/foreign-units", {
          params: { path: { project: view.project } },
        }),
      ),
  });
  const bring = useMutation({
    mutationFn: (file: File) =>
      ask(
        client.POST("/api/projects/{project}/foreign-units/{name}", {
          params: { path: { project: view.project, name: file.name } },
          body: file as never,
          bodySerializer: (body: unknown) => body as Blob,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
    onSuccess: (page) => {
      cache.setQueryData(keys.foreignUnit(page.unit.id), page);
      void cache.invalidateQueries({ queryKey: keys.foreignUnits(view.project) });
      setChosen({ list: "foreign", id: page.unit.id });
    },
  });
  const units = made.data?.units ?? [];
  const others = foreign.data?.units ?? [];
  const shown: Shown = chosen ?? { list: "made", id: units[0]?.id ?? "new" };
  const unit = shown.list === "made" && units.find((u) => u.id === shown.id);
  const other = shown.list === "foreign" && others.find((u) => u.id === shown.id);
  const leave = () => setChosen(null);
  return (
    <div className="flex h-full bg-base-100" data-testid="units-view">
      <SideList
        label="Units"
        noun="unit"
        entries={units.map((u) => ({
          id: u.id,
          name: u.name,
          title: kindWords(u.choices),
          words: `${u.choices.ssp ? `SSP ${u.choices.ssp}` : u.choices.interfaces.join(" + ").toUpperCase()}, ${STATES[u.state]}, ${ago(u.created)}`,
        }))}
        shown={shown.list === "made" ? shown.id : null}
        onChoose={(id) => setChosen({ list: "made", id })}
      >
        <h2 className="rule-t mt-2 px-3 pt-2 font-semibold">Units of others</h2>
        <SideGroup
          noun="foreign unit"
          begin="Take in files"
          entries={others.map((u) => ({
            id: u.id,
            name: u.name,
            title: u.path,
            words: u.allowed ? `may run, ${ago(u.created)}` : "may not run yet",
          }))}
          shown={shown.list === "foreign" ? shown.id : null}
          onChoose={(id) =>
            id === "new" ? picker.current?.click() : setChosen({ list: "foreign", id })
          }
        />
        <FileInput
          inputRef={picker}
          accept=".fmu"
          label="Units of others, files that end in .fmu"
          several
          testid="foreign-unit-file"
          onFile={(file) => bring.mutate(file)}
        />
        {!view.rig && (
          <button
            type="button"
            className="px-3 py-1 text-left underline"
            onClick={() => setView("rig")}
            title="Each part as a unit with its own solver, signals exchanged at communication points"
            data-testid="to-rig"
          >
            Couple parts as a rig
          </button>
        )}
        <h2 className="rule-t mt-2 px-3 pt-2 font-semibold">Signal tables</h2>
        <button
          type="button"
          className="flex w-full items-center gap-1 px-3 py-1 text-left hover:bg-base-200"
          onClick={() => tables.current?.click()}
          data-testid="new-signal-table"
        >
          <Plus size={13} /> Signals from a file
        </button>
        <FileInput
          inputRef={tables}
          accept=".csv,.txt,.tsv,.parquet,.xlsx"
          label="A table of signals: CSV, Parquet or spreadsheet"
          testid="signal-table-file"
          onFile={(file) => look.mutate({ file, time: "" })}
        />
        {look.isPending && <p className="muted px-3 py-1">Reading it…</p>}
        {look.error && (
          <p role="alert" className="px-3 py-1 text-error" data-testid="signal-table-refusal">
            {asRefusal(look.error).sentence}
          </p>
        )}
        {bring.isPending && <p className="muted px-3 py-1">Reading it…</p>}
        {bring.error && (
          <p role="alert" className="px-3 py-1 text-error" data-testid="foreign-unit-refusal">
            {asRefusal(bring.error).sentence}
          </p>
        )}
      </SideList>
      <div className="min-w-0 flex-1 overflow-auto">
        {unit && <MadeUnit view={view} unit={unit} onGone={leave} />}
        {other && (
          <ForeignUnit
            key={other.id}
            view={view}
            edits={edits}
            number={other.id}
            onPlace={onPlace}
            onGone={leave}
          />
        )}
        {shown.list === "table" && look.data && (
          <SignalTable
            key={`${look.data.file.name} ${look.data.preview.time}`}
            view={view}
            edits={edits}
            file={look.data.file}
            preview={look.data.preview}
            onTime={(time) => look.mutate({ file: look.data.file, time })}
            onPlace={onPlace}
          />
        )}
        {!unit && !other && shown.list !== "table" && made.data && (
          <NewUnit
            view={view}
            platforms={made.data.platforms}
            onOrdered={(id) => setChosen({ list: "made", id })}
          />
        )}
      </div>
    </div>
  );
}
