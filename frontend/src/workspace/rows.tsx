import { useEffect, useRef, useState, type ReactNode } from "react";
import { Group, Panel, Separator, useDefaultLayout, usePanelRef } from "react-resizable-panels";

/** Height of the recorder's header, which stays when it is folded. */
const HEADER = "34px";
/** Height of the recorder when it opens. */
const OPEN = "42%";
/** Width in pixels at which a separator can be taken hold of. */
const GRIP = { fine: 11, coarse: 27 };

interface Props {
  /** Whether there is nothing to show below yet. */
  empty: boolean;
  above: ReactNode;
  below: (folded: boolean, fold: () => void) => ReactNode;
}

/** The sheet above the recorder, which is folded until there is a run; sizes are remembered. */
export function Rows({ empty, above, below }: Props) {
  const [folded, setFolded] = useState(empty);
  const recorder = usePanelRef();
  const layout = useDefaultLayout({
    id: "movrel.rows",
    storage: localStorage,
    onlySaveAfterUserInteractions: true,
  });
  const before = useRef(empty);
  useEffect(() => {
    // The first run opens what nobody had a reason to fold.
    if (before.current && !empty) recorder.current?.resize(OPEN);
    before.current = empty;
  }, [empty, recorder]);
  const fold = () => (folded ? recorder.current?.expand() : recorder.current?.collapse());
  return (
    <Group
      orientation="vertical"
      className="min-h-0 flex-1"
      resizeTargetMinimumSize={GRIP}
      onLayoutChanged={layout.onLayoutChanged}
      {...(empty || !layout.defaultLayout ? {} : { defaultLayout: layout.defaultLayout })}
    >
      <Panel id="above" minSize="25%" defaultSize={empty ? "95%" : "58%"}>
        {above}
      </Panel>
      <Separator
        className="h-px bg-base-300 hover:bg-primary"
        aria-label="Height of the recorder"
      />
      <Panel
        id="below"
        panelRef={recorder}
        collapsible
        collapsedSize={HEADER}
        minSize="20%"
        defaultSize={empty ? HEADER : OPEN}
        onResize={() => setFolded(recorder.current?.isCollapsed() ?? false)}
      >
        {below(folded, fold)}
      </Panel>
    </Group>
  );
}

interface ColumnsProps {
  /** What is narrow at the left, if anything, and at the right. */
  left: ReactNode;
  middle: ReactNode;
  right: ReactNode;
}

/** Shelf, middle and ledger beside each other; widths are remembered. */
export function Columns({ left, middle, right }: ColumnsProps) {
  const panelIds = left ? ["left", "middle", "right"] : ["middle", "right"];
  const layout = useDefaultLayout({
    id: "movrel.columns",
    storage: localStorage,
    panelIds,
    onlySaveAfterUserInteractions: true,
  });
  return (
    <Group
      orientation="horizontal"
      className="h-full"
      resizeTargetMinimumSize={GRIP}
      onLayoutChanged={layout.onLayoutChanged}
      {...(layout.defaultLayout ? { defaultLayout: layout.defaultLayout } : {})}
    >
      {left && (
        <>
          <Panel id="left" defaultSize="190px" minSize="120px" maxSize="360px">
            {left}
          </Panel>
          <Separator
            className="w-px bg-base-300 hover:bg-primary"
            aria-label="Width of the shelf"
          />
        </>
      )}
      <Panel id="middle" minSize="30%">
        {middle}
      </Panel>
      <Separator className="w-px bg-base-300 hover:bg-primary" aria-label="Width of the ledger" />
      <Panel id="right" defaultSize="380px" minSize="260px" maxSize="640px">
        {right}
      </Panel>
    </Group>
  );
}
