import { create } from "zustand";

/** What the server told everybody in a sentence: something happened to the files of a project. */
export const useNotice = create<{ project: number; sentence: string }>(() => ({
  project: 0,
  sentence: "",
}));

export function note(project: number, sentence: string): void {
  useNotice.setState({ project, sentence });
}
