import { matchPath } from "react-router";

import { page, type Page } from "./ui/page";

export const MODEL = "/projects/:project/models/:model";
export const PART = `${MODEL}/parts/:part`;
export const DISK = "/disk";

export const workspacePage = page(async () => ({
  default: (await import("./workspace/workspace-page")).WorkspacePage,
}));
export const partPage = page(() => import("./reference/part-page"));
export const diskPage = page(() => import("./disk/disk-page"));

/** The page at an address that is in a file of its own. */
export function pageAt(path: string): Page | undefined {
  if (matchPath(PART, path)) return partPage;
  if (matchPath(DISK, path)) return diskPage;
  return matchPath(MODEL, path) ? workspacePage : undefined;
}
