import type { Edit, useHistory } from '../history.ts';

export type History = ReturnType<typeof useHistory>;

/** One edit as a step of the history. */
export type Edits = (by: Edit, text: string) => Promise<void>;
