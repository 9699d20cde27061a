import { useQuery } from "@tanstack/react-query";
import { Network } from "lucide-react";
import { Link, useNavigate, useSearchParams } from "react-router";

import { ask, client, type ModelView, type Schemas } from "../api/client";
import { useKeys } from "../ui/keys";
import { Popover } from "../ui/popover";
import { address, readSteps, type Step } from "./steps";

/** Where one is: project, model, and the parts one stepped into. */
export function PlaceInModel({ view }: { view: ModelView }) {
  const [search] = useSearchParams();
  const navigate = useNavigate();
  let steps = readSteps(search.get("via"));
  // An assembly that was opened by its address lies in the models around it.
  if (steps.length === 0 && view.inside.length > 0)
    steps = view.inside.map((model, i) => ({
      model,
      part: (view.inside[i + 1] ?? view.model).split(".").at(-1)!,
    }));
  const root = steps[0]?.model ?? view.model;
  const up = steps.length ? address(view.project, steps.at(-1)!.model, steps.slice(0, -1)) : null;
  useKeys({ u: () => up && void navigate(up) });
  return (
    <nav className="flex min-w-0 shrink items-center gap-1" aria-label="Place">
      <Link to="/" className="muted shrink-0 hover:text-base-content">
        {view.project_name}
      </Link>
      <span className="muted">/</span>
      {steps.map((step, i) => (
        <span key={`${step.model} ${step.part}`} className="flex shrink-0 items-center gap-1">
          <Link
            to={address(view.project, step.model, steps.slice(0, i))}
            className="hover:underline"
            data-testid={`place-${i}`}
            title={`Step out to ${step.model} (U)`}
          >
            {i === 0 ? step.model.split(".").at(-1) : steps[i - 1]!.part}
          </Link>
          <span className="muted">▸</span>
        </span>
      ))}
      <h1 className="truncate font-semibold" data-testid="model-name" title={view.model}>
        {steps.length ? steps.at(-1)!.part : view.sheet.name}
      </h1>
      <HierarchyMap view={view} root={root} />
    </nav>
  );
}

/** The tree of parts and of the parts inside these. */
function HierarchyMap({ view, root }: { view: ModelView; root: string }) {
  return (
    <Popover
      label={<Network size={15} />}
      words="Map of the parts"
      title="Map of the parts"
      className="btn btn-ghost btn-sm shrink-0 px-1.5"
      panelClass="max-h-[70vh] w-80 overflow-y-auto py-2"
      testid="map"
      panelId="map-tree"
    >
      {(close) => <PartTree view={view} root={root} onGo={close} />}
    </Popover>
  );
}

function PartTree({ view, root, onGo }: { view: ModelView; root: string; onGo: () => void }) {
  const tree = useQuery({
    queryKey: ["hierarchy", view.project, root, view.revision],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/hierarchy", {
          params: { path: { project: view.project, model: root } },
        }),
      ),
  });
  return (
    <>
      <Link
        to={address(view.project, root, [])}
        className="block px-3 py-0.5 font-medium hover:bg-base-200"
        onClick={onGo}
      >
        {root.split(".").at(-1)}
      </Link>
      {tree.data && (
        <Branches
          project={view.project}
          branches={tree.data.parts}
          model={root}
          steps={[]}
          current={view.model}
          onGo={onGo}
        />
      )}
      {tree.data?.parts.length === 0 && <p className="muted px-3">It has no parts.</p>}
    </>
  );
}

interface BranchesProps {
  project: number;
  branches: Schemas["Branch"][];
  model: string;
  steps: Step[];
  current: string;
  onGo: () => void;
}

function Branches({ project, branches, model, steps, current, onGo }: BranchesProps) {
  return (
    <ul className="pl-4">
      {branches.map((branch) => {
        const inside = [...steps, { model, part: branch.name }];
        return (
          <li key={branch.name}>
            {branch.opens ? (
              <Link
                to={address(project, branch.class, inside)}
                className={`block px-2 py-0.5 hover:bg-base-200 ${branch.class === current ? "bg-base-200" : ""}`}
                onClick={onGo}
              >
                ▸ {branch.name}{" "}
                <span className="muted">
                  {branch.description || branch.class.split(".").at(-1)}
                </span>
              </Link>
            ) : (
              <span className="block truncate px-2 py-0.5">
                {branch.name} <span className="muted">{branch.description}</span>
              </span>
            )}
            {branch.parts.length > 0 && (
              <Branches
                project={project}
                branches={branch.parts}
                model={branch.class}
                steps={inside}
                current={current}
                onGo={onGo}
              />
            )}
          </li>
        );
      })}
    </ul>
  );
}
