import { useMutation, useQueryClient } from "@tanstack/react-query";
import * as Radix from "@radix-ui/react-dropdown-menu";
import { MoreHorizontal } from "lucide-react";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";

import { ask, asRefusal, client, type ProjectView } from "../api/client";
import { keys } from "../api/queries";
import { PANEL } from "../ui/panel";
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
  children: ReactNode;
}) {
  return (
    <div className="relative">
      <Radix.Root>
        <Radix.Trigger
          type="button"
          className="btn btn-ghost btn-sm px-1.5"
          aria-label={words}
          title={words}
          data-testid={testid}
        >
          <MoreHorizontal size={16} />
        </Radix.Trigger>
        <Radix.Portal>
          <Radix.Content
            align="end"
            className={`${PANEL} max-h-(--radix-dropdown-menu-content-available-height) w-60 overflow-y-auto py-1`}
            aria-label={words}
          >
            {children}
          </Radix.Content>
        </Radix.Portal>
      </Radix.Root>
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

const ENTRY =
  "block w-full cursor-default px-3 py-1 text-left outline-none data-highlighted:bg-base-200";

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
  const address = `/api/projects/${project.id}/models/${encodeURIComponent(model)}`;
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
      <Radix.Item
        className={ENTRY}
        onSelect={() => setCopying({ to: project.id, name: `${name}2` })}
        data-testid="menu-copy"
      >
        Copy
      </Radix.Item>
      {others.map((other) => (
        <div key={other.id}>
          <Radix.Item className={ENTRY} onSelect={() => setCopying({ to: other.id, name })}>
            Copy to {other.name}
          </Radix.Item>
          <Radix.Item className={ENTRY} onSelect={() => move.mutate(other.id)}>
            Move to {other.name}
          </Radix.Item>
        </div>
      ))}
      {project.models
        .filter((other) => other.model !== model && other.last_run)
        .map((other) => (
          <Radix.Item key={other.model} className={ENTRY} asChild>
            <Link
              to={`/projects/${project.id}/models/${encodeURIComponent(model)}?compare=${other.last_run!.id}`}
              data-testid={`menu-compare-${other.model}`}
            >
              Compare with {other.name}
            </Link>
          </Radix.Item>
        ))}
      <Radix.Item className={ENTRY} asChild>
        <a href={`${address}/download`} download>
          Export its file (.mo)
        </a>
      </Radix.Item>
      <Radix.Item className={ENTRY} asChild>
        <a href={`${address}/modelica?form=alone`} download data-testid="menu-alone">
          Export as one file with all it uses
        </a>
      </Radix.Item>
      <Radix.Item className={ENTRY} asChild>
        <a href={`${address}/modelica?form=archive`} download>
          Export as a package folder (archive)
        </a>
      </Radix.Item>
      <Radix.Item className={ENTRY} onSelect={() => remove.mutate()} data-testid="menu-delete">
        Delete
      </Radix.Item>
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
      <Radix.Item className={ENTRY} onSelect={() => setNaming(project.name)}>
        Rename
      </Radix.Item>
      <Radix.Item className={ENTRY} asChild>
        <a
          href={`/api/projects/${project.id}/archive`}
          download

          data-testid="menu-archive"
        >
          Export as an archive
        </a>
      </Radix.Item>
      <Radix.Item className={ENTRY} onSelect={() => remove.mutate()}>
        Delete
      </Radix.Item>
    </Menu>
  );
}
