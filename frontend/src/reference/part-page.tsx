import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ArrowLeft } from "lucide-react";
import { useEffect } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { ask, asRefusal, client, type Schemas } from "../api/client";
import { keys } from "../api/queries";
import { Formula } from "../ui/formulae";
import { Scrolled } from "../ui/scrolled";
import { ThemeButton } from "../ui/theme-button";
import { Wordmark } from "../ui/wordmark";
import { Rendered } from "../description/rendered";
import { formatUnit } from "../ui/format";
import { PartSymbol } from "./part-symbol";

type Page = Schemas["PartPage"];

/** A part of the library looked up, with the way back to the model from which it was opened. */
export default function PartPage() {
  const parameters = useParams();
  const project = Number(parameters.project);
  const model = parameters.model ?? "";
  const part = parameters.part ?? "";
  const page = useQuery({
    queryKey: ["part", project, part],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/parts/{part}", { params: { path: { project, part } } }),
      ),
    retry: false,
  });
  useEffect(() => {
    document.title = `${part.split(".").at(-1)} · movrel`;
  }, [part]);
  return (
    <div className="flex h-full flex-col">
      <header className="rule-b flex items-center gap-4 bg-base-100 px-3 py-1.5">
        <Wordmark />
        <Link
          to={`/projects/${project}/models/${encodeURIComponent(model)}`}
          className="btn btn-ghost btn-sm"
          data-testid="back-to-model"
        >
          <ArrowLeft size={14} /> {model.split(".").at(-1)}
        </Link>
        <span className="ml-auto" />
        <ThemeButton />
      </header>
      <main className="min-h-0 flex-1 overflow-y-auto bg-base-100">
        {page.error && (
          <p role="alert" className="p-6 text-error">
            ✕ {asRefusal(page.error).sentence}
          </p>
        )}
        {page.data ? (
          <Sheet page={page.data} project={project} />
        ) : (
          !page.error && <p className="muted p-6">Opening…</p>
        )}
      </main>
    </div>
  );
}

function Sheet({ page, project }: { page: Page; project: number }) {
  return (
    <article className="mx-auto max-w-5xl px-6 py-5" data-testid="part-page">
      <div className="flex items-start gap-6">
        <PartSymbol icon={page.icon} name={page.name} />
        <div className="min-w-0">
          <p className="muted">{page.package}</p>
          <h1 className="text-[20px] font-semibold">{page.name}</h1>
          <p className="text-[15px]">{page.description}</p>
          <p className="mono muted mt-1">{page.class}</p>
          {page.synonyms.length > 0 && (
            <p className="muted mt-1">Also found as: {page.synonyms.join(", ")}</p>
          )}
        </div>
      </div>
      {page.info && (
        <section className="documentation mt-4" aria-label="What it does">
          <Rendered info={page.info} />
        </section>
      )}
      {page.source && (
        <p className="mt-2" data-testid="part-source">
          <span className="muted">Source:</span> {page.source}
        </p>
      )}
      <div className="mt-5 grid grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)] gap-x-8 gap-y-5">
        <section aria-label="Equations">
          <Heading>Equations</Heading>
          {page.fault && (
            <p className="muted">They depend on values that are not set yet: {page.fault}</p>
          )}
          {page.equations.map((latex, i) => (
            <Scrolled key={i} label={`Equation ${i + 1}`} className="py-0.5">
              <Formula latex={latex} />
            </Scrolled>
          ))}
        </section>
        <div className="flex flex-col gap-5">
          <Parameters page={page} />
          <section aria-label="Ports">
            <Heading>Ports</Heading>
            <table className="w-full">
              <tbody>
                {page.ports.map((port) => (
                  <tr key={port.name} className="align-baseline">
                    <td className="pr-3 font-medium whitespace-nowrap">
                      {port.name}
                      {port.array && `[${port.array}]`}
                    </td>
                    <td className="pr-3">{port.description}</td>
                    <td className="muted whitespace-nowrap">
                      {port.domain}
                      {port.direction && `, ${port.direction}`}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
          <Examples page={page} project={project} />
        </div>
      </div>
    </article>
  );
}

function Heading({ children }: { children: string }) {
  return <h2 className="muted rule-b mb-1 pb-1 text-[12px] font-semibold">{children}</h2>;
}

function Parameters({ page }: { page: Page }) {
  if (page.parameters.length === 0) return null;
  return (
    <section aria-label="Parameters">
      <Heading>Parameters</Heading>
      <table className="w-full">
        <tbody>
          {page.parameters.map((row) => {
            const bounds = [row.minimum && `≥ ${row.minimum}`, row.maximum && `≤ ${row.maximum}`]
              .filter(Boolean)
              .join(", ");
            return (
              <tr
                key={row.name}
                className="align-baseline"
                data-testid={`part-parameter-${row.name}`}
              >
                <td className="pr-3 font-medium whitespace-nowrap">{row.name}</td>
                <td className="pr-3">
                  {row.description}
                  {row.derived && <span className="muted"> (follows from the others)</span>}
                  {bounds && <span className="muted"> {bounds}</span>}
                </td>
                <td className="mono max-w-40 truncate pr-1.5 text-right" title={row.default}>
                  {row.default}
                </td>
                <td className="muted whitespace-nowrap">{formatUnit(row.unit)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

function Examples({ page, project }: { page: Page; project: number }) {
  const navigate = useNavigate();
  const cache = useQueryClient();
  const open = useMutation({
    mutationFn: (part: string) =>
      ask(
        client.POST("/api/projects/{project}/parts/{part}/open", {
          params: { path: { project, part } },
        }),
      ),
    onSuccess: async (made) => {
      await cache.invalidateQueries({ queryKey: keys.projects });
      await navigate(`/projects/${made.project}/models/${encodeURIComponent(made.model)}`);
    },
  });
  if (page.examples.length === 0) return null;
  return (
    <section aria-label="Examples">
      <Heading>Examples</Heading>
      <ul>
        {page.examples.map((example) => (
          <li key={example.class} className="flex items-baseline gap-3 py-0.5">
            <span className="min-w-0 flex-1">
              <span className="font-medium">{example.name}</span>{" "}
              <span className="muted">{example.description}</span>
            </span>
            <button
              type="button"
              className="btn btn-sm"
              disabled={open.isPending}
              onClick={() => open.mutate(example.class)}
              title="Copy it into this project and open it"
              data-testid={`open-${example.name}`}
            >
              Open
            </button>
          </li>
        ))}
      </ul>
      {open.error && (
        <p role="alert" className="text-error">
          ✕ {asRefusal(open.error).sentence}
        </p>
      )}
    </section>
  );
}
