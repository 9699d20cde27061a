import { create } from "zustand";

/** What the server told everybody in a sentence: something happened to the files of a project. */
export interface NoticeState {
  project: number;
  sentence: string;
  /** The file of which a text was kept beside the present one, and the revision that holds it. */
  file: string;
  revision: number;
}

export const useNotice = create<NoticeState>(() => ({
  project: 0,
  sentence: "",
  file: "",
  revision: 0,
}));

export function note(project: number, sentence: string, file = "", revision = 0): void {
  useNotice.setState({ project, sentence, file, revision });
}
