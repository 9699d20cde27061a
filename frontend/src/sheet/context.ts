import { createContext, useContext } from "react";

import type { Sheet } from "../api/client";
import type { Edit } from "../state/use-edits";

/** What parts and wires on the sheet can ask for. */
export interface SheetContext {
  sheet: Sheet;
  onEdit: (edit: Edit) => void;
  /** Open the assembly behind a part. */
  onOpen: (part: string) => void;
}

export const SheetActions = createContext<SheetContext>({
  sheet: {} as Sheet,
  onEdit: () => undefined,
  onOpen: () => undefined,
});

export function useSheet(): SheetContext {
  return useContext(SheetActions);
}
