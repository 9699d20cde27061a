import { useMutation, useQueryClient } from "@tanstack/react-query";
import { MoreHorizontal } from "lucide-react";
import { useState, type ReactNode } from "react";

import { ask, asRefusal, client, type ProjectView } from "../api/client";
import { keys } from "../api/queries";
import { useDeleted } from "./deleted";

/** A small menu behind three dots; `words` says whose. */
function Menu({
  words,
  testid,
  fault,
  children,
}: {
  words: string;
  testid: string;
  fault: unknown;
  children: (close: () => void) => ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <div className="relative" onKeyDown={(event) => event.key === "Escape" && setOpen(false)}>
      <button
        type="button"
        className="btn btn-ghost btn-sm px-1.5"
        aria-label={words}
        title={words}
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        data-testid={testid}
      >
        <MoreHorizontal size={16} />
      </button>
      {open && (
        <>
          <div className="fixed inset-0 z-30" onClick={() => setOpen(false)} aria-hidden="true" />
          <div
            className="absolute top-8 right-0 z-40 w-60 border border-base-300 bg-base-100 py-1 shadow-md"
            role="menu"
          >
            {children(() => setOpen(false))}
          </div>
        </>
      )}
      {fault !== null && fault !== undefined && (
        <p
          role="alert"
          className="absolute top-8 right-0 z-20 w-72 border border-error bg-base-100 p-2 text-error"
          data-testid={`${testid}-fault`}
        >
          ✕ {asRefusal(fault).sentence}
        </p>
      )}
    </div>
  );
}

const ENTRY = "block w-full px-3 py-1 text-left hover:bg-base-200";

/** What can be done with a whole model. */
export function ModelMenu({
  project,
  model,
  name,
  others,
}: {
  project: ProjectView;
  model: string;
  name: string;
  others: ProjectView[];
}) {
  const cache = useQueryClient();
  const note = useDeleted((s) => s.note);
  const path = { project: project.id, model };
  const [copying, setCopying] = useState<{ to: number; name: string } | null>(null);
  const refresh = () => cache.invalidateQueries({ queryKey: keys.projects });
  const copy = useMutation({
    mutationFn: (order: { to: number; name: string }) =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/copy", {
          params: { path },
          body: { name: order.name, project: order.to },
        }),
      ),
    onSuccess: () => {
      setCopying(null);
      return refresh();
    },
  });
  const move = useMutation({
    mutationFn: (to: number) =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/move", {
          params: { path },
          body: { project: to },
        }),
      ),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: () =>
      ask(client.POST("/api/projects/{project}/models/{model}/delete", { params: { path } })),
    onSuccess: (answer) => {
      note({ words: `${name} was deleted.`, file: answer.file });
      return refresh();
    },
  });
  if (copying) {
    return (
      <form
        className="flex shrink-0 flex-wrap justify-end gap-1"
        onSubmit={(event) => {
          event.preventDefault();
          copy.mutate(copying);
        }}
      >
        <input
          autoFocus
          className="input input-xs w-36"
          value={copying.name}
          aria-label="Name of the copy"
          onChange={(e) => setCopying({ ...copying, name: e.target.value })}
          onKeyDown={(e) => e.key === "Escape" && setCopying(null)}
          data-testid="copy-name"
        />
        <button
          type="submit"
          className="btn btn-xs btn-primary"
          disabled={!copying.name.trim() || copy.isPending}
        >
          Copy
        </button>
        {copy.error && (
          <p className="w-full text-right text-error">✕ {asRefusal(copy.error).sentence}</p>
        )}
      </form>
    );
  }
  return (
    <Menu
      words={`What to do with ${name}`}
      testid={`menu-${model}`}
      fault={move.error ?? remove.error}
    >
      {(close) => (
        <>
          <button
            type="button"
            role="menuitem"
            className={ENTRY}
            onClick={() => (close(), setCopying({ to: project.id, name: `${name}2` }))}
            data-testid="menu-copy"
          >
            Copy
          </button>
          {others.map((other) => (
            <div key={other.id}>
              <button
                type="button"
                role="menuitem"
                className={ENTRY}
                onClick={() => (close(), setCopying({ to: other.id, name }))}
              >
                Copy to {other.name}
              </button>
              <button
                type="button"
                role="menuitem"
                className={ENTRY}
                onClick={() => (close(), move.mutate(other.id))}
              >
                Move to {other.name}
              </button>
            </div>
          ))}
          <a
            role="menuitem"
            className={ENTRY}
            href={`/api/projects/${project.id}/models/${encodeURIComponent(model)}/download`}
            download
            onClick={close}
          >
            Export as .mo
          </a>
          <button
            type="button"
            role="menuitem"
            className={ENTRY}
            onClick={() => (close(), remove.mutate())}
            data-testid="menu-delete"
          >
            Delete
          </button>
        </>
      )}
    </Menu>
  );
}

/** What can be done with a whole project. */
export function ProjectMenu({ project }: { project: ProjectView }) {
  const cache = useQueryClient();
  const note = useDeleted((s) => s.note);
  const [naming, setNaming] = useState<string | null>(null);
  const path = { project: project.id };
  const refresh = () => cache.invalidateQueries({ queryKey: keys.projects });
  const rename = useMutation({
    mutationFn: (name: string) =>
      ask(client.POST("/api/projects/{project}/name", { params: { path }, body: { name } })),
    onSuccess: () => {
      setNaming(null);
      return refresh();
    },
  });
  const remove = useMutation({
    mutationFn: () => ask(client.DELETE("/api/projects/{project}", { params: { path } })),
    onSuccess: () => {
      note({ words: `The project ${project.name} was deleted.`, project: project.id });
      return refresh();
    },
  });
  if (naming !== null) {
    return (
      <form
        onSubmit={(event) => {
          event.preventDefault();
          rename.mutate(naming);
        }}
      >
        <input
          autoFocus
          className="input input-sm w-48"
          value={naming}
          aria-label="Name of the project"
          onChange={(e) => setNaming(e.target.value)}
          onKeyDown={(e) => e.key === "Escape" && setNaming(null)}
        />
      </form>
    );
  }
  return (
    <Menu
      words={`What to do with the project ${project.name}`}
      testid={`menu-project-${project.id}`}
      fault={rename.error ?? remove.error}
    >
      {(close) => (
        <>
          <button
            type="button"
            role="menuitem"
            className={ENTRY}
            onClick={() => (close(), setNaming(project.name))}
          >
            Rename
          </button>
          <a
            role="menuitem"
            className={ENTRY}
            href={`/api/projects/${project.id}/archive`}
            download
            onClick={close}
            data-testid="menu-archive"
          >
            Export as an archive
          </a>
          <button
            type="button"
            role="menuitem"
            className={ENTRY}
            onClick={() => (close(), remove.mutate())}
          >
            Delete
          </button>
        </>
      )}
    </Menu>
  );
}
