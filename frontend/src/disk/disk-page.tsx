import { useQuery } from "@tanstack/react-query";
import { ArrowLeft } from "lucide-react";
import { useEffect } from "react";
import { Link } from "react-router";

import { ask, asRefusal, client, type Schemas } from "../api/client";
import { bytes } from "../ui/bytes";
import { ThemeButton } from "../ui/theme-button";
import { Wordmark } from "../ui/wordmark";

type Room = Schemas["Room"];

const total = (project: Room) => project.results + project.texts + project.files;

/** What uses the disk, by project. */
export default function DiskPage() {
  const use = useQuery({ queryKey: ["disk"], queryFn: () => ask(client.GET("/api/disk")) });
  useEffect(() => {
    document.title = "Disk use · movrel";
  }, []);
  return (
    <div className="min-h-full">
      <header className="rule-b flex h-11 items-center gap-4 bg-base-100 px-4">
        <Wordmark />
        <Link to="/" className="btn btn-ghost btn-sm">
          <ArrowLeft size={14} /> Projects
        </Link>
        <span className="ml-auto" />
        <ThemeButton />
      </header>
      <main className="mx-auto max-w-4xl p-6">
        <h1 className="pb-1 text-[20px] font-semibold">Disk use</h1>
        {use.error && (
          <p role="alert" className="text-error">
            ✕ {asRefusal(use.error).sentence}
          </p>
        )}
        {use.isPending && <p className="muted">Adding up…</p>}
        {use.data && <Use use={use.data} />}
      </main>
    </div>
  );
}

function Use({ use }: { use: Schemas["DiskUse"] }) {
  const largest = Math.max(1, ...use.projects.map(total));
  return (
    <>
      <p className="pb-4" data-testid="disk-sentence">
        The database takes {bytes(use.database)} with its indices.
        {use.free !== null && ` ${bytes(use.free)} are free on its disk.`} What was deleted can be
        brought back for {use.kept_for} days and leaves then.
      </p>
      {use.projects.length === 0 ? (
        <p className="muted py-10 text-center text-[15px]">There is no project yet.</p>
      ) : (
        <table className="w-full" data-testid="disk-table">
          <thead>
            <tr className="muted rule-b text-right">
              <th className="py-1 text-left font-semibold">Project</th>
              <th className="font-semibold">Results of runs</th>
              <th className="font-semibold">Texts, history</th>
              <th className="font-semibold">Files</th>
              <th className="font-semibold">Together</th>
              <td className="w-1/5" />
            </tr>
          </thead>
          <tbody>
            {use.projects.map((project) => (
              <Line key={project.project} project={project} largest={largest} />
            ))}
          </tbody>
        </table>
      )}
      <p className="muted pt-4">
        To free room, delete runs and sweeps in the run menu of their model: pinned ones stay. Sizes
        are as stored, compressed.
      </p>
    </>
  );
}

function Line({ project, largest }: { project: Room; largest: number }) {
  return (
    <tr className="rule-b text-right" data-testid={`disk-${project.name}`}>
      <td className="max-w-60 truncate py-1.5 text-left" title={project.name}>
        {project.name}
        {project.deleted && <span className="muted"> (deleted)</span>}
      </td>
      <td className="mono">{bytes(project.results)}</td>
      <td className="mono">{bytes(project.texts)}</td>
      <td className="mono">{bytes(project.files)}</td>
      <td className="mono font-semibold">{bytes(total(project))}</td>
      <td className="pl-4">
        <div
          className="h-2 bg-base-content/60"
          style={{ width: `${Math.max(1, (100 * total(project)) / largest)}%` }}
        />
      </td>
    </tr>
  );
}
