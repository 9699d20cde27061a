import { useEffect } from "react";
import { Link } from "react-router";

import { asRefusal, type ProjectView } from "../api/client";
import { useMoreModels, useProjects } from "../api/queries";
import { ThemeButton } from "../ui/theme-button";
import { Wordmark } from "../ui/wordmark";
import { ago } from "../ui/format";
import { Notice } from "../ui/notice";
import { stateWords } from "../ui/run-words";
import { Begin } from "./begin";
import { Drawing } from "./drawing";
import { ModelMenu, ProjectMenu } from "./menus";
import { NewModel } from "./new-model";
import { TakeIn } from "./take-in";
import { Undoing } from "./undoing";

/** The projects with their models, each with a small drawing and its last run. */
export function StartPage() {
  const projects = useProjects();
  useEffect(() => {
    document.title = "movrel";
  }, []);
  return (
    <div className="min-h-full">
      <header className="rule-b flex h-11 items-center justify-between bg-base-100 px-4">
        <Wordmark />
        <div className="flex items-center gap-2">
          <Link to="/disk" className="btn btn-ghost btn-sm" data-testid="to-disk-use">
            Disk use
          </Link>
          <ThemeButton />
        </div>
      </header>
      <main className="mx-auto max-w-6xl p-6">
        <h1 className="sr-only">Projects</h1>
        {projects.error && (
          <p role="alert" className="text-error">
            ✕ {asRefusal(projects.error).sentence}
          </p>
        )}
        <Begin />
        {projects.isPending && (
          <p role="status" className="muted py-24 text-center text-[15px]">
            Opening the projects…
          </p>
        )}
        {projects.data?.projects.map((project) => (
          <Project
            key={project.id}
            project={project}
            others={projects.data.projects.filter((p) => p.id !== project.id)}
          />
        ))}
        {projects.data?.projects.length === 0 && (
          <p className="muted py-24 text-center text-[15px]">
            There is no project yet. Create one, open an example, or import an archive.
          </p>
        )}
        <Undoing />
      </main>
    </div>
  );
}

function Project({ project, others }: { project: ProjectView; others: ProjectView[] }) {
  const rest = useMoreModels(project);
  const models = [...project.models, ...(rest.data?.pages.flatMap((page) => page.models) ?? [])];
  const plants = models.filter((model) => !model.part);
  const parts = models.filter((model) => model.part);
  const more = rest.data?.pages.at(-1)?.more ?? project.more;
  return (
    <section
      className="pb-10"
      aria-label={`Project ${project.name}`}
      data-testid={`project-${project.name}`}
    >
      <div className="rule-b flex items-end justify-between gap-3 pb-2">
        <h2 className="min-w-0 truncate text-[20px] font-semibold">{project.name}</h2>
        <div className="flex shrink-0 items-center gap-2">
          <NewModel project={project.id} />
          <TakeIn project={project.id} />
          <ProjectMenu project={project} />
        </div>
      </div>
      <Notice project={project.id} />
      {project.problem && (
        <p role="alert" className="py-2 text-error">
          ✕ {project.problem.message}
        </p>
      )}
      {project.models.length === 0 && (
        <p className="muted py-10 text-center text-[15px]">
          No models yet. Begin with a new model, or import Modelica text (.mo, or an archive).
        </p>
      )}
      <Tiles project={project} models={plants} others={others} />
      {parts.length > 0 && (
        <>
          <h3 className="muted rule-b pt-4 pb-1 text-[12px] font-semibold">
            Parts for these models; they have ports and do not run alone
          </h3>
          <Tiles project={project} models={parts} others={others} />
        </>
      )}
      {more > 0 && (
        <button
          type="button"
          className="btn btn-sm"
          disabled={rest.isFetching}
          onClick={() => void rest.fetchNextPage()}
          data-testid={`more-${project.name}`}
        >
          {rest.isFetching
            ? "Fetching more…"
            : `Show more models (${more} of ${models.length + more} are not shown)`}
        </button>
      )}
      {rest.error && (
        <p role="alert" className="py-2 text-error">
          ✕ {asRefusal(rest.error).sentence}
        </p>
      )}
    </section>
  );
}

/** Models as tiles, each with its drawing and its last run. */
function Tiles({
  project,
  models,
  others,
}: {
  project: ProjectView;
  models: ProjectView["models"];
  others: ProjectView[];
}) {
  return (
    <ul className="grid grid-cols-1 gap-x-8 sm:grid-cols-2 lg:grid-cols-3">
      {models.map((model) => (
        <li key={model.model} className="py-4">
          <Link
            to={`/projects/${project.id}/models/${encodeURIComponent(model.model)}`}
            className="group block"
            data-testid={`model-${model.model}`}
          >
            <div className="h-44 border border-base-300 bg-base-200 p-2 group-hover:border-base-content">
              <Drawing project={project.id} model={model} />
            </div>
            <div className="flex items-baseline justify-between gap-3 pt-2">
              <h3 className="truncate text-[15px] font-semibold">{model.name}</h3>
              <span className="muted shrink-0" data-testid={`last-run-${model.model}`}>
                {model.last_run
                  ? `${stateWords(model.last_run)}, ${ago(model.last_run.ended ?? model.last_run.created)}`
                  : "not run yet"}
              </span>
            </div>
          </Link>
          <div className="flex items-start justify-between gap-2">
            <p className="muted">{model.description}</p>
            <ModelMenu project={project} model={model.model} name={model.name} others={others} />
          </div>
        </li>
      ))}
    </ul>
  );
}
