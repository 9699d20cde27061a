import { page } from "../ui/page";

export const textView = page(() => import("../text/text-view"));
export const equationsView = page(() => import("../equations/equations-view"));
export const scenariosView = page(() => import("../scenarios/scenarios-view"));
export const sweepsView = page(() => import("../sweeps/sweeps-view"));
export const figuresView = page(() => import("../figures/figures-view"));
export const analysesView = page(() => import("../analyses/analyses-view"));
export const rigView = page(() => import("../rig/rig-view"));
export const boardView = page(() => import("../board/board-view"));
export const unitsView = page(() => import("../units/units-view"));
export const symbolView = page(() => import("../symbol/symbol-view"));
export const descriptionView = page(() => import("../description/description-view"));
export const historyView = page(() => import("../history/history-view"));
export const componentEditor = page(async () => ({
  default: (await import("../component/component-editor")).ComponentEditor,
}));
export const codeEditor = page(async () => ({
  default: (await import("../component/code-editor")).CodeEditor,
}));
