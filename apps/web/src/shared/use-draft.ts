import { useState } from 'react';

interface Saved<Definition> {
  readonly definition: Definition;
  readonly version: number;
}

/** What somebody writes on a thing that others can save meanwhile. */
export interface Draft<Definition> {
  readonly draft: Definition;
  readonly setDraft: (draft: Definition) => void;
  /** Version that was edited: a save over a newer one is refused by it. Undefined for a new thing. */
  readonly version: number | undefined;
  /** Someone else saved a newer version under unsaved changes. */
  readonly isOvertaken: boolean;
  /** Takes the newer version; unsaved changes are lost. */
  readonly takeTheirs: () => void;
  /** Our version was saved. */
  readonly wasSaved: () => void;
}

/** A draft that follows what others save as long as nothing is changed here, and is never lost to it. */
export function useDraft<Definition>(saved: Saved<Definition> | null, empty: Definition): Draft<Definition> {
  const [base, setBase] = useState(saved);
  const [draft, setDraft] = useState(saved?.definition ?? empty);
  const isChanged = JSON.stringify(draft) !== JSON.stringify(base?.definition ?? empty);
  const isNewer = saved !== null && base !== null && saved.version > base.version;
  const take = (): void => {
    setBase(saved);
    setDraft(saved?.definition ?? empty);
  };
  if (isNewer && !isChanged) take();
  return {
    ...{ draft, setDraft, version: base?.version, isOvertaken: isNewer && isChanged, takeTheirs: take },
    wasSaved: () => setBase(base && { definition: draft, version: base.version + 1 }),
  };
}
