import { usePlace } from "../state/place";

/** What a person reads on a sheet on which nothing is drawn yet. */
export function EmptySheet({ onComponent }: { onComponent: (kind: "equations") => void }) {
  const setView = usePlace((s) => s.setView);
  return (
    <div className="pointer-events-none absolute inset-0 flex items-center justify-center">
      <div className="muted max-w-md text-center text-[15px]" data-testid="empty-sheet">
        <p>Nothing is drawn here yet. Three ways to begin:</p>
        <p className="pt-2">
          press <kbd className="kbd kbd-sm">/</kbd> and type the name of a part, or take one from
          the shelf;
        </p>
        <p className="pt-1">
          <button
            type="button"
            className="link pointer-events-auto"
            onClick={() => onComponent("equations")}
          >
            write a balance
          </button>{" "}
          as a component of equations;
        </p>
        <p className="pt-1">
          write the whole model in the view{" "}
          <button
            type="button"
            className="link pointer-events-auto"
            onClick={() => setView("text")}
          >
            Text
          </button>
          .
        </p>
      </div>
    </div>
  );
}
