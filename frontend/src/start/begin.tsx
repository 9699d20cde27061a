import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Plus, Upload } from "lucide-react";
import { useRef, useState } from "react";

import { ask, asRefusal, client } from "../api/client";
import { keys } from "../api/queries";
import { FileInput } from "../ui/file-input";

/** New projects: empty ones, copies of examples, and what somebody sent as an archive. */
export function Begin() {
  const cache = useQueryClient();
  const [naming, setNaming] = useState<{ example: string | null; name: string } | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const examples = useQuery({
    queryKey: ["examples"],
    queryFn: () => ask(client.GET("/api/examples")),
    staleTime: Infinity,
  });
  const done = () => {
    setNaming(null);
    return cache.invalidateQueries({ queryKey: keys.projects });
  };
  const create = useMutation({
    mutationFn: (order: { example: string | null; name: string }): Promise<unknown> =>
      order.example === null
        ? ask(client.POST("/api/projects", { body: { name: order.name } }))
        : ask(client.POST("/api/examples", { body: { example: order.example, name: order.name } })),
    onSuccess: done,
  });
  const bring = useMutation({
    mutationFn: (chosen: File) =>
      ask(
        client.POST("/api/archives/{name}", {
          params: { path: { name: chosen.name.replace(/\.zip$/i, "") || "Imported" } },
          body: chosen as never,
          bodySerializer: (body: unknown) => body as Blob,
          headers: { "Content-Type": "application/zip" },
        }),
      ),
    onSuccess: done,
  });
  const fault = create.error ?? bring.error;
  return (
    <div className="flex flex-wrap items-center justify-end gap-2 pb-4">
      {fault && (
        <p role="alert" className="mr-auto text-error" data-testid="begin-fault">
          ✕ {asRefusal(fault).sentence}
        </p>
      )}
      {naming ? (
        <form
          className="flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (naming.name.trim()) create.mutate(naming);
          }}
        >
          <input
            autoFocus
            className="input input-sm w-56"
            placeholder="Name of the project"
            aria-label="Name of the new project"
            value={naming.name}
            onChange={(event) => setNaming({ ...naming, name: event.target.value })}
            onKeyDown={(event) => event.key === "Escape" && setNaming(null)}
            data-testid="new-project-name"
          />
          <button
            type="submit"
            className="btn btn-sm btn-primary"
            disabled={!naming.name.trim() || create.isPending}
            data-testid="new-project-make"
          >
            Create
          </button>
        </form>
      ) : (
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => setNaming({ example: null, name: "" })}
          data-testid="new-project"
        >
          <Plus size={14} /> New project
        </button>
      )}
      <select
        className="select select-sm w-52"
        value=""
        aria-label="Create a project from an example"
        onChange={(event) =>
          setNaming({
            example: event.target.value,
            name: `My ${event.target.selectedOptions[0]!.text}`,
          })
        }
        data-testid="from-example"
      >
        <option value="" disabled>
          New from an example
        </option>
        {examples.data?.examples.map((example) => (
          <option key={example.name} value={example.name} title={example.description}>
            {example.title}
          </option>
        ))}
      </select>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => file.current?.click()}
        disabled={bring.isPending}
      >
        <Upload size={14} /> Import an archive
      </button>
      <FileInput
        inputRef={file}
        accept=".zip"
        label="Archive of a project"
        testid="archive"
        onFile={(chosen) => bring.mutate(chosen)}
      />
    </div>
  );
}
