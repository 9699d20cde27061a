import { useEffect, useRef, useState } from "react";

import { asRefusal, type ProjectView } from "../api/client";
import { useDrawing } from "../api/queries";
import { Thumbnail } from "../drawing/thumbnail";

/** Pixels outside the window from which on a drawing is asked for. */
const AHEAD = "300px";

/** The drawing of a model on its tile, asked for when the tile comes near the window; its fault where it has none. */
export function Drawing({
  project,
  model,
}: {
  project: number;
  model: ProjectView["models"][number];
}) {
  const place = useRef<HTMLDivElement>(null);
  const near = useNear(place);
  const drawing = useDrawing(project, model.model, model.revision, near && !model.problem);
  const problem = model.problem?.message ?? (drawing.error && asRefusal(drawing.error).message);
  return (
    <div ref={place} className="h-full">
      {problem ? (
        <p className="grid h-full place-items-center overflow-hidden text-error">✕ {problem}</p>
      ) : (
        drawing.data && <Thumbnail sheet={drawing.data.sheet} />
      )}
    </div>
  );
}

/** Whether an element has come near the window. */
function useNear(place: React.RefObject<HTMLElement | null>): boolean {
  const [near, setNear] = useState(typeof IntersectionObserver === "undefined");
  useEffect(() => {
    if (near || !place.current) return;
    const observer = new IntersectionObserver(
      (entries) => entries.some((entry) => entry.isIntersecting) && setNear(true),
      { rootMargin: AHEAD },
    );
    observer.observe(place.current);
    return () => observer.disconnect();
  }, [near, place]);
  return near;
}
