import { ViewportPortal } from "@xyflow/react";
import type { SVGProps } from "react";

/** A drawing over the parts and wires that moves with the sheet; the mouse goes through it where nothing in it says otherwise. */
export function Overlay(props: SVGProps<SVGSVGElement>) {
  return (
    <ViewportPortal>
      <svg
        className="pointer-events-none absolute top-0 left-0 overflow-visible"
        width={1}
        height={1}
        {...props}
      />
    </ViewportPortal>
  );
}
